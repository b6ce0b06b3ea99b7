import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Undo2, X } from 'lucide-react'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { problemOf, type Schemas } from '../api/client'
import { OnWritten, takeBack } from '../api/entries'
import { changed } from '../api/keys'

type Written = Schemas['Written']
interface Undo {
  offer: (written: Written) => void
  takeBack: () => void
}

/** A write of this page that still holds, or the undoing of one. */
interface Line {
  said: string
  entries: number[]
}

/** So many writes can be taken back from here one after another; older ones from their history. */
const DEEPEST = 100

const Context = createContext<Undo>({ offer: () => {}, takeBack: () => {} })

export const useUndo = () => useContext(Context)

/** Keeps what was written at hand, and takes it back in one tap, one write after another. */
export function UndoProvider({ children }: { children: ReactNode }) {
  // The newest last; what was undone moves over, so that it can be done again.
  const [done, setDone] = useState<Line[]>([])
  const [undone, setUndone] = useState<Line[]>([])
  const [shown, setShown] = useState(false)
  const client = useQueryClient()
  const undo = useMutation({
    mutationFn: ({ line, with_later }: { line: Line; again: boolean; with_later?: boolean }) =>
      takeBack(line.entries, with_later),
    onSuccess: (written, { again }) => {
      const line = { said: written.said, entries: written.entries }
      if (again) {
        setUndone((list) => list.slice(0, -1))
        setDone((list) => [...list, line])
      } else {
        setDone((list) => list.slice(0, -1))
        setUndone((list) => [...list, line])
      }
      // Not waited for: the next one can be taken back before the lists are fetched anew.
      void changed(client, written.lots)
    },
  })
  const last = done.at(-1)
  const lastUndone = undone.at(-1)
  const value = useMemo(
    () => ({
      offer: (written: Written) => {
        undo.reset()
        setDone((list) => [...list.slice(1 - DEEPEST), { said: written.said, entries: written.entries }])
        setUndone([])
        setShown(true)
      },
      takeBack: () => {
        if (last && !undo.isPending) undo.mutate({ line: last, again: false })
      },
    }),
    [last, undo],
  )
  const inTheWay = undo.isError && problemOf(undo.error).problem.type.endsWith(':in-the-way')
  const said = undo.isError ? problemOf(undo.error).message : (lastUndone?.said ?? last?.said)
  return (
    <Context value={value}>
      <OnWritten value={value.offer}>{children}</OnWritten>
      <div role="status" aria-live="polite" className="no-print">
        {shown && said && (
          <div className="fixed inset-x-2 top-2 z-40 mx-auto flex max-w-xl flex-wrap items-center gap-x-2 rounded-[3px] bg-ink py-1 pr-1 pl-3 text-floor shadow-lg sm:top-auto sm:right-4 sm:bottom-4 sm:left-auto sm:mx-0">
            <p className={`min-w-0 grow text-[0.95rem] ${undo.isError ? '' : 'basis-32 truncate'}`}>{said}</p>
            {inTheWay && last && (
              <button
                type="button"
                className="inline-flex min-h-11 items-center px-3 font-semibold underline"
                onClick={() => undo.mutate({ line: last, again: false, with_later: true })}
                disabled={undo.isPending}
              >
                Undo those too
              </button>
            )}
            {last && !inTheWay && (
              <button
                type="button"
                className="inline-flex min-h-11 items-center gap-2 px-3 font-semibold underline"
                onClick={value.takeBack}
                disabled={undo.isPending}
                title={last.said}
              >
                <Undo2 size={20} aria-hidden /> {lastUndone ? 'Undo one more' : 'Undo'}
              </button>
            )}
            {lastUndone && !undo.isError && (
              <button
                type="button"
                className="inline-flex min-h-11 items-center px-3 font-semibold underline"
                onClick={() => undo.mutate({ line: lastUndone, again: true })}
                disabled={undo.isPending}
              >
                Do it again
              </button>
            )}
            <button
              type="button"
              className="inline-flex size-11 items-center justify-center"
              aria-label="Close this line"
              onClick={() => setShown(false)}
            >
              <X size={20} aria-hidden />
            </button>
          </div>
        )}
      </div>
    </Context>
  )
}
