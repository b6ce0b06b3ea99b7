import { Hand } from 'lucide-react'
import { useEffect, useRef } from 'react'
import type { Schemas } from '../../api/client'
import { useSettled } from '../../kit/settled'
import { TripRow } from './TripRow'
import { placeWords, type Row, rowKey } from './words'

type Trip = Schemas['Trip']

interface Placed {
  trip: Trip
  row: Row
  key: string
}

/** After `g` a digit is a station's, for so long (ms). */
const CHORD_MS = 1_500

/** What is due, place after place; the digit of a line does what its button says. */
export function TripList({ trips }: { trips: Trip[] }) {
  const placed = trips.flatMap((trip) => trip.rows.map((row): Placed => ({ trip, row, key: rowKey(trip, row) })))
  // A line that was just done stays where it was until one looks away.
  const list = useSettled(placed, (p) => p.key)
  useDigits()
  const cards = new Map<string, { trip: Trip; rows: { placed: Placed; isGone: boolean }[] }>()
  for (const { row: placed, isGone } of list.rows) {
    const at = `${placed.trip.ready}-${placed.trip.place}`
    const card = cards.get(at) ?? { trip: placed.trip, rows: [] }
    card.rows.push({ placed, isGone })
    cards.set(at, card)
  }
  let number = 0
  return [...cards].map(([at, { trip, rows }]) => (
    <section key={at} aria-label={`${placeWords[trip.place]}${trip.ready ? ', ready to eat' : ''}`} {...list.area}>
      {trip.wash_first && (
        <p className="mb-2 flex items-center gap-2 font-semibold text-caution">
          <Hand size={20} aria-hidden /> Now raw meat. Knife, board and hands are washed first.
        </p>
      )}
      <TripHead trip={trip} />
      <ul className="table-top divide-y divide-line border-t-0">
        {rows.map(({ placed, isGone }) => (
          <TripRow
            key={placed.key}
            row={placed.row}
            name={placed.key}
            number={++number}
            isGone={isGone}
            onTouched={() => list.mark([placed.key])}
          />
        ))}
      </ul>
    </section>
  ))
}

/** The place as a shelf's edge: where, how long, what to take along. */
function TripHead({ trip }: { trip: Trip }) {
  const take = trip.take.length > 0 && `take ${trip.take.join(', ')}`
  return (
    <div className="flex flex-wrap items-baseline justify-between gap-x-4 border-t-[5px] border-edge bg-steel px-3 py-1">
      <h2>
        {placeWords[trip.place]}
        {trip.ready && <span className="ml-2 border border-good px-1.5 text-[0.9rem] text-good">ready to eat</span>}
      </h2>
      <p className="text-[0.95rem] text-soft">
        about <span className="figures">{trip.minutes}</span> min{take && <> · {take}</>}
      </p>
    </div>
  )
}

/** Digits outside of fields press the main button of the line with that number. */
function useDigits() {
  const chord = useRef(-Infinity)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target
      if (event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role=dialog]')) return
      if (target instanceof HTMLElement && (target.matches('input, select, textarea') || target.isContentEditable)) return
      if (event.key === 'g') {
        chord.current = performance.now()
        return
      }
      const isStation = performance.now() - chord.current < CHORD_MS
      chord.current = -Infinity
      if (isStation || !/^[1-9]$/.test(event.key)) return
      document.querySelector<HTMLElement>(`[data-digit="${event.key}"]`)?.click()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
}
