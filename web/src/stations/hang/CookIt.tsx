import { useState } from 'react'
import { send } from '../../api/queue'
import { AmountField } from '../../kit/Fields'

interface Props {
  piece: number
  tag: string
  owner: string
}

/** Leftover mix, or what came down too early: cooked, and what its inside came to. */
export function CookIt({ piece, tag, owner }: Props) {
  const [inside, setInside] = useState('')
  const [chamber, setChamber] = useState('')
  const [reading, setReading] = useState('')
  return (
    <form
      aria-label={`Cook ${tag}`}
      className="grid gap-x-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        send(
          {
            to: 'entries',
            ask: { acts: [{ act: 'smoked', piece, reading, inside: inside || null, chamber: chamber || null }] },
          },
          { words: `${tag} cooked, ${[inside, reading].filter(Boolean).join(', ')}`, owner, piece, typed: [] },
        )
      }}
    >
      <AmountField
        quantity="temperature"
        label="Warmest inside"
        value={inside}
        onChange={setInside}
        hint="In the thickest place; it decides what the pack may claim."
      />
      <AmountField quantity="temperature" label="Oven, pan or pot" value={chamber} onChange={setChamber} />
      <AmountField quantity="mass" label="It weighs then" value={reading} onChange={setReading} />
      <button type="submit" className="press self-center justify-self-start" disabled={reading.trim() === ''}>
        Cooked
      </button>
    </form>
  )
}
