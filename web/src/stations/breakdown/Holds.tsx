import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { AmountField, TextField } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { answerWords, holdWords } from '../words'

type Hold = Schemas['HoldState']

const noteHint: Partial<Record<Hold['kind'], string>> = {
  wasting_test: 'Such as the number of the sample, or who said that nothing is to be tested for here.',
  freezing: 'The number of the test, or of the stamp.',
}

const ink: Record<Schemas['HoldStatus'], string> = {
  open: 'border-caution text-caution',
  waiting: 'border-violet text-violet',
  ended: 'border-good text-good',
  care: 'border-caution text-caution',
  bad: 'border-stop text-stop',
}

/** What holds an animal's meat back, each with its end: counted down, answered, or open. */
export function Holds({ lot, tag, holds }: { lot: number; tag: string; holds: Hold[] }) {
  if (holds.length === 0) return null
  return (
    <section aria-label={`What holds ${tag} back`} className="table-top">
      <h2 className="p-3 pb-1">What holds it back</h2>
      <ul className="divide-y divide-line">
        {holds.map((hold) => (
          <HoldRow key={hold.kind} lot={lot} hold={hold} />
        ))}
      </ul>
    </section>
  )
}

function HoldRow({ lot, hold }: { lot: number; hold: Hold }) {
  const format = useFormat()
  const { freezing } = hold
  return (
    <li className="grid gap-1.5 p-3">
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <strong>{hold.name}</strong>
        <span className={`border px-1.5 text-[0.9rem] font-semibold ${ink[hold.status]}`}>
          {hold.status === 'open' && hold.kind === 'wasting_test' ? 'not tested' : holdWords[hold.status]}
          {hold.until && hold.status === 'ended' && ` ${format.date(hold.until)}`}
        </span>
      </p>
      {freezing && <Countdown freezing={freezing} until={hold.until} status={hold.status} />}
      {hold.status !== 'ended' && (
        <p className="text-[0.95rem]">
          {hold.words} <span className="text-soft">{hold.asks}</span>
        </p>
      )}
      {hold.status === 'bad' && (
        <p className="border-l-8 border-stop bg-stop-wash px-3 py-2 font-semibold text-stop">
          Do not eat. Keep it apart and throw it away as your wildlife agency says.{' '}
          <Link className="underline underline-offset-3" to="/trace/lots/$id" params={{ id: String(lot) }}>
            Which packs hold meat of it
          </Link>
        </p>
      )}
      {hold.kind === 'freezing' && <ReadFreezer lot={lot} />}
      {hold.answers.length > 0 && <Answer lot={lot} hold={hold} />}
    </li>
  )
}

/** The days gone of those it takes; a drawn bar and the same in words. */
function Countdown({
  freezing,
  until,
  status,
}: {
  freezing: Schemas['Freezing']
  until?: string | null
  status: Hold['status']
}) {
  const format = useFormat()
  const share = Math.min(freezing.days_gone / freezing.days, 1)
  return (
    <div>
      <div className="h-4 border border-edge bg-steel" aria-hidden>
        <div className="h-full bg-violet" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="figures mt-0.5 text-[0.95rem]">
        {freezing.days_gone === 0 && status === 'open'
          ? `Not cold enough: ${format.heat(freezing.last_c)} inside, it has to be ${format.heat(freezing.at_or_below_c)} or colder.`
          : `${freezing.days_gone.toFixed(1)} of ${freezing.days} days at ${format.heat(freezing.at_or_below_c)} or colder; last read ${format.heat(freezing.last_c)}.`}
        {status === 'waiting' && until && ` Read it again on ${format.date(until)} or later to end it.`}
      </p>
    </div>
  )
}

function ReadFreezer({ lot }: { lot: number }) {
  const record = useRecord()
  const [inside, setInside] = useState('')
  const [thickness, setThickness] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  return (
    <details className="no-print">
      <summary className="quiet">Write down a temperature from the freezer</summary>
      <form
        className="mt-1 grid items-start gap-x-3 sm:grid-cols-2"
        aria-label="Freezer temperature"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate(
            { acts: [{ act: 'freezer_read', lot, inside, thickness: thickness || null, piece: null }] },
            { onSuccess: () => setInside('') },
          )
        }}
      >
        <AmountField
          quantity="temperature"
          label="Inside the thickest piece"
          value={inside}
          onChange={setInside}
          error={wrong('inside')}
          hint="By a probe, such as -18 C."
        />
        <AmountField
          quantity="length"
          label="How thick it is there"
          value={thickness}
          onChange={setThickness}
          error={wrong('thickness')}
          hint="Over 15 cm it takes longer."
        />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || inside.trim() === ''}>
          Write it down
        </button>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      </form>
    </details>
  )
}

function Answer({ lot, hold }: { lot: number; hold: Hold }) {
  const record = useRecord()
  const [note, setNote] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const answer = (answer: Schemas['HoldAnswer']) =>
    record.mutate(
      { acts: [{ act: 'hold_answered', lot, kind: hold.kind, answer, note: note || null }] },
      { onSuccess: () => setNote('') },
    )
  return (
    <details className="no-print" open={(hold.status === 'open' && hold.kind !== 'freezing') || undefined}>
      <summary className="quiet">
        {hold.kind === 'freezing'
          ? 'It was tested instead'
          : hold.status === 'open'
            ? 'What came of it'
            : 'Something else came of it'}
      </summary>
      <div className="mt-1 grid gap-1">
        <div className="flex flex-wrap gap-2">
          {hold.answers.map((a) => (
            <button key={a} type="button" className="press" disabled={record.isPending} onClick={() => answer(a)}>
              {hold.kind === 'smell' && a === 'clear' ? 'smells fine' : answerWords[a]}
              <span className="sr-only">: {hold.name}</span>
            </button>
          ))}
        </div>
        {hold.kind !== 'smell' && (
          <TextField
            label="Number or note"
            value={note}
            onChange={setNote}
            error={wrong('note')}
            hint={noteHint[hold.kind] ?? 'Such as who said so.'}
          />
        )}
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      </div>
    </details>
  )
}
