import { useState } from 'react'
import { type PieceCard, problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { AmountField } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { percent, useFormat } from '../../units'

/** Brine pumped into a piece: the scale before and after says how much, and so how strong it is and how long it lies. */
export function Inject({ card, brine }: { card: PieceCard; brine: Schemas['BrineView'] }) {
  const record = useRecord()
  const format = useFormat()
  const [after, setAfter] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const ppm = (n: number) => `${Math.round(n)} ppm`
  return (
    <details open={brine.injected_g > 0 || undefined}>
      <summary className="quiet">{brine.injected_g > 0 ? 'Inject it once more' : 'Inject it'}</summary>
      <div className="mt-1 grid gap-2">
        {brine.injected_g > 0 && (
          <p className="border-l-4 border-violet pl-2">
            <span className="figures font-semibold">{format.mass(brine.injected_g)}</span> of brine are in it,{' '}
            <span className="figures">{percent(brine.pump_fraction, 1)}</span> of its green weight. Nitrite:{' '}
            <span className="figures">{ppm(brine.nitrite_ppm_pickup)}</span> with what it takes up of the rest,{' '}
            <span className="figures">{ppm(brine.nitrite_ppm_equilibrium)}</span> once meat and brine are alike.{' '}
            {brine.pumped
              ? 'Its days are counted as an injected piece’s: about half.'
              : 'So little does not reach the middle: its days stay as they were.'}
          </p>
        )}
        <form
          className="grid gap-2"
          aria-label="Inject it"
          onSubmit={(e) => {
            e.preventDefault()
            record.mutate(
              {
                acts: [{ act: 'injected', piece: card.id, after, reason: null }],
                seen: [{ piece: card.id, version: card.version }],
              },
              { onSuccess: () => setAfter('') },
            )
          }}
        >
          <AmountField
            quantity="mass"
            label="It weighs after injecting"
            value={after}
            onChange={setAfter}
            error={wrong('after')}
            hint={`It weighed ${format.mass(card.mass_g)} before. Along the bone and every ${format.length(25)} to ${format.length(40)}; 8 to 12 % is usual. ${format.mass(brine.around_g)} of brine are left for it.`}
          />
          <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
          <button type="submit" className="press justify-self-start" disabled={record.isPending || after.trim() === ''}>
            Write it down
          </button>
        </form>
      </div>
    </details>
  )
}
