import { useEffect, useRef } from 'react'
import type { ActAsk } from './client'
import { useLine, usePresence } from './entries'
import { drop, onWritten, send, type Sending } from './queue'

/** A row with what its tap writes: one act, or one for each piece of a vessel; each writes one entry. */
export interface Marked {
  id: number
  acts: ActAsk[]
}

interface Sent {
  key: string
  /** Where its entries stand among those of its sending. */
  from: number
  count: number
  entries?: number[]
  isUnwanted?: boolean
}

/**
 * Rows that are marked with one tap each and undone where they stand: what a tap wrote is remembered by row, so that its undo
 * takes back that and nothing else.
 */
export function useMarks(form: string) {
  usePresence(form)
  const refused = useLine().filter((s) => s.owner === form && s.state === 'refused' && s.errand.to === 'entries')
  const sent = useRef(new Map<number, Sent>())
  const told = useRef(new Set<string>())
  useEffect(
    () =>
      onWritten((sending, written) => {
        const ids = idsOf(sending)
        ids.forEach((id) => {
          const mine = sent.current.get(id)
          if (mine?.key !== sending.key) return
          mine.entries = written.entries.slice(mine.from, mine.from + mine.count)
          if (mine.isUnwanted) takeBack(form, sent.current, id)
        })
      }),
    [form],
  )
  return {
    refused,
    write: (rows: Marked[], words: string) => {
      const acts = rows.flatMap((r) => r.acts)
      const key = send({ to: 'entries', ask: { acts } }, { words, owner: form, typed: rows.map((r) => r.id) })
      let from = 0
      for (const { id, acts } of rows) {
        sent.current.set(id, { key, from, count: acts.length })
        from += acts.length
      }
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

function takeBack(form: string, sent: Map<number, Sent>, id: number) {
  const entries = sent.get(id)?.entries
  if (entries === undefined) return
  send({ to: 'undo', ask: { entries } }, { words: 'an undoing', owner: form, typed: [id] })
  sent.delete(id)
}

const idsOf = (sending: Sending) => (Array.isArray(sending.typed) ? (sending.typed as number[]) : [])
