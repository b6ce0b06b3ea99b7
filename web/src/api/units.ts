import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'

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
