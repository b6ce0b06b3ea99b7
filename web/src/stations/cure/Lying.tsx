import { Link } from '@tanstack/react-router'
import { Check } from 'lucide-react'
import { useEffect, useState } from 'react'
import { type ActAsk, type PieceCard, problemOf } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useMarks } from '../../api/marks'
import { useTimers } from '../../api/timers'
import { AmountField, TextField, Tick } from '../../kit/Fields'
import { type Settled, useSettled } from '../../kit/settled'
import { Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { AskedAbout } from '../weigh/AskedAbout'

/** Pieces that lie in one vessel, or one by itself. */
interface Vessel {
  id: number
  first: PieceCard
  pieces: PieceCard[]
}

/** The pieces by vessel, each where its first piece stands. */
function byVessel(pieces: PieceCard[]): Vessel[] {
  const found: Vessel[] = []
  for (const p of pieces) {
    const mates = p.cure?.vessel?.pieces ?? []
    const there = found.find((v) => mates.includes(v.first.id))
    if (there) there.pieces.push(p)
    else found.push({ id: p.id, first: p, pieces: [p] })
  }
  return found
}

/** What lies in cure, vessel by vessel: how far along, what is done to all of it, and when each piece comes out. */
export function Lying({ pieces }: { pieces: PieceCard[] }) {
  const marks = useMarks('turned')
  const list = useSettled(byVessel(pieces), (v) => v.id)
  const turn = (v: Vessel, under: boolean | null) => {
    list.mark([v.id])
    const turned = (p: PieceCard): ActAsk => ({ act: 'turned', piece: p.id, nothing_floats: under })
    marks.write([{ id: v.id, acts: v.pieces.map(turned) }], `turned ${v.pieces.map((p) => p.tag).join(', ')}`)
  }
  useEffect(() => marks.onRefused((ids) => list.unmark(ids)))
  return (
    <section aria-label="In cure" data-beside-sheet>
      <h2 className="mb-1.5">In cure</h2>
      <AskedAbout list={marks.refused} />
      <ul className="table-top divide-y divide-line" {...list.area}>
        {list.rows.map((row) => (
          <OneVessel
            key={row.row.id}
            settled={row}
            onTurn={turn}
            onUndo={() => marks.undo(row.row.id, () => list.unmark([row.row.id]))}
          />
        ))}
      </ul>
    </section>
  )
}

interface OneProps {
  settled: Settled<Vessel>
  onTurn: (v: Vessel, under: boolean | null) => void
  onUndo: () => void
}

function OneVessel({ settled, onTurn, onUndo }: OneProps) {
  const { row: v, isDone, isGone } = settled
  // What nobody looked at is not said.
  const [under, setUnder] = useState(false)
  const { first } = v
  const vessel = first.cure?.vessel
  const isShared = v.pieces.length > 1
  const inBrine = first.cure?.in_brine ?? false
  const name = vessel?.name ?? (isShared ? v.pieces.map((p) => p.tag).join(', ') : first.tag)
  const isBox = first.cure?.hours != null
  return (
    <li className="grid gap-2 p-3">
      {(isShared || vessel?.name) && (
        <p className="font-semibold">
          {vessel?.name ?? (inBrine ? 'In one brine' : isBox ? 'In one dish' : 'In one bag')}{' '}
          {(vessel?.layers ?? 1) > 1 && <span className="font-normal text-soft">in {vessel?.layers} layers: swap them</span>}
        </p>
      )}
      <ul className="grid gap-2">
        {v.pieces.map((p) => (
          <InVessel key={p.id} piece={p} />
        ))}
      </ul>
      {vessel?.turning && <p className="text-[0.95rem] text-soft">{vessel.turning}</p>}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        {isGone ? (
          <span className="flex min-h-11 items-center text-soft">no longer in cure</span>
        ) : isDone ? (
          <>
            <span className="flex min-h-11 min-w-24 items-center gap-1.5 text-good">
              <Check size={18} aria-hidden /> turned
            </span>
            <button type="button" className="quiet" onClick={onUndo}>
              Undo<span className="sr-only"> turning {name}</span>
            </button>
          </>
        ) : (
          !isBox && (
            <>
              {inBrine && <Tick label="Nothing floats" checked={under} onChange={setUnder} />}
              <button type="button" className="press min-w-24" onClick={() => onTurn(v, under || null)}>
                {inBrine ? 'Stirred' : 'Turned'}
                <span className="sr-only"> {name}</span>
              </button>
            </>
          )
        )}
        {inBrine && !isGone && <TopUp piece={first} name={name} />}
        {isShared && !isGone && <AllOut pieces={v.pieces} name={name} />}
      </div>
    </li>
  )
}

/** One piece in its vessel: its own days, or the hours left in the salt. */
function InVessel({ piece: p }: { piece: PieceCard }) {
  const format = useFormat()
  const cure = p.cure
  if (!cure) return null
  const days = cure.days ?? 0
  const done = days > 0 ? Math.min(1, cure.counted_day / days) : 0
  const isBetween = cure.uptake && Math.abs(cure.uptake.pickup - cure.uptake.equilibrium) > 1
  return (
    <li className="grid gap-x-4 gap-y-1.5 sm:grid-cols-[8rem_1fr_auto] sm:items-center">
      <div>
        <PieceTag id={p.id} tag={p.tag} />
      </div>
      <div>
        <p className="flex flex-wrap justify-between gap-x-3">
          <span className="font-semibold">{p.build_name}</span>
          <span className="figures">{format.mass(p.mass_g)}</span>
        </p>
        {cure.out_at ? (
          <HoursLeft piece={p} />
        ) : (
          <div className="relative my-1 h-3 border border-edge bg-steel" aria-hidden>
            <div className="h-full bg-violet" style={{ width: `${done * 100}%` }} />
          </div>
        )}
        <p className="text-[0.95rem] text-soft">
          {cure.out_at ? (
            <>out at {format.moment(cure.out_at)} · </>
          ) : (
            <>
              day <span className="figures">{cure.counted_day}</span> of <span className="figures">{cure.days ?? '?'}</span> · out{' '}
              {cure.out_on ? format.day(cure.out_on) : 'when its thickness is known'} ·{' '}
            </>
          )}
          {cure.nitrite_ppm == null ? (
            <strong className="text-caution">dose unknown</strong>
          ) : cure.out_at && cure.nitrite_ppm === 0 ? (
            'salt by the hours'
          ) : (
            <>
              <span className={`figures ${p.overridden ? 'font-bold text-stop' : ''}`}>
                {isBetween && cure.uptake
                  ? `${cure.uptake.pickup.toFixed(0)} to ${cure.uptake.equilibrium.toFixed(0)} ppm`
                  : `${cure.nitrite_ppm.toFixed(0)} ppm`}
              </span>{' '}
              nitrite
            </>
          )}
          {cure.vessel?.by_eye && cure.salt_g_per_kg != null && (
            <>
              {' '}
              and <span className="figures">{cure.salt_g_per_kg.toFixed(0)} g/kg</span> salt, poured by eye
            </>
          )}
          {p.overridden && ', past a stop'}
          {cure.waits === 'deadline' && !cure.out_at && ' · to the day: longer is saltier'}
        </p>
      </div>
      <Link to="/cure" search={{ piece: p.id }} className="press">
        Take out<span className="sr-only"> {p.tag}</span>
      </Link>
    </li>
  )
}

const TURN = 2 * Math.PI * 20

/** Hours left in the salt, as a ring that empties. */
function HoursLeft({ piece }: { piece: PieceCard }) {
  const { now } = useTimers()
  const cure = piece.cure
  if (!cure?.out_at || !cure.hours) return null
  const left = (Date.parse(cure.out_at) - now) / 3_600_000
  const part = Math.max(0, Math.min(1, left / cure.hours))
  const said = Math.abs(left) >= 1 ? `${Math.abs(left).toFixed(1)} h` : `${Math.round(Math.abs(left) * 60)} min`
  return (
    <p className={`flex items-center gap-2 ${left < 0 ? 'font-semibold text-caution' : ''}`}>
      <svg viewBox="0 0 48 48" className="h-12 w-12" aria-hidden>
        <circle cx={24} cy={24} r={20} fill="none" stroke="var(--color-steel)" strokeWidth={7} />
        <circle
          cx={24}
          cy={24}
          r={20}
          fill="none"
          stroke="var(--color-violet)"
          strokeWidth={7}
          strokeDasharray={`${TURN * part} ${TURN}`}
          transform="rotate(-90 24 24)"
        />
      </svg>
      <span>
        <span className="figures text-2xl font-semibold">{said}</span>{' '}
        {left < 0 ? 'over its time: saltier with every hour' : 'left in the salt'}
      </span>
    </p>
  )
}

/** All pieces of a vessel on the scale at once: each gets its share by what it weighed. */
function AllOut({ pieces, name }: { pieces: PieceCard[]; name: string }) {
  const record = useRecord()
  const [reading, setReading] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  return (
    <details>
      <summary className="quiet">
        Take all {pieces.length} out<span className="sr-only"> of {name}</span>
      </summary>
      <form
        className="mt-1 grid gap-2"
        aria-label={`Take all out of ${name}`}
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate(
            {
              acts: [{ act: 'out_of_cure', pieces: pieces.map((p) => p.id), reading }],
              seen: pieces.map((p) => ({ piece: p.id, version: p.version })),
            },
            { onSuccess: () => setReading('') },
          )
        }}
      >
        <AmountField
          quantity="mass"
          label="Together they weigh"
          value={reading}
          onChange={setReading}
          hint="Rinsed and patted dry; each gets its share by what it weighed."
          error={wrong('reading')}
        />
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || reading.trim() === ''}>
          Write it down
        </button>
      </form>
    </details>
  )
}

/** Water, or whatever was missing, poured into a running brine. */
function TopUp({ piece, name }: { piece: PieceCard; name: string }) {
  const record = useRecord()
  const [water, setWater] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  return (
    <details>
      <summary className="quiet">
        Top it up<span className="sr-only">: {name}</span>
      </summary>
      <form
        className="mt-1 grid gap-2"
        aria-label={`Top up ${name}`}
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate({ acts: [{ act: 'topped_up', piece: piece.id, reading: water }] }, { onSuccess: () => setWater('') })
        }}
      >
        <TextField
          label="Water poured in"
          value={water}
          onChange={setWater}
          hint="500 ml, 2 cups; it counts as poured, and thins the brine for all in it."
          error={wrong('reading')}
        />
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || water.trim() === ''}>
          Write it down
        </button>
      </form>
    </details>
  )
}
