import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'
import { useRest } from './pages'

export const usePackTrace = (id: number) =>
  useQuery({
    queryKey: ofAll('trace', 'pack', id),
    queryFn: async () => unwrap(await api.GET('/api/v1/packs/{id}/trace', { params: { path: { id } } })),
  })

export const useLotTrace = (id: number) =>
  useQuery({
    queryKey: ofAll('trace', 'lot', id),
    queryFn: async () => unwrap(await api.GET('/api/v1/lots/{id}/trace', { params: { path: { id } } })),
  })

export const useOverrides = () =>
  useQuery({ queryKey: ofAll('overrides'), queryFn: async () => unwrap(await api.GET('/api/v1/overrides')) })

/** The lifted stops after the first page of them. */
export const useMoreOverrides = (first: Schemas['Overrides'] | undefined) =>
  useRest(['overrides'], first, async (after) => unwrap(await api.GET('/api/v1/overrides', { params: { query: { after } } })))

export const usePacks = () => useQuery({ queryKey: ofAll('packs'), queryFn: async () => unwrap(await api.GET('/api/v1/packs')) })

/** The packs after the first page of them. */
export const useMorePacks = (first: Schemas['PacksInHouse'] | undefined) =>
  useRest(['packs'], first, async (after) => unwrap(await api.GET('/api/v1/packs', { params: { query: { after } } })))
