import { useState } from 'react'
import { Link } from '@tanstack/react-router'
import type { Run, RunPiece } from '../../../api/runs'
import { AmountField, Choice, Select } from '../../../kit/Fields'
import { Findings } from '../../../kit/States'
import { useFormat } from '../../../units'
import { useDoing } from './act'
import { Pull } from './Pull'
import { Refusal } from './Refusal'
import { said } from './Smoker'

type What = 'pull' | 'check' | 'probe' | 'move'

/** What one does with the piece at hand: pull it, check it, set its probe, move it. */
export function PieceActions({ run, piece: p }: { run: Run; piece: RunPiece }) {
  const format = useFormat()
  const [what, setWhat] = useState<What>('pull')
  return (
    <section aria-label={`Piece ${p.tag}`} className="table-top grid content-start gap-3 p-3">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2>
          <Link to="/pieces/$id" params={{ id: String(p.id) }} className="tag">
            {p.tag}
          </Link>{' '}
          {p.build_name}
        </h2>
        <p className="figures">
          {format.mass(p.mass_g)}
          {p.thickness_mm != null && `, ${format.length(p.thickness_mm)} thick`}
        </p>
      </div>
      <dl className="figures grid grid-cols-[auto_1fr] gap-x-4">
        <dt className="text-soft">Mark</dt>
        <dd>
          {format.heat(p.mark_c)}: {p.mark_why}
          {p.target_c > p.mark_c + 0.05 && `; ready to eat from ${format.heat(p.target_c)}`}
        </dd>
        {!p.left && (
          <>
            <dt className="text-soft">Done</dt>
            <dd>{said(p, run.now, format.clock) || 'nothing to tell it by'}</dd>
          </>
        )}
        {p.warm_up && (
          <>
            <dt className="text-soft">Warm hours</dt>
            <dd className={p.warm_up.over ? 'font-semibold text-stop' : ''}>
              {hours(p.warm_up.minutes)} of at most {hours(p.warm_up.limit_minutes)}
              {p.warm_up.dried_warm && ', without the time over 46 °C'}
            </dd>
          </>
        )}
        {p.kill && (
          <>
            <dt className="text-soft">Heat did</dt>
            <dd>
              {p.kill.said} powers of ten of salmonella
              <span className="text-soft">; to know, not to stop under the mark by</span>
            </dd>
          </>
        )}
      </dl>
      <Findings list={p.forecast.findings.filter((f) => ['stall', 'chamber_below_target', 'hotter_later'].includes(f.code))} />
      {p.faults.length > 0 && (
        <ul className="text-[0.95rem]">
          {p.faults.map((f) => (
            <li key={f.probe + f.from}>
              Probe {f.probe} {f.said}: {format.heat(f.saw_c)} at {format.clock(f.from)}
              {f.until ? `, until ${format.clock(f.until)}` : ''}; left out.
            </li>
          ))}
        </ul>
      )}
      {!run.ended && !p.left && (
        <>
          <Choice
            label="What is done with it"
            value={what}
            onChange={setWhat}
            options={[
              { value: 'pull', label: 'Pull' },
              { value: 'check', label: 'Check' },
              { value: 'probe', label: 'Probe' },
              { value: 'move', label: 'Move' },
            ]}
          />
          {what === 'pull' && <Pull key={p.id} run={run} first={p} />}
          {what === 'check' && <Check key={p.id} run={run} piece={p} />}
          {what === 'probe' && <SetProbe key={p.id} run={run} piece={p} />}
          {what === 'move' && <Move key={p.id} run={run} piece={p} />}
        </>
      )}
      {p.kept.length > 0 && (
        <details>
          <summary className="quiet">What was asked when it was laid in: {p.kept.length}</summary>
          <Findings list={p.kept} />
        </details>
      )}
    </section>
  )
}

export const hours = (minutes: number) => {
  const m = Math.round(minutes)
  return m < 60 ? `${m} min` : `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, '0')} min`
}

function Check({ run, piece }: { run: Run; piece: RunPiece }) {
  const doing = useDoing(run)
  const [spots, setSpots] = useState(['', '', ''])
  const [done, setDone] = useState(false)
  return (
    <form
      aria-label={`Check ${piece.tag}`}
      className="grid gap-1"
      onSubmit={(e) => {
        e.preventDefault()
        doing.act([{ act: 'spot_checked', piece: piece.id, read: spots }], () => {
          setSpots(['', '', ''])
          setDone(true)
        })
      }}
    >
      <p className="text-soft">The thickest part, two or three places, off the bone. The coldest decides.</p>
      <div className="grid gap-x-3 sm:grid-cols-3">
        {spots.map((s, i) => (
          <AmountField
            key={i}
            label={`Place ${i + 1}`}
            quantity="temperature"
            value={s}
            onChange={(v) => {
              setDone(false)
              setSpots(spots.map((o, n) => (n === i ? v : o)))
            }}
            error={doing.wrong(`read[${i}]`) ?? (i === 0 ? doing.wrong('read') : undefined)}
          />
        ))}
      </div>
      <Refusal doing={doing} />
      {done && <p role="status">Written down.</p>}
      <button
        type="submit"
        className="press press-main bench justify-self-start"
        disabled={doing.busy || spots.every((s) => s.trim() === '')}
      >
        Write the check down
      </button>
    </form>
  )
}

