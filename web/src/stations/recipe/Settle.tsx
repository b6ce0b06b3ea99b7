import { useId, useState } from 'react'
import type { Assumption, Settled } from '../../api/recipe'
import { problemOf } from '../../api/client'
import { useUnderstood } from '../../api/units'

/** What an assumption of the whole recipe is about, for who cannot see where its control stands. */
const topics: Partial<Record<Assumption['code'], string>> = {
  class_assumed: 'what becomes of it',
  measures_assumed: 'whose spoons and cups',
  pickup_assumed: 'how much brine gets in',
  meat_weight_missing: 'the meat',
}

interface Props {
  assumption: Assumption
  /** The line it stands in and what it is about, where it is one line's. */
  of?: { text: string; ingredient?: string | null }
  onSettle: (settled: Settled) => void
}

/** Changes an assumption where it stands: one of its choices, a weight, or a percentage. */
export function Settle({ assumption, of, onSettle }: Props) {
  const { code, choices = [], takes } = assumption
  const about = of ? of.text.trim() : topics[code]
  const id = useId()
  const put = (value: string) => onSettle({ code, value, line_text: of?.text ?? null, ingredient: of?.ingredient ?? null })
  if (choices.length > 0)
    return (
      <div className="flex flex-wrap items-center gap-2">
        <label htmlFor={id} className="font-semibold">
          It is<span className="sr-only">, {about}</span>
        </label>
        <select
          id={id}
          className="field min-h-11 w-auto min-w-0 max-w-full"
          value={assumption.value ?? ''}
          onChange={(e) => put(e.target.value)}
        >
          {assumption.value == null && <option value="">not settled</option>}
          {choices.map((c) => (
            <option key={c.value} value={c.value}>
              {c.label}
            </option>
          ))}
        </select>
      </div>
    )
  if (takes === 'weight' && (of || code === 'meat_weight_missing'))
    return <Typed label="It weighs" about={about} example="12 g" quantity="mass" onTyped={put} />
  if (takes === 'percent')
    return <Typed label="It is" about={about} example={assumption.value ?? '10 %'} quantity="share" onTyped={put} />
  return null
}

/** A weight or percentage that is typed and taken with Enter. */
function Typed(props: {
  label: string
  about?: string
  example: string
  quantity: 'mass' | 'share'
  onTyped: (text: string) => void
}) {
  const [text, setText] = useState('')
  const id = useId()
  const read = useUnderstood(props.quantity, text)
  const wrong = text.trim() !== '' && read.isError ? (problemOf(read.error).field('text') ?? 'This cannot be read.') : undefined
  const take = () => {
    if (text.trim() === '' || wrong) return
    // What was understood is sent, so that the reader's units are not guessed again.
    props.onTyped(props.quantity === 'mass' && read.data ? `${read.data.value} g` : text)
    setText('')
  }
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        take()
      }}
    >
      <label htmlFor={id} className="font-semibold">
        {props.label}
        <span className="sr-only">, {props.about}</span>
      </label>
      <input
        id={id}
        className="field min-h-11 w-28"
        value={text}
        placeholder={props.example}
        onChange={(e) => setText(e.target.value)}
        aria-invalid={Boolean(wrong)}
        aria-describedby={`${id}-wrong`}
        autoComplete="off"
      />
      <button type="submit" className="press" disabled={text.trim() === '' || Boolean(wrong)}>
        Take it
      </button>
      <span id={`${id}-wrong`} className="w-full text-[0.92rem] font-semibold text-stop empty:hidden">
        {wrong}
      </span>
    </form>
  )
}
