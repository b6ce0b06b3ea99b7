import { useState } from 'react'
import { type PieceCard, problemOf } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useSettings } from '../../api/settings'
import { AmountField, TextField } from '../../kit/Fields'
import { Refused } from '../../kit/States'

/** The inside so many hours after the heat: whether it cooled by the clock. */
export function Cooled({ card }: { card: PieceCard }) {
  const record = useRecord()
  const [inside, setInside] = useState('')
  const [hours, setHours] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  return (
    <details>
      <summary className="quiet">How it cooled</summary>
      <form
        className="mt-1 grid gap-2"
        aria-label="How it cooled"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate(
            { acts: [{ act: 'cooled', piece: card.id, inside, hours }] },
            {
              onSuccess: () => {
                setInside('')
                setHours('')
              },
            },
          )
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-2">
          <AmountField
            quantity="temperature"
            label="Inside, at last"
            value={inside}
            onChange={setInside}
            error={wrong('inside')}
          />
          <TextField
            label="Hours after the heat"
            value={hours}
            onChange={setHours}
            error={wrong('hours')}
            hint="Such as 5, or 90 min."
          />
        </div>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button
          type="submit"
          className="press justify-self-start"
          disabled={record.isPending || inside.trim() === '' || hours.trim() === ''}
        >
          Write it down
        </button>
      </form>
    </details>
  )
}

/** How warm it was around it, and for how long. */
export function Around({ card }: { card: PieceCard }) {
  const record = useRecord()
  const places = useSettings().data?.household.equipment?.places ?? []
  const blank = { place: card.place ?? '', temperature: '', humidity: '', hours: '' }
  const [typed, setTyped] = useState(blank)
  const set = (change: Partial<typeof blank>) => setTyped((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const said = (text: string) => (text.trim() === '' ? null : text)
  return (
    <details>
      <summary className="quiet">How warm it lay</summary>
      <form
        className="mt-1 grid gap-2"
        aria-label="How warm it lay"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate(
            {
              acts: [
                {
                  act: 'place_read',
                  piece: card.id,
                  place: typed.place,
                  temperature: typed.temperature,
                  humidity: said(typed.humidity),
                  hours: said(typed.hours),
                },
              ],
            },
            { onSuccess: () => setTyped(blank) },
          )
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-2">
          <TextField
            label="Place"
            value={typed.place}
            onChange={(place) => set({ place })}
            error={wrong('place')}
            hint={places.length > 0 ? `Such as ${places[0]!.name}.` : 'Such as porch.'}
          />
          <AmountField
            quantity="temperature"
            label="How warm it was"
            value={typed.temperature}
            onChange={(temperature) => set({ temperature })}
            error={wrong('temperature')}
          />
          <TextField
            label="For how many hours"
            value={typed.hours}
            onChange={(hours) => set({ hours })}
            error={wrong('hours')}
            hint="Empty for one look."
          />
          <TextField
            label="How damp the air was"
            value={typed.humidity}
            onChange={(humidity) => set({ humidity })}
            error={wrong('humidity')}
            hint="Such as 75 %."
          />
        </div>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button
          type="submit"
          className="press justify-self-start"
          disabled={record.isPending || typed.place.trim() === '' || typed.temperature.trim() === ''}
        >
          Write it down
        </button>
      </form>
    </details>
  )
}