function SetProbe({ run, piece }: { run: Run; piece: RunPiece }) {
  const doing = useDoing(run)
  const where = (no: number) => {
    const probe = run.probes.find((p) => p.no === no)
    if (probe?.piece != null) return `in ${run.pieces.find((p) => p.id === probe.piece)?.tag}`
    return probe?.zone ? `in the air of ${probe.zone}` : 'free'
  }
  const most = Math.max(4, ...run.probes.map((p) => p.no))
  const numbers = Array.from({ length: most + 1 }, (_, i) => i + 1)
  // The next one that sits nowhere: none is taken out of another piece unasked.
  const free = numbers.find((n) => where(n) === 'free') ?? most
  const [no, setNo] = useState(String(piece.probe ?? free))
  const sits = run.pieces.find((p) => p.id !== piece.id && p.id === run.probes.find((q) => q.no === Number(no))?.piece)
  return (
    <div className="grid gap-1">
      <Select
        label="Which probe"
        value={no}
        onChange={setNo}
        hint={
          sits ? `It comes out of ${sits.tag}, which has none then.` : 'Into the middle of the thickest part, not on the bone.'
        }
      >
        {numbers.slice(0, Math.max(most, free)).map((n) => (
          <option key={n} value={n}>
            probe {n}, {where(n)}
          </option>
        ))}
      </Select>
      <Refusal doing={doing} />
      <p className="flex flex-wrap gap-2">
        <button
          type="button"
          className="press press-main bench"
          disabled={doing.busy}
          onClick={() => {
            const out = piece.probe && piece.probe !== Number(no) ? [{ act: 'probe_set' as const, probe: piece.probe }] : []
            doing.act([...out, { act: 'probe_set', probe: Number(no), piece: piece.id }])
          }}
        >
          {piece.probe === Number(no) ? `Set probe ${no} anew` : `Set probe ${no} into ${piece.tag}`}
        </button>
        {piece.probe && (
          <button
            type="button"
            className="press bench"
            disabled={doing.busy}
            onClick={() => piece.probe && doing.act([{ act: 'probe_set', probe: piece.probe }])}
          >
            Take probe {piece.probe} out
          </button>
        )}
      </p>
    </div>
  )
}

function Move({ run, piece }: { run: Run; piece: RunPiece }) {
  const doing = useDoing(run)
  const [zone, setZone] = useState(piece.zone)
  const [shelf, setShelf] = useState(String(piece.shelf ?? 1))
  const others = run.pieces.filter((p) => !p.left && p.id !== piece.id)
  const [other, setOther] = useState('')
  const shelves = Math.max(1, run.shelves ?? 1, piece.shelf ?? 1)
  return (
    <div className="grid gap-2">
      <div className="grid gap-x-3 sm:grid-cols-2">
        <Select label="Zone" value={zone} onChange={setZone}>
          {run.zones.map((z) => (
            <option key={z.name}>{z.name}</option>
          ))}
        </Select>
        <Select label="Shelf, from the top" value={shelf} onChange={setShelf}>
          {Array.from({ length: Math.max(shelves, 4) }, (_, i) => i + 1).map((n) => (
            <option key={n}>{n}</option>
          ))}
        </Select>
      </div>
      <button
        type="button"
        className="press bench justify-self-start"
        disabled={doing.busy}
        onClick={() => doing.act([{ act: 'loaded', piece: piece.id, zone, shelf: Number(shelf) }])}
      >
        Lay it there
      </button>
      {others.length > 0 && (
        <div className="grid items-end gap-x-3 sm:grid-cols-[1fr_auto]">
          <Select label="Or change places with" value={other} onChange={setOther}>
            <option value="">choose a piece</option>
            {others.map((p) => (
              <option key={p.id} value={p.id}>
                {p.tag}, {p.zone}
              </option>
            ))}
          </Select>
          <button
            type="button"
            className="press bench mb-6"
            disabled={doing.busy || other === ''}
            onClick={() => doing.act([{ act: 'swapped', piece: piece.id, with: Number(other) }], () => setOther(''))}
          >
            Swap
          </button>
        </div>
      )}
      <button
        type="button"
        className="quiet justify-self-start"
        disabled={doing.busy}
        onClick={() => doing.act([{ act: 'taken_out', piece: piece.id }])}
      >
        Take it out without weighing: it goes on another day
      </button>
      <Refusal doing={doing} />
    </div>
  )
}
