import { useQuery } from '@tanstack/react-query'
import { api, unwrap } from './client'
import { ofAll, ofLot } from './keys'
import { allPages } from './pages'

/** Every lot, the newest first. */
export const useLots = () =>
  useQuery({
    queryKey: ofAll('lots'),
    queryFn: async () => {
      const page = async (after?: string) => {
        const answer = await api.GET('/api/v1/lots', { params: { query: { after } } })
        const link = answer.response.headers.get('link')
        return {
          lots: unwrap(answer),
          next: link && new URL(link.slice(1, link.indexOf('>')), location.href).searchParams.get('after'),
        }
      }
      return (await allPages(page)).flatMap((p) => p.lots)
    },
  })

export const useLot = (id: number) =>
  useQuery({
    queryKey: ofLot(id),
    queryFn: async () => unwrap(await api.GET('/api/v1/lots/{id}', { params: { path: { id } } })),
  })

export const useCutSheet = (id: number, plan: string | undefined) =>
  useQuery({
    queryKey: ofLot(id, 'cutsheet', plan ?? ''),
    queryFn: async () => unwrap(await api.GET('/api/v1/cutsheet/{id}', { params: { path: { id }, query: { plan } } })),
  })
