import { useState } from 'react'
import { send } from '../../api/queue'
import { TextField } from '../../kit/Fields'
import { PlaceSelect } from '../../kit/PlaceSelect'

interface Props {
  piece: number
  tag: string
  owner: string
  weeks: string
}

/** Weeks in vacuum, with a date. */
export function EvenOut({ piece, tag, owner, weeks: usual }: Props) {
  const [weeks, setWeeks] = useState(usual)
  const [place, setPlace] = useState('')
  return (
    <form
      aria-label={`Even ${tag} out`}
      className="grid gap-x-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        send(
          { to: 'entries', ask: { acts: [{ act: 'evened_out', piece, weeks, place: place || null }] } },
          { words: `${tag} in vacuum for ${weeks} weeks`, owner, piece, typed: [] },
        )
      }}
    >
      <TextField
        label="Weeks in vacuum"
        value={weeks}
        onChange={setWeeks}
        inputMode="numeric"
        hint="A bag that blows up is thrown away unopened."
      />
      <PlaceSelect label="In which fridge" uses={['cold']} value={place} onChange={setPlace} />
      <button type="submit" className="press justify-self-start" disabled={weeks.trim() === ''}>
        Into vacuum
      </button>
    </form>
  )
}
