import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll } from './keys'

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
