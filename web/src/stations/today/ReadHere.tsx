import words from '../../api/words.json'
import { Thermometer } from 'lucide-react'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useReadPlace } from '../../api/places'

const partWords: Record<Schemas['PartOfDay'], string> = words.PartOfDay.label

/** A place without cooling is asked for three times a day. */
export function ReadHere({ ask }: { ask: Schemas['PlaceAsked'] }) {
  const [text, setText] = useState('')
  const read = useReadPlace(ask.place)
  const wrong = read.error ? (problemOf(read.error).problem.errors?.[0]?.message ?? problemOf(read.error).message) : undefined
  return (
    <form
      aria-label={`How cold is the ${ask.name}`}
      className="table-top grid gap-1 border-l-8 border-violet p-2.5 sm:px-3"
      onSubmit={(e) => {
        e.preventDefault()
        read.mutate({ readings: [{ temperature: text }] })
      }}
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <label htmlFor={`read-${ask.place}`} className="grow font-semibold">
          <Thermometer size={20} aria-hidden className="mr-1.5 inline" />
          How cold is the {ask.name} {partWords[ask.part]}?
        </label>
        <input
          id={`read-${ask.place}`}
          className="field figures !w-28"
          inputMode="decimal"
          value={text}
          onChange={(e) => setText(e.target.value)}
          aria-invalid={Boolean(wrong)}
        />
        <button type="submit" className="press press-main bench" disabled={read.isPending || text.trim() === ''}>
          Write it down
        </button>
      </div>
      {wrong ? (
        <p role="alert" className="font-semibold text-stop">
          {wrong}
        </p>
      ) : (
        <p className="text-[0.95rem] text-soft">
          {ask.pieces === 1 ? 'One piece lies' : `${ask.pieces} pieces lie`} there.
          <span className="hidden sm:inline"> {ask.care}</span>
        </p>
      )}
    </form>
  )
}
