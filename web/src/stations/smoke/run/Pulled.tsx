import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { type ActAsk, problemOf } from '../../../api/client'
import { type Run, type RunPiece, usePull } from '../../../api/runs'
import { AmountField, TextField } from '../../../kit/Fields'
import { Refused } from '../../../kit/States'
import { useFormat } from '../../../units'

/** What came out: its rest and peak, its clock of cooling, and from when it is firm enough to slice. */
export function Pulled({ run }: { run: Run }) {
  const out = run.pieces.filter((p) => p.left)
  if (out.length === 0) return null
  return (
    <section aria-label="Out of it">
      <h2 className="mb-1.5">Out of it</h2>
      <ul className="table-top divide-y divide-line">
        {out.map((p) => (
          <li key={p.id} className="p-3">
            <One run={run} piece={p} />
          </li>
        ))}
      </ul>
    </section>
  )
}

function One({ run, piece: p }: { run: Run; piece: RunPiece }) {
  const format = useFormat()
  const c = p.cooling
  const late = c && !c.last && Date.parse(run.now) > Date.parse(c.first_by)
  return (
    <div className="grid gap-1">
      <p className="flex flex-wrap items-center gap-x-3">
        <Link to="/pieces/$id" params={{ id: String(p.id) }} className="tag">
          {p.tag}
        </Link>
        <span className="figures grow">
          {p.weighed ? format.mass(p.mass_g) : 'taken out, not weighed'}
          {p.record && `, ${format.heat(p.record.celsius)} inside`}
          {p.left && `, ${format.moment(p.left)}`}
        </span>
      </p>
      {c && (
        <>
          <p className={`figures ${late ? 'font-semibold text-stop' : ''}`}>
            Cool it to {format.heat(26.7)} by {format.clock(c.first_by)} and to {format.heat(c.cold_c)} by{' '}
            {format.moment(c.cold_by)}
            {c.cured ? ' (cured with an accelerator)' : ''}: into the fridge as soon as it stops steaming.
            {c.last ? ` Read: ${c.last}.` : late ? ' Nobody read it yet.' : ''}
          </p>
          {p.firm_from && (
            <p className="figures text-soft">
              Firm enough to slice from {format.moment(p.firm_from)} on; better after two or three days.
            </p>
          )}
          <Rest piece={p} />
          <Cooling run={run} piece={p} />
        </>
      )}
    </div>
  )
}

function useWrite() {
  const pull = usePull()
  const [last, setLast] = useState<{ act: ActAsk; done: () => void }>()
  const send = (act: ActAsk, done: () => void, keep = false) => {
    setLast({ act, done })
    pull.mutate({ acts: [act], keep_as_typed: keep }, { onSuccess: done })
  }
  return {
    pull,
    send,
    keep: () => last && send(last.act, last.done, true),
    wrong: (field: string) => (pull.error ? problemOf(pull.error).field(field) : undefined),
  }
}

function Rest({ piece }: { piece: RunPiece }) {
  const { pull, send, keep, wrong } = useWrite()
  const format = useFormat()
  const [peak, setPeak] = useState('')
  const [rest, setRest] = useState('')
  const [done, setDone] = useState(false)
  return (
    <details className="no-print">
      <summary className="quiet">Rested: what it still came to</summary>
      <form
        aria-label={`Rest of ${piece.tag}`}
        className="grid gap-x-3 sm:grid-cols-[1fr_1fr_auto]"
        onSubmit={(e) => {
          e.preventDefault()
          send({ act: 'rested', piece: piece.id, peak, rest: rest || null }, () => {
            setPeak('')
            setRest('')
            setDone(true)
          })
        }}
      >
        <AmountField
          label={`Peak of ${piece.tag}`}
          quantity="temperature"
          value={peak}
          onChange={setPeak}
          error={wrong('peak')}
          hint={
            piece.cooling?.peak
              ? `its probe said ${format.heat(piece.cooling.peak.celsius)} at most`
              : 'two to five degrees more are usual'
          }
        />
        <TextField label="Rested for" value={rest} onChange={setRest} hint="10 min" error={wrong('rest')} />
        <button type="submit" className="press press-main bench mb-6 sm:mt-7" disabled={pull.isPending || peak.trim() === ''}>
          Write it down
        </button>
      </form>
      {pull.error != null && <Refused error={pull.error} onKeep={keep} busy={pull.isPending} />}
      {done && <p role="status">Written down.</p>}
    </details>
  )
}

function Cooling({ run, piece }: { run: Run; piece: RunPiece }) {
  const { pull, send, keep, wrong } = useWrite()
  const [inside, setInside] = useState('')
  const [done, setDone] = useState(false)
  const since = piece.cooling ? (Date.parse(run.now) - Date.parse(piece.cooling.since)) / 3_600_000 : 0
  const [hours, setHours] = useState('')
  return (
    <details className="no-print">
      <summary className="quiet">Read while it cools</summary>
      <form
        aria-label={`Cooling of ${piece.tag}`}
        className="grid gap-x-3 sm:grid-cols-[1fr_1fr_auto]"
        onSubmit={(e) => {
          e.preventDefault()
          send({ act: 'cooled', piece: piece.id, inside, hours: hours || Number(since.toFixed(2)) }, () => {
            setInside('')
            setHours('')
            setDone(true)
          })
        }}
      >
        <AmountField
          label={`Inside ${piece.tag}`}
          quantity="temperature"
          value={inside}
          onChange={setInside}
          error={wrong('inside')}
        />
        <TextField
          label="Hours after the heat"
          value={hours}
          onChange={setHours}
          hint={`Left empty: now, ${since.toFixed(1)} h`}
          error={wrong('hours')}
        />
        <button type="submit" className="press press-main bench mb-6 sm:mt-7" disabled={pull.isPending || inside.trim() === ''}>
          Write it down
        </button>
      </form>
      {pull.error != null && <Refused error={pull.error} onKeep={keep} busy={pull.isPending} />}
      {done && <p role="status">Written down.</p>}
    </details>
  )
}
