import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll, ofLot } from './keys'
import { useRest } from './pages'

export const useHouseholdTally = () =>
  useQuery({ queryKey: ofAll('tally'), queryFn: async () => unwrap(await api.GET('/api/v1/tally')) })

export const useLotTally = (id: number) =>
  useQuery({
    queryKey: ofLot(id, 'tally'),
    queryFn: async () => unwrap(await api.GET('/api/v1/tally/{id}', { params: { path: { id } } })),
  })

/** The lots of the tally after its first page. */
export const useMoreOfTally = (tally: Schemas['HouseholdTally'] | undefined) =>
  useRest(['tally'], tally, async (after) => unwrap(await api.GET('/api/v1/tally', { params: { query: { after } } })))
