import { useState } from 'react'
import { type PieceCard, problemOf } from '../../api/client'
import { useRecord } from '../../api/entries'
import { DayField } from '../../kit/Fields'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'

/** Into the freezer until later, with its day to come out; or out of it. */
export function Freeze({ card }: { card: PieceCard }) {
  const record = useRecord()
  const format = useFormat()
  const [place, setPlace] = useState('')
  const [thawBy, setThawBy] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const seen = [{ piece: card.id, version: card.version }]
  const answer = <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
  if (card.frozen)
    return (
      <div className="grid gap-1 border-l-8 border-violet bg-violet-wash px-3 py-2">
        <p>
          In the freezer since <span className="figures">{format.moment(card.frozen.since)}</span>
          {card.frozen.thaw_by && (
            <>
              , to be thawed by <span className="figures">{format.until(card.frozen.thaw_by)}</span>
            </>
          )}
          .
        </p>
        {answer}
        <button
          type="button"
          className="press justify-self-start"
          disabled={record.isPending}
          onClick={() => record.mutate({ acts: [{ act: 'thawed', piece: card.id }], seen })}
        >
          Taken out to thaw
        </button>
      </div>
    )
  return (
    <details>
      <summary className="quiet">Freeze it until later</summary>
      <form
        className="mt-1 grid gap-2"
        aria-label="Freeze it"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate({ acts: [{ act: 'frozen', piece: card.id, place: place || null, thaw_by: thawBy || null }], seen })
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-2">
          <PlaceSelect label="Freezer" uses={['freeze']} value={place} onChange={setPlace} error={wrong('place')} />
          <DayField label="To be thawed by" value={thawBy} onChange={setThawBy} />
        </div>
        {answer}
        <button type="submit" className="press justify-self-start" disabled={record.isPending}>
          Into the freezer
        </button>
      </form>
    </details>
  )
}
