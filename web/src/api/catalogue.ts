import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll } from './keys'

export const useCatalogue = () =>
  useQuery({
    queryKey: ['catalogue'],
    staleTime: Infinity,
    queryFn: async () => unwrap(await api.GET('/api/v1/catalogue')),
  })

/** What a cut not yet cut could become. */
export const useSuits = (species: string, cut: string) =>
  useQuery({
    queryKey: ofAll('suits', species, cut),
    queryFn: async () => unwrap(await api.GET('/api/v1/suits', { params: { query: { species, cut } } })),
  })
