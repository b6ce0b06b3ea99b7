import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { ofAll } from './keys'

interface Page {
  next?: string | null
}

/** Every page of a list, one after another, for what has to know all of it. */
export async function allPages<P extends Page>(fetch: (after?: string) => Promise<P>): Promise<P[]> {
  const pages = [await fetch()]
  for (let next = pages[0]?.next; next; next = pages.at(-1)?.next) pages.push(await fetch(next))
  return pages
}

/** The rest of a list whose first page is there, a page at a time as it is asked for. */
export function useRest<P extends Page>(name: unknown[], first: P | undefined, fetch: (after: string) => Promise<P>) {
  const [wanted, setWanted] = useState(false)
  const begin = first?.next
  const rest = useInfiniteQuery({
    // Where the first page ends otherwise, the rest begins otherwise.
    queryKey: ofAll('rest', ...name, begin),
    enabled: wanted && Boolean(begin),
    initialPageParam: begin ?? '',
    queryFn: ({ pageParam }) => fetch(pageParam),
    getNextPageParam: (last) => last.next ?? undefined,
  })
  return {
    pages: begin ? (rest.data?.pages ?? []) : [],
    isFetching: rest.isFetching,
    error: rest.error,
    more: () => {
      if (wanted) void rest.fetchNextPage()
      else setWanted(true)
    },
  }
}
