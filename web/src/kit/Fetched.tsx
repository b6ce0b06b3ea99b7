import type { UseQueryResult } from '@tanstack/react-query'
import { Page } from './Page'
import { Failed, Loading } from './States'

/** True once a query has something to show; until then [`NotYet`] stands in its place. */
export const isThere = <Q extends { data: unknown }>(query: Q): query is Q & { data: NonNullable<Q['data']> } =>
  query.data !== undefined

interface NotYetProps {
  /** The queries it waits for. */
  of: Pick<UseQueryResult, 'isLoadingError' | 'error' | 'refetch'>[]
  /** What is fetched, in words. */
  what: string
  /** The heading, where it stands for a whole view. */
  page?: string
}

/** What is still fetched, or could not be; with its heading where it stands for a whole view. */
export function NotYet({ of, what, page }: NotYetProps) {
  const failed = of.filter((q) => q.isLoadingError)
  const said = failed[0] ? (
    <Failed error={failed[0].error} onRetry={() => failed.forEach((q) => void q.refetch())} />
  ) : (
    <Loading what={what} />
  )
  return page === undefined ? said : <Page title={page}>{said}</Page>
}
