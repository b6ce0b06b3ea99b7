import words from '../../api/words.json'
import { Check, Circle, CircleDot, Minus } from 'lucide-react'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { PieceCard, Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { elapsed, span, type Timer, useTimers } from '../../api/timers'
import { AmountField, Select, TextField, Tick } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { about, alike, Together } from '../../kit/Together'
import { useStation } from '../../api/pieces'
import { problemOf } from '../../api/client'
import { useFormat } from '../../units'
import { standingWords } from '../words'

type StepView = Schemas['StepView']
type View = Schemas['PieceView']

const STATIONS: Record<Schemas['StepStation'], '/cure' | '/smoke' | '/hang' | '/pack'> = {
  cure: '/cure',
  smoke: '/smoke',
  hang: '/hang',
  pack: '/pack',
}

const MARKS: Record<Schemas['StepStanding'], typeof Check> = {
  done: Check,
  left_out: Minus,
  open: CircleDot,
  later: Circle,
}

/** The way of a piece, step by step: what is done, what may be done now, what comes later. */
export function Way({ view }: { view: View }) {
  const { steps } = view
  const format = useFormat()
  if (steps.length < 2) return null
  return (
    <section aria-label="Its way" className="table-top p-4">
      <h2 className="mb-1.5">Its way</h2>
      <ol className="grid gap-1.5">
        {steps.map((step) => {
          const Mark = MARKS[step.standing]
          return (
            <li
              key={step.id}
              className="grid grid-cols-[1.5rem_1fr] gap-2 border-t border-line pt-1.5"
              aria-label={`${step.verb}: ${standingWords[step.standing]}`}
            >
              <Mark
                size={20}
                aria-hidden
                className={step.standing === 'done' ? 'text-good' : step.standing === 'open' ? 'text-violet' : 'text-soft'}
              />
              <div className="min-w-0">
                <p className={step.standing === 'later' || step.standing === 'left_out' ? 'text-soft' : ''}>
                  <strong className={step.standing === 'left_out' ? 'line-through' : ''}>{step.verb}</strong>{' '}
                  {step.done_at ? (
                    <span className="figures text-[0.95rem] text-soft">{format.moment(step.done_at)}</span>
                  ) : (
                    <span className="text-[0.95rem] text-soft">
                      {step.standing === 'left_out'
                        ? 'left out'
                        : step.may_be_left_out && step.standing === 'open'
                          ? 'may be left out'
                          : ''}
                    </span>
                  )}
                </p>
                {step.standing === 'open' && <p className="text-[0.95rem]">{step.words}</p>}
                {step.standing === 'open' && step.check && (
                  <p className="border-l-4 border-violet pl-2 text-[0.95rem]">{step.check}</p>
                )}
                {step.standing === 'open' && !view.card.frozen && <DoStep view={view} step={step} />}
                {step.done_by === 'soaked' && step.standing === 'done' && isNext(steps, step) && <AfterSoak view={view} />}
              </div>
            </li>
          )
        })}
      </ol>
    </section>
  )
}

/** True while nothing behind a step was done. */
const isNext = (steps: StepView[], step: StepView) => steps.slice(steps.indexOf(step) + 1).every((s) => s.standing !== 'done')

/** A soak is judged by a slice, and may be had again. */
function AfterSoak({ view }: { view: View }) {
  const soaking = view.timers.find((t) => t.what === 'soak')
  return (
    <div className="no-print mt-1 grid gap-2">
      {SLICES.map((check) => (
        <CheckRow key={check} card={view.card} check={check} />
      ))}
      {soaking ? (
        <Soaking timer={soaking} />
      ) : (
        <details>
          <summary className="quiet">Soak it again</summary>
          <Soak card={view.card} own={view.own_soak} />
        </details>
      )}
    </div>
  )
}

/** A slice is fried before a soak and after it, from the end and from the middle. */
const SLICES = ['slice_end', 'slice_middle']

/** How an open step is written down: at its station, by a tick, or by what it asks. */
function DoStep({ view, step }: { view: View; step: StepView }) {
  const { card } = view
  const soaking = view.timers.find((t) => t.what === 'soak')
  if (step.station) {
    return (
      <Link to={STATIONS[step.station]} search={{ piece: card.id }} className="press no-print mt-1">
        Weigh it there<span className="sr-only">: {step.verb}</span>
      </Link>
    )
  }
  return (
    <div className="no-print mt-1 grid gap-2">
      {step.done_by === 'soaked' && (
        <>
          {soaking ? <Soaking timer={soaking} /> : <Soak card={card} own={view.own_soak} />}
          {SLICES.filter((check) => !step.asks.includes(check)).map((check) => (
            <CheckRow key={check} card={card} check={check} />
          ))}
        </>
      )}
      {step.verb === 'bind' && view.binder && <Binding binder={view.binder} />}
      {step.done_by === 'coated' && <Coat card={card} label={`Weigh what goes on: ${step.verb}`} />}
      {step.asks.map((check) => (
        <CheckRow key={check} card={card} check={check} />
      ))}
      {step.done_by !== 'soaked' && step.done_by !== 'coated' && <TickOff card={card} step={step} />}
    </div>
  )
}

/** Binder and its water for what is joined, and how long it then rests. */
function Binding({ binder }: { binder: Schemas['Binder'] }) {
  const format = useFormat()
  return (
    <p className="border-l-4 border-violet pl-2 text-[0.95rem]">
      <span className="figures font-semibold">{format.mass(binder.binder_g)}</span> of binder stirred into{' '}
      <span className="figures font-semibold">{format.mass(binder.water_g)}</span> of water, spread at once; rolled, it rests cold
      for <span className="figures">{binder.rest_h[0]}</span> to <span className="figures">{binder.rest_h[1]}</span> hours.
    </p>
  )
}

function TickOff({ card, step }: { card: PieceCard; step: StepView }) {
  const record = useRecord()
  const [thickness, setThickness] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const isRoll = step.kind === 'roll'
  return (
    <div>
      {isRoll && (
        <AmountField
          quantity="length"
          label="How thick it is, rolled"
          value={thickness}
          onChange={setThickness}
          error={wrong('thickness')}
          hint="Its time in the smoker goes by that."
        />
      )}
      <button
        type="button"
        className="press"
        disabled={record.isPending}
        onClick={() =>
          record.mutate({
            acts: [{ act: 'step_done', piece: card.id, step: step.id, note: null, thickness: thickness || null }],
            seen: [{ piece: card.id, version: card.version }],
          })
        }
      >
        Done<span className="sr-only">: {step.verb}</span>
      </button>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </div>
  )
}

function Soak({ card, own }: { card: PieceCard; own: View['own_soak'] }) {
  const record = useRecord()
  const group = useGroup(card)
  // From the third piece on it is the usual, and stands there already.
  const [minutes, setMinutes] = useState(own && own.times >= 3 ? String(own.minutes) : '')
  const [changes, setChanges] = useState('')
  const [iced, setIced] = useState(false)
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const seen = group.seen
  const pieces = own?.times === 1 ? 'one piece' : `${own?.times} pieces`
  return (
    <form
      className="mt-1 grid gap-2"
      aria-label="Soak it"
      onSubmit={(e) => {
        e.preventDefault()
        record.mutate({
          acts: group.all.map((piece) => ({ act: 'timer_set', piece, what: 'soak', minutes, note: null })),
          seen,
        })
      }}
    >
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="Minutes in the water"
          value={minutes}
          onChange={setMinutes}
          inputMode="numeric"
          error={wrong('minutes')}
          hint={own ? `${own.minutes} min were right here, by ${pieces}.` : 'Such as 30; taste a fried slice before and after.'}
        />
        <TextField
          label="Changes of water"
          value={changes}
          onChange={setChanges}
          inputMode="numeric"
          error={wrong('changes')}
          hint="When it was soaked already."
        />
      </div>
      <Tick label="In iced water" checked={iced} onChange={setIced} />
      <Together label="More in the same water" others={group.couldBe} chosen={group.others} onChange={group.choose} />
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={record.isPending || minutes.trim() === ''}>
          Into the water: ring then
        </button>
        <button
          type="button"
          className="press"
          disabled={record.isPending || minutes.trim() === ''}
          onClick={() =>
            record.mutate({ acts: [{ act: 'soaked', ...about(card.id, group.others), minutes, changes, iced }], seen })
          }
        >
          It was soaked so long
        </button>
      </div>
    </form>
  )
}

/** The others that become the same and are as far: what is done with one is done with them. */
function useGroup(card: PieceCard) {
  const at = (['smoke', 'hang', 'pack'] as const).find((s) => s === card.stage) ?? 'smoke'
  const here = useStation(at).data?.pieces ?? []
  const [others, choose] = useState<number[]>([])
  const couldBe = alike(here, card).filter((p) => p.stage === card.stage)
  const chosen = couldBe.filter((p) => others.includes(p.id))
  return {
    couldBe,
    others: chosen.map((p) => p.id),
    all: [card.id, ...chosen.map((p) => p.id)],
    seen: [card, ...chosen].map((p) => ({ piece: p.id, version: p.version })),
    choose,
  }
}

/** The soak that runs: how long still, and out of it. */
function Soaking({ timer }: { timer: Timer }) {
  const { now } = useTimers()
  const record = useRecord()
  const [changes, setChanges] = useState('')
  const [iced, setIced] = useState(false)
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  return (
    <form
      className="mt-1 grid gap-2"
      aria-label="Out of the water"
      onSubmit={(e) => {
        e.preventDefault()
        const minutes = elapsed(timer, now)
        record.mutate({ acts: [{ act: 'soaked', piece: timer.piece, minutes, changes, iced }] })
      }}
    >
      <p>
        In the water for <span className="figures font-semibold">{span(now - Date.parse(timer.began))}</span> of{' '}
        <span className="figures">{timer.minutes} min</span>.
      </p>
      <TextField
        label="Changes of water"
        value={changes}
        onChange={setChanges}
        inputMode="numeric"
        error={wrong('changes') ?? wrong('minutes')}
      />
      <Tick label="In iced water" checked={iced} onChange={setIced} />
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <button type="submit" className="press press-main justify-self-start" disabled={record.isPending}>
        Out of the water now
      </button>
    </form>
  )
}

const waits: Record<Timer['what'], string> = words.TimerFor.waits

/** A timer for anything else: a rest, a salt box, water outside of its way. */
export function SetTimer({ card }: { card: PieceCard }) {
  const record = useRecord()
  const choices: Timer['what'][] = card.stage === 'in_cure' ? ['salt_box', 'rest'] : ['rest']
  const [what, setWhat] = useState<Timer['what']>(choices[0] ?? 'rest')
  const [hours, setHours] = useState('')
  const [minutes, setMinutes] = useState('')
  const [note, setNote] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const isWhole = (text: string) => /^\s*\d*\s*$/.test(text)
  // What is no whole number goes as it was typed and comes back with words.
  const whole = isWhole(hours) && isWhole(minutes) ? String(Number(hours) * 60 + Number(minutes)) : `${hours} h ${minutes}`
  return (
    <details>
      <summary className="quiet">Set a timer</summary>
      <form
        className="mt-1 grid gap-2"
        aria-label="Set a timer"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate(
            { acts: [{ act: 'timer_set', piece: card.id, what, minutes: whole, note: note.trim() || null }] },
            {
              onSuccess: () => {
                setHours('')
                setMinutes('')
                setNote('')
              },
            },
          )
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-3">
          <Select label="While" value={what} onChange={(v) => setWhat(v as Timer['what'])}>
            {choices.map((c) => (
              <option key={c} value={c}>
                {waits[c]}
              </option>
            ))}
          </Select>
          <TextField label="Hours" value={hours} onChange={setHours} inputMode="numeric" error={wrong('minutes')} />
          <TextField label="Minutes" value={minutes} onChange={setMinutes} inputMode="numeric" />
        </div>
        <TextField label="What to do then" value={note} onChange={setNote} error={wrong('note')} />
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button
          type="submit"
          className="press justify-self-start"
          disabled={record.isPending || hours.trim() + minutes.trim() === ''}
        >
          Ring then
        </button>
      </form>
    </details>
  )
}

/** Meal, pepper, paste or lard, by weight: what went on, or the piece with it on. */
export function Coat({ card, label }: { card: PieceCard; label: string }) {
  const record = useRecord()
  const group = useGroup(card)
  const blank = { name: '', reading: '', after: '', before: '', left: '', allergens: '' }
  const [typed, setTyped] = useState(blank)
  const set = (change: Partial<typeof blank>) => setTyped((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const said = (text: string) => (text.trim() === '' ? null : text)
  const send = () =>
    record.mutate(
      {
        acts: [
          {
            act: 'coated',
            ...about(card.id, group.others),
            name: typed.name,
            reading: said(typed.reading),
            after: said(typed.after),
            jar: said(typed.before + typed.left) === null ? null : { before: typed.before, after: typed.left },
            allergens: said(typed.allergens),
          },
        ],
        seen: group.seen,
      },
      { onSuccess: () => setTyped(blank) },
    )
  return (
    <details>
      <summary className="quiet">{label}</summary>
      <form
        className="mt-1 grid gap-2"
        aria-label="Coat it"
        onSubmit={(e) => {
          e.preventDefault()
          send()
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-2">
          <TextField
            label="What goes on"
            value={typed.name}
            onChange={(name) => set({ name })}
            error={wrong('name')}
            hint="Corn meal, black pepper, lard …"
          />
          <TextField
            label="Allergens in it"
            value={typed.allergens}
            onChange={(allergens) => set({ allergens })}
            hint="Mustard, wheat …"
          />
          <AmountField
            quantity="mass"
            label="How much went on"
            value={typed.reading}
            onChange={(reading) => set({ reading })}
            error={wrong('reading')}
          />
          <AmountField
            quantity="mass"
            label="Or the piece with it on"
            value={typed.after}
            onChange={(after) => set({ after })}
            error={wrong('after')}
          />
          <AmountField
            quantity="mass"
            label="Or its jar before"
            value={typed.before}
            onChange={(before) => set({ before })}
            error={wrong('jar.before')}
            hint="What is gone from it stuck."
          />
          <AmountField
            quantity="mass"
            label="And the jar after"
            value={typed.left}
            onChange={(left) => set({ left })}
            error={wrong('jar.after')}
          />
        </div>
        <Together label="More got it together" others={group.couldBe} chosen={group.others} onChange={group.choose} />
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || typed.name.trim() === ''}>
          Write it down
        </button>
      </form>
    </details>
  )
}

/** One check that goes with a step: its grades as a choice. */
function CheckRow({ card, check, pack, last }: { card: PieceCard; check: string; pack?: number; last?: string | null }) {
  const found = useCatalogue().data?.checks.find((c) => c.key === check)
  const record = useRecord()
  // What was chosen last time stands there already.
  const [grade, setGrade] = useState(last ?? '')
  const [value, setValue] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  if (!found) return null
  const grades = found.grades ?? []
  const leads = grades.find((g) => g.key === grade)?.leads_to
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      aria-label={`Check the ${found.name}`}
      onSubmit={(e) => {
        e.preventDefault()
        record.mutate(
          {
            acts: [
              {
                act: 'checked',
                piece: card.id,
                check,
                grade: grade || null,
                value: value || null,
                note: null,
                pack: pack ?? null,
              },
            ],
          },
          {
            onSuccess: () => {
              setGrade('')
              setValue('')
            },
          },
        )
      }}
    >
      <div className="min-w-40 grow">
        {grades.length > 0 ? (
          <Select
            label={`Check: ${found.name}`}
            value={grade}
            onChange={setGrade}
            hint={leads || found.words}
            error={wrong('grade')}
          >
            <option value="">how is it?</option>
            {grades.map((g) => (
              <option key={g.key} value={g.key}>
                {g.name}
              </option>
            ))}
          </Select>
        ) : (
          <TextField
            label={`Check: ${found.name}`}
            value={value}
            onChange={setValue}
            inputMode="decimal"
            hint={found.words}
            error={wrong('value')}
          />
        )}
      </div>
      <button type="submit" className="press mb-7" disabled={record.isPending || (grade === '' && value.trim() === '')}>
        Write it down<span className="sr-only">: {found.name}</span>
      </button>
    </form>
  )
}

/** Small choices of the steps that it has come to, as they were made the last time. */
export function Choices({ card, choices }: { card: PieceCard; choices: View['choices'] }) {
  if (choices.length === 0) return null
  return (
    <details className="no-print">
      <summary className="quiet">Small choices, offered again next time</summary>
      <div className="mt-2 grid gap-2">
        {choices.map((c) => (
          <CheckRow key={c.check} card={card} check={c.check} last={c.last} />
        ))}
      </div>
    </details>
  )
}

/** Any check, whatever the way says: a smell in passing, mould on the net. */
export function AnyCheck({ card, packs = [] }: { card: PieceCard; packs?: Schemas['PackView'][] }) {
  const checks = useCatalogue().data?.checks ?? []
  const [check, setCheck] = useState('')
  const [pack, setPack] = useState('')
  const there = packs.filter((p) => !p.discarded)
  return (
    <details>
      <summary className="quiet">Check something and grade it</summary>
      <div className="mt-2 grid gap-2">
        <Select label="What you look at" value={check} onChange={setCheck}>
          <option value="">choose</option>
          {checks.map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </Select>
        {there.length > 0 && (
          <Select label="Which pack" value={pack} onChange={setPack}>
            <option value="">all of it</option>
            {there.map((p) => (
              <option key={p.id} value={String(p.id)}>
                {p.tag}
              </option>
            ))}
          </Select>
        )}
        {check && <CheckRow key={check} card={card} check={check} pack={pack ? Number(pack) : undefined} />}
      </div>
    </details>
  )
}
