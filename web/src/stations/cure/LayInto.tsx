import { useState } from 'react'
import { type PieceCard, problemOf } from '../../api/client'
import { useRecord } from '../../api/entries'
import { Select } from '../../kit/Fields'
import { Refused } from '../../kit/States'

/** Pieces laid into a brine that others lie in already: nothing is weighed, all share what is there. */
export function LayInto({ here, lying }: { here: PieceCard[]; lying: PieceCard[] }) {
  const record = useRecord()
  const [into, setInto] = useState('')
  const brines = lying.filter(
    (p, i) => p.cure?.in_brine && p.cure.vessel && lying.findIndex((o) => o.cure?.vessel?.id === p.cure?.vessel?.id) === i,
  )
  if (brines.length === 0) return null
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const tags = here.map((p) => p.tag).join(', ')
  return (
    <details className="no-print">
      <summary className="quiet">Lay {here.length === 1 ? 'it' : 'them'} into a brine that others lie in</summary>
      <form
        className="table-top mt-1 grid max-w-xl gap-2 p-3"
        aria-label="Lay into a running brine"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate({
            acts: [{ act: 'dosed', pieces: here.map((p) => p.id), into: Number(into) }],
            seen: here.map((p) => ({ piece: p.id, version: p.version })),
          })
        }}
      >
        <Select label={`${tags} into the brine of`} value={into} onChange={setInto} error={wrong('into')}>
          <option value="">choose</option>
          {brines.map((p) => (
            <option key={p.cure?.vessel?.id} value={String(p.cure?.vessel?.id)}>
              {[p.cure?.vessel?.name, [p.tag, ...(p.cure?.vessel?.with ?? [])].join(', ')].filter(Boolean).join(': ')}
            </option>
          ))}
        </Select>
        <p className="text-soft">
          Nothing is weighed: all of them share what is dissolved there, and whatever is asked of one animal is asked of the
          others.
        </p>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || into === ''}>
          Lay {here.length === 1 ? 'it' : 'them'} in
        </button>
      </form>
    </details>
  )
}
