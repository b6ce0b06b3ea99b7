import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { changed, ofAll } from './keys'
import { allPages } from './pages'

/** The plan with all of its supply. */
export const usePlan = () =>
  useQuery({
    queryKey: ofAll('plan'),
    queryFn: async () => {
      const plan = unwrap(await api.GET('/api/v1/plan'))
      const page = async (after?: string) =>
        after === undefined ? plan : unwrap(await api.GET('/api/v1/plan/supply', { params: { query: { after } } }))
      return { ...plan, supply: (await allPages<Schemas['SupplyPage']>(page)).flatMap((p) => p.supply) }
    },
  })

export const usePantry = () =>
  useQuery({ queryKey: ofAll('pantry'), queryFn: async () => unwrap(await api.GET('/api/v1/pantry')) })

export const useShopping = (plan: string | undefined) =>
  useQuery({
    queryKey: ofAll('shopping', plan ?? ''),
    queryFn: async () => unwrap(await api.GET('/api/v1/shopping', { params: { query: { plan } } })),
  })

/** Changes one of the lists beside the ledger; every page that shows it asks again. */
export function useListChange<Ask>(send: (ask: Ask) => Promise<unknown>) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: send,
    onSettled: () => changed(client, []),
  })
}

export type SheetAsk = Schemas['SheetAsk']

/** The weigh-out sheet of pieces that wait for their dose. */
export const useSheet = (ask: SheetAsk) =>
  useQuery({
    queryKey: ofAll('sheet', ask),
    enabled: ask.pieces.length > 0,
    placeholderData: (before) => before,
    queryFn: async () => unwrap(await api.POST('/api/v1/sheet', { body: ask })),
  })
