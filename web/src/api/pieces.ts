import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from './client'
import { ofAll, ofPiece } from './keys'
import { allPages } from './pages'

export const usePiece = (id: number) =>
  useQuery({
    queryKey: ofPiece(id),
    queryFn: async () => unwrap(await api.GET('/api/v1/pieces/{id}', { params: { path: { id } } })),
  })

/** Every piece on a station's table. */
export const useStation = (station: Schemas['Station']) =>
  useQuery({
    queryKey: ofAll('stations', station),
    queryFn: async () => {
      const page = async (after?: string) =>
        unwrap(await api.GET('/api/v1/stations/{station}', { params: { path: { station }, query: { after } } }))
      return { pieces: (await allPages(page)).flatMap((p) => p.pieces) }
    },
  })

export type SlabsAsk = Schemas['SlabsAsk']

/** How a piece should be cut; asked again as its sizes are typed. */
export const useSlabs = (ask: SlabsAsk, enabled = true) =>
  useQuery({
    queryKey: ofAll('slabs', ask),
    enabled,
    retry: false,
    placeholderData: (before) => before,
    queryFn: async () => unwrap(await api.POST('/api/v1/slabs', { body: ask })),
  })
