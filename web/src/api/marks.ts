import { useEffect, useRef } from 'react'
import type { ActAsk } from './client'
import { useLine, usePresence } from './entries'
import { drop, onWritten, send, type Sending } from './queue'

/**
 * Rows that are marked with one tap each and undone where they stand: what a tap wrote is remembered by row, so that its undo
 * takes back that and nothing else.
 */
export function useMarks(form: string) {
  usePresence(form)
  const refused = useLine().filter((s) => s.owner === form && s.state === 'refused' && s.errand.to === 'entries')
  const sent = useRef(new Map<number, { key: string; entry?: number; isUnwanted?: boolean }>())
  const told = useRef(new Set<string>())
  useEffect(
    () =>
      onWritten((sending, written) => {
        const ids = idsOf(sending)
        ids.forEach((id, i) => {
          const mine = sent.current.get(id)
          if (mine?.key !== sending.key) return
          mine.entry = written.entries[i]
          if (mine.isUnwanted) takeBack(form, sent.current, id)
        })
      }),
    [form],
  )
  return {
    refused,
    write: (acts: ActAsk[], words: string, ids: number[]) => {
      const key = send({ to: 'entries', ask: { acts } }, { words, owner: form, typed: ids })
      ids.forEach((id) => sent.current.set(id, { key }))
    },
    /** Takes a mark back. */
    undo: (id: number, then: () => void) => {
      const mine = sent.current.get(id)
      if (!mine) return
      // Out of the line if it was not sent yet; what is under way is taken back once it is written.
      drop(mine.key)
      mine.isUnwanted = true
      takeBack(form, sent.current, id)
      then()
    },
    /** Calls back once for everything that was refused: its rows are not done. */
    onRefused: (back: (ids: number[]) => void) => {
      refused
        .filter((s) => !told.current.has(s.key))
        .forEach((s) => {
          told.current.add(s.key)
          back(idsOf(s))
        })
    },
  }
}

function takeBack(form: string, sent: Map<number, { entry?: number }>, id: number) {
  const entry = sent.get(id)?.entry
  if (entry === undefined) return
  send({ to: 'undo', ask: { entries: [entry] } }, { words: 'an undoing', owner: form, typed: [id] })
  sent.delete(id)
}

const idsOf = (sending: Sending) => (Array.isArray(sending.typed) ? (sending.typed as number[]) : [])
