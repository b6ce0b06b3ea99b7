import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, useContext, useRef } from 'react'
import { type ActAsk, api, newKey, type Schemas, unwrap } from './client'
import { changed } from './keys'

/** Told of whatever this page wrote; the shell puts an undo beside it. */
export const OnWritten = createContext<(written: Schemas['Written']) => void>(() => {})

/** An entry as it can be put right: looked up anew each time, since others may have put it right too. */
export const useAskedAgain = (entry: number) =>
  useQuery({
    queryKey: ['ledger', 'entry', entry, 'ask'],
    refetchOnWindowFocus: false,
    queryFn: async () => unwrap(await api.GET('/api/v1/entries/{id}/ask', { params: { path: { id: entry } } })),
  })

export interface RecordAsk {
  acts: ActAsk[]
  happened_at?: string
  seen?: Schemas['SeenPiece'][]
  keep_as_typed?: boolean
}

/** Writes down what was done; a retry of the same thing carries the same key. */
export function useRecord() {
  const client = useQueryClient()
  const offer = useContext(OnWritten)
  const last = useRef({ body: '', key: '' })
  return useMutation({
    mutationFn: async (ask: RecordAsk) => {
      const body = JSON.stringify(ask)
      if (last.current.body !== body) last.current = { body, key: newKey() }
      const answer = await api.POST('/api/v1/entries', {
        body: { keep_as_typed: false, seen: [], ...ask },
        params: { header: { 'Idempotency-Key': last.current.key } },
      })
      return unwrap(answer)
    },
    onSuccess: (written) => {
      last.current = { body: '', key: '' }
      offer(written)
      // Not waited for: the form must be ready for the next piece before the lists are fetched anew.
      void changed(client, written.lots)
    },
  })
}

/** Puts what really happened in the place of an entry. */
export function useCorrect() {
  const client = useQueryClient()
  const offer = useContext(OnWritten)
  return useMutation({
    mutationFn: async (ask: { entry: number; act: ActAsk; happened_at?: string; keep_as_typed?: boolean }) => {
      const { entry, act, happened_at, keep_as_typed = false } = ask
      const answer = await api.POST('/api/v1/entries/{id}/correction', {
        body: { act, keep_as_typed, happened_at },
        params: { path: { id: entry }, header: { 'Idempotency-Key': newKey() } },
      })
      return unwrap(answer)
    },
    onSuccess: (written) => {
      offer(written)
      void changed(client, written.lots)
    },
  })
}

/** Takes entries back together, with what could not have happened without them where that is wanted. */
export async function takeBack(entries: number[], with_later = false) {
  return unwrap(
    await api.POST('/api/v1/undo', {
      body: { entries, with_later },
      params: { header: { 'Idempotency-Key': newKey() } },
    }),
  )
}

/** Takes one entry back, from its place in a history. */
export function useTakeBack() {
  const client = useQueryClient()
  const offer = useContext(OnWritten)
  return useMutation({
    mutationFn: ({ id, with_later = false }: { id: number; with_later?: boolean }) => takeBack([id], with_later),
    onSuccess: (written) => {
      offer(written)
      return changed(client, written.lots)
    },
  })
}
