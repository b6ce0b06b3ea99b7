import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { servedBy } from '../kit/device'
import { api, type Schemas, unwrap } from './client'

export const useSettings = () =>
  useQuery({
    queryKey: ['settings'],
    queryFn: async () => {
      const settings = unwrap(await api.GET('/api/v1/settings'))
      servedBy(settings.ledger)
      return settings
    },
  })

/** Settles on new settings; everything that is shown may follow from them. */
export function useSettle() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (household: Schemas['Household']) => {
      const version = client.getQueryData<Schemas['Settings']>(['settings'])?.version
      return unwrap(await api.PUT('/api/v1/settings', { body: household, params: { query: { version } } }))
    },
    onSuccess: () => client.invalidateQueries(),
  })
}

/** Puts the times right that a wrong clock gave to entries. Asked twice, the second time finds nothing to put right. */
export function useSetRight() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (body: Schemas['SetRightAsk']) => unwrap(await api.POST('/api/v1/clock/set-right', { body })),
    onSettled: () => client.invalidateQueries(),
  })
}

/** Moves the clock of a household for practice on; everything follows. */
export function useMoveClock() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (body: Schemas['MoveAsk']) => unwrap(await api.POST('/api/v1/clock/move', { body })),
    onSettled: () => client.invalidateQueries(),
  })
}
