import { useState } from 'react'
import { problemOf } from '../../../api/client'
import { type Run, type RunPiece, usePull } from '../../../api/runs'
import { AmountField, Choice, Tick, WhenField } from '../../../kit/Fields'
import { Refused } from '../../../kit/States'
import { useFormat } from '../../../units'

/** Out of the heat and weighed: one piece, or several on the scale at once, shared out by what each weighed. */
export function Pull({ run, first }: { run: Run; first: RunPiece }) {
  const format = useFormat()
  const pull = usePull()
  const [reading, setReading] = useState('')
  const [inside, setInside] = useState('')
  const [when, setWhen] = useState('')
  const [more, setMore] = useState<number[]>([])
  const [eachRead, setEachRead] = useState(false)
  const usual = first.heats.find((h) => !h.may_be_left_out) ?? first.heats[0]
  const [step, setStep] = useState(usual?.id)
  const others = run.pieces.filter((p) => !p.left && p.id !== first.id)
  const pieces = [first.id, ...more]
  const send = (keep: { keep_as_typed?: boolean; happened_at?: string; reason?: string } = {}) =>
    pull.mutate({
      acts: [
        {
          act: 'smoked',
          ...(pieces.length > 1 ? { pieces } : { piece: first.id }),
          run: run.id,
          reading,
          inside: inside || null,
          ...(pieces.length > 1 && inside ? { each_read: eachRead } : {}),
          step: first.heats.length > 1 ? step : null,
          reason: keep.reason ?? null,
        },
      ],
      happened_at: keep.happened_at ?? (when || undefined),
      keep_as_typed: keep.keep_as_typed ?? false,
    })
  const wrong = (field: string) => (pull.error ? problemOf(pull.error).field(field) : undefined)
  return (
    <form
      aria-label={`Pull ${first.tag}`}
      className="grid gap-1"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      {others.length > 0 && (
        <details>
          <summary className="quiet">
            {more.length > 0 ? `${pieces.length} pieces on the scale` : 'More on the scale with it?'}
          </summary>
          <div className="flex flex-wrap gap-x-4">
            {others.map((p) => (
              <Tick
                key={p.id}
                label={p.tag}
                checked={more.includes(p.id)}
                onChange={(on) => setMore((m) => (on ? [...m, p.id] : m.filter((id) => id !== p.id)))}
              />
            ))}
          </div>
        </details>
      )}
      {first.heats.length > 1 && step && (
        <Choice
          label="Which it was"
          value={step}
          options={first.heats.map((h) => ({ value: h.id, label: h.verb }))}
          onChange={setStep}
        />
      )}
      <AmountField
        big
        label={pieces.length > 1 ? `${pieces.length} pieces together weigh` : `Out of the heat, ${first.tag} weighs`}
        quantity="mass"
        value={reading}
        onChange={setReading}
        error={wrong('reading')}
      />
      <AmountField
        label="Warmest inside"
        quantity="temperature"
        value={inside}
        onChange={setInside}
        error={wrong('inside')}
        hint={
          first.record
            ? `Left empty, it is ${format.heat(Math.floor(first.record.celsius * 10 + 1e-6) / 10)}, as it was read in this run.`
            : 'Nobody read it: without it the pack says “cook before eating”.'
        }
      />
      {pieces.length > 1 && inside.trim() !== '' && (
        <Tick label="Read in each of them: this is the lowest" checked={eachRead} onChange={setEachRead} />
      )}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      {pull.error != null && (
        <Refused
          error={pull.error}
          busy={pull.isPending}
          onKeep={(at) => send(at ? { happened_at: at } : { keep_as_typed: true })}
          onReason={(reason) => send({ keep_as_typed: true, reason })}
        />
      )}
      <button
        type="submit"
        className="press press-main bench justify-self-start"
        disabled={pull.isPending || reading.trim() === ''}
      >
        {pieces.length > 1 ? `Pull ${pieces.length} pieces` : `Pull ${first.tag}`}
      </button>
    </form>
  )
}
