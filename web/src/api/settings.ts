import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'

export const useSettings = () =>
  useQuery({ queryKey: ['settings'], queryFn: async () => unwrap(await api.GET('/api/v1/settings')) })

/** Settles on new settings; everything that is shown may follow from them. */
export function useSettle() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (household: Schemas['Household']) => unwrap(await api.PUT('/api/v1/settings', { body: household })),
    onSuccess: () => client.invalidateQueries(),
  })
}
