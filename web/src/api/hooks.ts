import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { useUndo } from '../shell/undo'
import { type ActAsk, api, newKey, type Schemas, unwrap } from './client'

export const useSettings = () =>
  useQuery({ queryKey: ['settings'], queryFn: async () => unwrap(await api.GET('/api/v1/settings')) })

export const useCatalogue = () =>
  useQuery({
    queryKey: ['catalogue'],
    staleTime: Infinity,
    queryFn: async () => unwrap(await api.GET('/api/v1/catalogue')),
  })

export const useToday = () =>
  useQuery({ queryKey: ['ledger', 'today'], queryFn: async () => unwrap(await api.GET('/api/v1/today')) })

export const useLots = () =>
  useQuery({ queryKey: ['ledger', 'lots'], queryFn: async () => unwrap(await api.GET('/api/v1/lots')) })

export const useLot = (id: number) =>
  useQuery({
    queryKey: ['ledger', 'lots', id],
    queryFn: async () => unwrap(await api.GET('/api/v1/lots/{id}', { params: { path: { id } } })),
  })

export const usePiece = (id: number) =>
  useQuery({
    queryKey: ['ledger', 'pieces', id],
    queryFn: async () => unwrap(await api.GET('/api/v1/pieces/{id}', { params: { path: { id } } })),
  })

/** An entry as it can be put right: looked up anew each time, since others may have put it right too. */
export const useAskedAgain = (entry: number) =>
  useQuery({
    queryKey: ['ledger', 'entries', entry, 'ask'],
    refetchOnWindowFocus: false,
    queryFn: async () => unwrap(await api.GET('/api/v1/entries/{id}/ask', { params: { path: { id: entry } } })),
  })

export const useStation = (station: Schemas['Station']) =>
  useQuery({
    queryKey: ['ledger', 'stations', station],
    queryFn: async () => unwrap(await api.GET('/api/v1/stations/{station}', { params: { path: { station } } })),
  })

export const usePlan = () =>
  useQuery({ queryKey: ['ledger', 'plan'], queryFn: async () => unwrap(await api.GET('/api/v1/plan')) })

export const usePantry = () =>
  useQuery({ queryKey: ['ledger', 'pantry'], queryFn: async () => unwrap(await api.GET('/api/v1/pantry')) })

export const useShopping = (plan: string | undefined) =>
  useQuery({
    queryKey: ['ledger', 'shopping', plan ?? ''],
    queryFn: async () => unwrap(await api.GET('/api/v1/shopping', { params: { query: { plan } } })),
  })

export const useCutSheet = (id: number, plan: string | undefined) =>
  useQuery({
    queryKey: ['ledger', 'cutsheet', id, plan ?? ''],
    queryFn: async () => unwrap(await api.GET('/api/v1/cutsheet/{id}', { params: { path: { id }, query: { plan } } })),
  })

/** What a cut not yet cut could become. */
export const useSuits = (species: string, cut: string) =>
  useQuery({
    queryKey: ['ledger', 'suits', species, cut],
    queryFn: async () => unwrap(await api.GET('/api/v1/suits', { params: { query: { species, cut } } })),
  })

export type SlabsAsk = Schemas['SlabsAsk']

/** How a piece should be cut; asked again as its sizes are typed. */
export const useSlabs = (ask: SlabsAsk, enabled = true) =>
  useQuery({
    queryKey: ['ledger', 'slabs', ask],
    enabled,
    retry: false,
    placeholderData: (before) => before,
    queryFn: async () => unwrap(await api.POST('/api/v1/slabs', { body: ask })),
  })

/** Changes one of the lists beside the ledger; every page that shows it asks again. */
export function useListChange<Ask>(send: (ask: Ask) => Promise<unknown>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSettled: () => client.invalidateQueries({ queryKey: ['ledger'] }),
  })
}

export type SheetAsk = Schemas['SheetAsk']

export const useSheet = (ask: SheetAsk) =>
  useQuery({
    queryKey: ['ledger', 'sheet', ask],
    enabled: ask.pieces.length > 0,
    placeholderData: (before) => before,
    queryFn: async () => unwrap(await api.POST('/api/v1/sheet', { body: ask })),
  })

export const useHouseholdTally = () =>
  useQuery({ queryKey: ['ledger', 'tally'], queryFn: async () => unwrap(await api.GET('/api/v1/tally')) })

export const useLotTally = (id: number) =>
  useQuery({
    queryKey: ['ledger', 'tally', id],
    queryFn: async () => unwrap(await api.GET('/api/v1/tally/{id}', { params: { path: { id } } })),
  })

export type Quantity = Schemas['QuantityKind']

/** What the server understands of a typed amount. */
export const useUnderstood = (quantity: Quantity, text: string) =>
  useQuery({
    queryKey: ['understood', quantity, text],
    enabled: text.trim() !== '',
    staleTime: Infinity,
    retry: false,
    queryFn: async () => unwrap(await api.POST('/api/v1/units/read', { body: { quantity, text } })),
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
  const undo = useUndo()
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
      undo.offer(written)
      // Not waited for: the form must be ready for the next piece before the lists are fetched anew.
      void client.invalidateQueries({ queryKey: ['ledger'] })
    },
  })
}

/** Puts what really happened in the place of an entry. */
export function useCorrect() {
  const client = useQueryClient()
  const undo = useUndo()
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
      undo.offer(written)
      void client.invalidateQueries({ queryKey: ['ledger'] })
    },
  })
}

/**
 * Asks again for what changed on another device.
 *
 * Only while the page is looked at: a browser allows few connections to one server, and every
 * open event stream holds one.
 */
export function useLive() {
  const client = useQueryClient()
  useEffect(() => {
    let events: EventSource | undefined
    let missedSome = false
    const open = () => {
      if (events) return
      events = new EventSource('/api/v1/events')
      events.onmessage = (message) => {
        const { what } = JSON.parse(message.data) as { what: string }
        if (what !== 'settings') void client.invalidateQueries({ queryKey: ['ledger'] })
        if (what !== 'ledger') void client.invalidateQueries()
      }
      events.onerror = () => {
        missedSome = true
      }
      events.onopen = () => {
        if (missedSome) void client.invalidateQueries()
        missedSome = false
      }
    }
    const close = () => {
      events?.close()
      events = undefined
      missedSome = true
    }
    const look = () => (document.visibilityState === 'visible' ? open() : close())
    look()
    document.addEventListener('visibilitychange', look)
    window.addEventListener('pagehide', close)
    window.addEventListener('pageshow', look)
    return () => {
      document.removeEventListener('visibilitychange', look)
      window.removeEventListener('pagehide', close)
      window.removeEventListener('pageshow', look)
      events?.close()
    }
  }, [client])
}
