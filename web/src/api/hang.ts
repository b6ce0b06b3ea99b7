import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'
import { allPages } from './pages'

export type HangSheet = Schemas['HangSheet']
export type Hook = Schemas['HookView']
export type DryingPlace = Schemas['DryingPlaceView']
export type Souring = Schemas['FermentView']
export type Down = Schemas['DownView']

/** Air is read though nothing is written. */
const TICK_MS = 60_000

/** Every hook as it is now, with the places they are in. */
export const useHang = () =>
  useQuery({
    queryKey: ofAll('hang'),
    refetchInterval: TICK_MS,
    queryFn: async (): Promise<HangSheet> => {
      const pages = await allPages(async (after) =>
        unwrap(await api.GET('/api/v1/hang', { params: { query: after === undefined ? {} : { after } } })),
      )
      return { ...pages[0]!, hooks: pages.flatMap((p) => p.hooks) }
    },
  })

/** How a piece dried on its hook, and how it will. */
export const useHookCurve = (id: number) =>
  useQuery({
    queryKey: ofAll('hang', 'curve', id),
    queryFn: async () => unwrap(await api.GET('/api/v1/pieces/{id}/hang', { params: { path: { id } } })),
  })

/** A drying place hour by hour. */
export const usePlaceHours = (id: number, days: number) =>
  useQuery({
    queryKey: ofAll('hang', 'hours', id, days),
    queryFn: async () => unwrap(await api.GET('/api/v1/places/{id}/hours', { params: { path: { id }, query: { days } } })),
    refetchInterval: TICK_MS,
  })

/** What to do about mould, as it is seen. */
export const useMould = () =>
  useQuery({
    queryKey: ['mould'],
    staleTime: Infinity,
    queryFn: async () => unwrap(await api.GET('/api/v1/mould')),
  })
