import type { QueryClient } from '@tanstack/react-query'
import type { Schemas } from './client'

/** What is shown of all lots together. */
export const ofAll = (...what: unknown[]) => ['ledger', 'all', ...what] as const
/** What is shown of one lot. */
export const ofLot = (lot: number, ...what: unknown[]) => ['ledger', 'lot', lot, ...what] as const
/** What is shown of one piece; its lot is known once it was fetched. */
export const ofPiece = (piece: number) => ['ledger', 'piece', piece] as const

/**
 * Asks again for what a change touches: the lots it names and what is shown of all of them
 * together, and nothing of any other lot.
 */
export function changed(client: QueryClient, lots: number[] | 'all') {
  return client.invalidateQueries({
    predicate: ({ queryKey: [scope, of, id], state }) => {
      if (scope !== 'ledger') return false
      if (lots === 'all') return true
      switch (of) {
        case 'lot':
          return lots.includes(id as number)
        case 'piece': {
          // What may be said of a piece follows from every animal in it.
          const within = (state.data as Schemas['PieceView'] | undefined)?.lots
          return within === undefined || within.some((lot) => lots.includes(lot))
        }
        default:
          return true
      }
    },
  })
}
