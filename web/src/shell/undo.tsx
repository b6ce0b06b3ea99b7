import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Undo2, X } from 'lucide-react'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { api, newKey, problemOf, type Schemas, unwrap } from '../api/client'

type Written = Schemas['Written']
interface Undo {
  offer: (written: Written) => void
  takeBack: () => void
}

const Context = createContext<Undo>({ offer: () => {}, takeBack: () => {} })

export const useUndo = () => useContext(Context)

/** Keeps the last write at hand, and takes it back in one tap. */
export function UndoProvider({ children }: { children: ReactNode }) {
  const [last, setLast] = useState<{ said: string; entries: number[]; undone: boolean }>()
  const client = useQueryClient()
  const undo = useMutation({
    mutationFn: async (entries: number[]) =>
      unwrap(await api.POST('/api/v1/undo', { body: { entries }, params: { header: { 'Idempotency-Key': newKey() } } })),
    onSuccess: (written) => {
      setLast((before) => ({ said: written.said, entries: written.entries, undone: !before?.undone }))
      return client.invalidateQueries({ queryKey: ['ledger'] })
    },
  })
  const value = useMemo(
    () => ({
      offer: (written: Written) => {
        undo.reset()
        setLast({ said: written.said, entries: written.entries, undone: false })
      },
      takeBack: () => {
        if (last) undo.mutate(last.entries)
      },
    }),
    [last, undo],
  )
  return (
    <Context value={value}>
      {children}
      <div role="status" aria-live="polite" className="no-print">
        {last && (
          <div className="fixed inset-x-2 top-2 z-40 mx-auto flex max-w-xl items-center gap-2 rounded-[3px] bg-ink py-1 pr-1 pl-3 text-floor shadow-lg sm:top-auto sm:right-4 sm:bottom-4 sm:left-auto sm:mx-0">
            <p className="min-w-0 grow truncate text-[0.95rem]">
              {undo.isError ? problemOf(undo.error).message : last.said}
            </p>
            <button type="button" className="inline-flex min-h-11 items-center gap-2 px-3 font-semibold underline" onClick={value.takeBack} disabled={undo.isPending}>
              <Undo2 size={20} aria-hidden /> {last.undone ? 'Do it again' : 'Undo'}
            </button>
            <button type="button" className="inline-flex size-11 items-center justify-center" aria-label="Close this line" onClick={() => setLast(undefined)}>
              <X size={20} aria-hidden />
            </button>
          </div>
        )}
      </div>
    </Context>
  )
}
