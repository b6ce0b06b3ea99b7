import { Link } from '@tanstack/react-router'
import { Check, ChevronDown } from 'lucide-react'
import { type ReactNode, useEffect, useState } from 'react'
import type { ActAsk } from '../../api/client'
import { useMarks } from '../../api/marks'
import { type Settled, useSettled } from '../../kit/settled'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { AskedAbout } from '../weigh/AskedAbout'
import { taskStation } from '../words'
import { Grades } from './Grades'
import { RowNote } from './RowNote'
import { SetTimer } from './SetTimer'
import { type Chip, chipName, doneWords, goWords, inChip, type Row, rowWords, tick } from './words'

interface Props {
  row: Row
  name: string
  number: number
  isGone: boolean
  onTouched: () => void
}

/** The same thing to do with several: all at once, or all but these. */
export function TripRow({ row, name, number, isGone, onTouched }: Props) {
  const marks = useMarks(`today-${name}`)
  const list = useSettled(isGone ? [] : row.chips, (c) => c.piece)
  const [out, setOut] = useState<ReadonlySet<number>>(new Set())
  const [isOpen, setOpen] = useState(false)
  const open = list.rows.filter((r) => !r.isDone && !r.isGone)
  const chosen = open.filter((r) => !out.has(r.row.piece)).map((r) => r.row)
  const write = (chips: Chip[], acts: (chip: Chip) => ActAsk[], said: string) => {
    const ids = chips.map((c) => c.piece)
    list.mark(ids)
    onTouched()
    marks.write(
      chips.map((c) => ({ id: c.piece, acts: acts(c) })),
      `${said} ${chips.map(inChip).join(', ')}`,
    )
    setOut(new Set())
  }
  useEffect(() => marks.onRefused((ids) => list.unmark(ids)))
  const isTicked = row.chips.some((c) => tick(row, c))
  const toggle = (piece: number) => setOut((o) => new Set(o.has(piece) ? [...o].filter((p) => p !== piece) : [...o, piece]))
  if (list.rows.length === 0) return null
  const said = row.kind === 'turn' ? 'turned' : row.kind === 'thaw' ? 'taken out' : ((row.step && doneWords[row.step]) ?? 'done')
  const isSlice = row.step === 'test_slice'
  const left = open.map((r) => r.row)
  const more = hasMore(row)
  const grades = <Grades row={row} count={chosen.length} onGrade={(acts, said) => write(chosen, acts, said)} />
  return (
    <li className="grid gap-1 px-2.5 py-1.5 sm:px-3">
      <div className="flex items-center justify-between gap-x-2">
        <p className="min-w-0 font-semibold">
          {number < 10 && (
            <kbd
              aria-hidden
              className="figures mr-2 hidden min-w-6 border border-line px-1 text-center text-soft lg:inline-block"
            >
              {number}
            </kbd>
          )}
          {rowWords(row)}
          <Late chips={left} />
        </p>
        <span className="shrink-0">
          {open.length === 0 ? (
            <span className="flex min-h-11 items-center gap-1.5 font-semibold text-good" role="status">
              <Check size={18} aria-hidden /> done
            </span>
          ) : isTicked && !isSlice ? (
            <button
              type="button"
              data-digit={number}
              className="press press-main"
              disabled={chosen.length === 0}
              onClick={() => write(chosen, (c) => tick(row, c) ?? [], said)}
            >
              <Check size={20} aria-hidden /> {howMany(chosen.length, open.length)} {said}
              <span className="sr-only">: {rowWords(row)}</span>
            </button>
          ) : isSlice ? null : (
            <Go row={row} chips={left} number={number} />
          )}
        </span>
      </div>
      <ul
        className={`flex min-w-0 flex-wrap items-center gap-x-2 ${isOpen ? '' : 'max-sm:[&>li:nth-child(n+7):not(.always)]:hidden'}`}
        aria-label={rowWords(row)}
      >
        {list.rows.map((r) => (
          <ChipItem
            key={r.row.piece}
            item={r}
            row={row}
            isOut={out.has(r.row.piece)}
            onToggle={isTicked && open.length > 1 ? () => toggle(r.row.piece) : undefined}
            undo={
              <button type="button" className="quiet" onClick={() => marks.undo(r.row.piece, () => list.unmark([r.row.piece]))}>
                Undo<span className="sr-only"> {r.row.tag}</span>
              </button>
            }
          />
        ))}
        {!isOpen && list.rows.length > 6 && (
          <li className="always sm:hidden">
            <button type="button" className="quiet" onClick={() => setOpen(true)}>
              and {list.rows.length - 6} more
            </button>
          </li>
        )}
        {row.in_all > row.chips.length && (
          <li className="always text-[0.95rem] text-soft">and {row.in_all - row.chips.length} more after these</li>
        )}
        {open.length > 0 && (
          <li className="always">
            <button
              type="button"
              aria-expanded={isOpen}
              className="inline-flex min-h-11 items-center gap-1 px-1 text-[0.95rem] font-semibold text-violet"
              onClick={() => setOpen(!isOpen)}
            >
              {more}
              <span className="sr-only">: {rowWords(row)}</span>
              <ChevronDown size={18} aria-hidden className={isOpen ? 'rotate-180' : ''} />
            </button>
          </li>
        )}
      </ul>
      {open.length > 0 && (
        <>
          <Because chips={left} />
          {isSlice && grades}
          {isOpen && (
            <div className="grid gap-2 pb-1.5">
              {row.words && <p className="text-[0.95rem] text-soft">{row.words}</p>}
              {!isSlice && grades}
              <Waits chips={left} />
              <div className="flex flex-wrap items-start gap-x-2">
                <SetTimer row={row} chips={chosen} />
                <RowNote chips={isTicked ? chosen : left} owner={`today-${name}`} />
              </div>
            </div>
          )}
        </>
      )}
      <AskedAbout list={marks.refused} />
    </li>
  )
}

