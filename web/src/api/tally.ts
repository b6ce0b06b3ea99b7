import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll, ofLot } from './keys'

export const useHouseholdTally = () =>
  useQuery({ queryKey: ofAll('tally'), queryFn: async () => unwrap(await api.GET('/api/v1/tally')) })

export const useLotTally = (id: number) =>
  useQuery({
    queryKey: ofLot(id, 'tally'),
    queryFn: async () => unwrap(await api.GET('/api/v1/tally/{id}', { params: { path: { id } } })),
  })
