import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll } from './keys'

/** Animals, pieces and packs that answer what is typed. */
export const useFound = (q: string) =>
  useQuery({
    queryKey: ofAll('find', q),
    enabled: q.trim() !== '',
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async () => unwrap(await api.GET('/api/v1/find', { params: { query: { q } } })),
  })