/** What the rest of a line holds, in a word. */
function hasMore(row: Row) {
  if (row.timer_min != null) return 'Time it'
  return (row.asks ?? []).length > 0 ? 'Look' : 'More'
}

function howMany(chosen: number, all: number) {
  if (chosen === all) return all === 1 ? '' : `All ${all}`
  return `${chosen} of ${all}`
}

/** Since when it waits: said calmly, and plainly. */
function Late({ chips }: { chips: Chip[] }) {
  const format = useFormat()
  const late = chips.filter((c) => c.late)
  const carried = chips.filter((c) => c.since && !c.late)
  const first = (list: Chip[]) =>
    list
      .map((c) => c.since)
      .filter(Boolean)
      .sort()[0]
  const [lateSince, carriedSince] = [first(late), first(carried)]
  return (
    <span className="text-[0.95rem] font-normal">
      {late.length > 0 && (
        <span className="text-stop">
          {' '}
          · overdue{lateSince && <> since {format.short(lateSince)}</>}
          {late.length < chips.length && <> ({late.length})</>}
        </span>
      )}
      {late.length === 0 && carriedSince && <span className="text-caution"> · since {format.short(carriedSince)}</span>}
    </span>
  )
}

/** What the day follows that is not usual. */
function Because({ chips }: { chips: Chip[] }) {
  const why = chips.filter((c) => c.because)
  if (why.length === 0) return null
  return (
    <p className="text-[0.95rem] text-soft">
      {why.map((c) => (
        <span key={c.piece}>
          <span className="figures">{c.tag}</span>: {c.because}.{' '}
        </span>
      ))}
    </p>
  )
}

/** How long it can wait. */
function Waits({ chips }: { chips: Chip[] }) {
  const format = useFormat()
  const days = chips.map((c) => c.latest).filter((d): d is string => d != null)
  const soonest = days.length === chips.length ? days.sort()[0] : undefined
  if (!soonest) return null
  return <p className="text-[0.95rem] text-soft">Can wait until {format.until(soonest)}.</p>
}

/** The way to the scale, with the first of them at hand. */
function Go({ row, chips, number }: { row: Row; chips: Chip[]; number: number }) {
  const first = chips[0]
  if (!first) return null
  const words = (
    <>
      {row.kind === 'by_hand' || row.kind === 'turn' ? 'See to' : goWords[row.kind]} {chips.length > 1 ? chips.length : first.tag}
    </>
  )
  const common = { className: 'press press-main', 'data-digit': number }
  if (row.kind === 'by_hand' || row.kind === 'turn' || row.kind === 'discard')
    return (
      <Link to="/pieces/$id" params={{ id: String(first.piece) }} {...common}>
        {words}
      </Link>
    )
  return (
    <Link to={taskStation[row.kind]} search={{ piece: first.piece }} {...common}>
      {words}
    </Link>
  )
}

interface ChipProps {
  item: Settled<Chip>
  row: Row
  isOut: boolean
  onToggle?: () => void
  undo: ReactNode
}

/** A piece or vessel in its line: a tap leaves it out. */
function ChipItem({ item, row, isOut, onToggle, undo }: ChipProps) {
  const { row: chip, isDone, isGone } = item
  const format = useFormat()
  const inside = (
    <span className="figures">
      {chipName(chip)}
      {(chip.with_tags ?? []).length > 0 && (
        <span className="text-[0.92rem]">
          {chip.vessel_name ? `: ${inChip(chip)}` : ` + ${(chip.with_tags ?? []).join(', ')}`}
        </span>
      )}
    </span>
  )
  if (isDone || isGone)
    return (
      <li className="flex items-center gap-1 text-good">
        <Check size={17} aria-hidden /> {inside} {isDone && undo}
      </li>
    )
  const hour = chip.hours && !chip.late && !chip.since && (
    <span className="figures ml-1 text-[0.92rem] text-soft">
      {row.kind === 'out_of_cure' ? 'at' : 'from'}{' '}
      {format.clock(row.kind === 'out_of_cure' ? chip.hours.due : chip.hours.earliest)}
    </span>
  )
  if (!onToggle)
    return (
      <li>
        <PieceTag id={chip.piece} tag={chip.tag} />
        {(chip.with_tags ?? []).length > 0 && (
          <span className="figures text-[0.92rem] text-soft">
            {' '}
            {chip.vessel_name ?? 'one vessel'}, with {(chip.with_tags ?? []).join(', ')}
          </span>
        )}
        {hour}
      </li>
    )
  return (
    <li>
      <button
        type="button"
        aria-pressed={!isOut}
        className={`inline-flex min-h-11 items-center ${isOut ? 'line-through opacity-60' : ''}`}
        onClick={onToggle}
      >
        <span className={`tag ${isOut ? '' : 'tag-held'}`}>{inside}</span>
      </button>
      {hour}
    </li>
  )
}
