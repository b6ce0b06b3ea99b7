import { Thermometer } from 'lucide-react'
import type { Run, RunPiece } from '../../../api/runs'
import { useFormat } from '../../../units'

/** From the fridge on a piece fills up to its mark. */
const FRIDGE_C = 4

interface Props {
  run: Run
  chosen?: number
  onChoose: (piece: number) => void
}

/** How long ago something was read, in words. */
function age(at: string, now: string) {
  const minutes = Math.max(0, Math.round((Date.parse(now) - Date.parse(at)) / 60_000))
  if (minutes < 90) return `${minutes} min`
  return `${Math.round(minutes / 60)} h`
}

/** The smoker as it is: zones beside each other, shelves under each other, each piece as warm as it is known to be. */
export function Smoker({ run, chosen, onChoose }: Props) {
  const format = useFormat()
  const here = run.pieces.filter((p) => !p.left)
  if (here.length === 0)
    return (
      <p className="hatch table-top p-6 text-soft">{run.ended ? 'It is over; nothing lies in it.' : 'Nothing lies in it now.'}</p>
    )
  const shelves = Math.max(1, run.shelves ?? 1, ...here.map((p) => p.shelf ?? 1))
  return (
    <section aria-label={run.name} className="grid gap-2 border-2 border-edge bg-table p-2 sm:auto-cols-fr sm:grid-flow-col">
      {run.zones.map((z) => {
        const inZone = here.filter((p) => p.zone === z.name)
        return (
          <div key={z.name} className="grid content-start gap-1">
            <p className="flex items-baseline justify-between gap-2 px-1">
              <span className="font-semibold">{z.name}</span>
              <span className="figures">
                {z.chamber ? (
                  <>
                    <strong className="text-2xl">{format.heat(z.chamber.celsius)}</strong>{' '}
                    <span className="text-[0.92rem] text-soft">{format.clock(z.chamber.at)}</span>
                  </>
                ) : (
                  <span className="text-soft">not measured</span>
                )}
              </span>
            </p>
            {Array.from({ length: shelves }, (_, i) => i + 1).map((shelf) => {
              const on = inZone.filter((p) => (p.shelf ?? 1) === shelf)
              return (
                <div key={shelf} className="grid min-h-6 gap-1 border-b-4 border-bone pb-0.5">
                  {on.map((p) => (
                    <Block key={p.id} piece={p} now={run.now} isChosen={chosen === p.id} onChoose={() => onChoose(p.id)} />
                  ))}
                </div>
              )
            })}
          </div>
        )
      })}
    </section>
  )
}

function Block({ piece: p, now, isChosen, onChoose }: { piece: RunPiece; now: string; isChosen: boolean; onChoose: () => void }) {
  const format = useFormat()
  const inside = p.fresh ? p.inside?.celsius : undefined
  const known = inside ?? (p.range_low_c != null ? p.range_low_c : undefined)
  const share = known === undefined ? 0 : Math.min(1, Math.max(0, (known - FRIDGE_C) / (p.mark_c - FRIDGE_C)))
  const isThere = inside !== undefined && inside >= p.mark_c - 0.05
  return (
    <button
      type="button"
      aria-pressed={isChosen}
      onClick={onChoose}
      className={`relative isolate overflow-hidden border-2 p-2 text-left ${isChosen ? 'border-violet' : 'border-line'}`}
    >
      <span
        aria-hidden
        className={`absolute inset-y-0 left-0 -z-10 ${isThere ? 'bg-good-wash' : 'bg-caution-wash'}`}
        style={{ width: `${share * 100}%` }}
      />
      <span className="flex flex-wrap items-center justify-between gap-x-3">
        <span className="flex items-center gap-2">
          <span className="tag">{p.tag}</span>
          {p.comes_off && <span className="figures text-[0.95rem] text-soft">off {ordinal(p.comes_off)}</span>}
        </span>
        <span className="figures flex items-center gap-1 text-[0.95rem]">
          {p.probe ? (
            <>
              <Thermometer size={16} aria-hidden /> probe {p.probe}
            </>
          ) : (
            <span className="text-soft">no probe</span>
          )}
        </span>
      </span>
      <span className="flex flex-wrap items-baseline justify-between gap-x-3">
        <span className="figures">
          {inside !== undefined ? (
            <strong className="text-3xl">{format.heat(inside)}</strong>
          ) : p.range_low_c != null && p.range_high_c != null ? (
            <>
              <strong className="text-2xl">
                {format.heat(p.range_low_c)} to {format.heat(p.range_high_c)}
              </strong>{' '}
              <span className="text-[0.92rem] text-soft">by its neighbours</span>
            </>
          ) : (
            <strong className="text-2xl text-soft">not known</strong>
          )}
          {inside === undefined && p.inside && (
            <span className="block text-[0.92rem] text-soft">
              {format.heat(p.inside.celsius)} was read {age(p.inside.at, now)} ago
            </span>
          )}
        </span>
        <span className="figures text-right">
          to {format.heat(p.mark_c)}
          <span className="block text-[0.95rem]">{said(p, now, format.clock)}</span>
        </span>
      </span>
      {p.faults.some((f) => !f.until) && (
        <span className="block text-[0.95rem] font-semibold text-stop">{p.faults.find((f) => !f.until)?.said}</span>
      )}
      {p.over_chamber && (
        <span className="block text-[0.95rem] font-semibold text-stop">
          warmer inside than its zone ever was: look at the probe
        </span>
      )}
      {p.warm_up?.over && <span className="block text-[0.95rem] font-semibold text-stop">too long in the warm hours</span>}
    </button>
  )
}

/** When it will be done, as far as anything can be told. */
export function said(p: RunPiece, now: string, clock: (at: string) => string): string {
  const f = p.forecast
  if (f.reached) return `there since ${clock(f.reached)}`
  if (f.stalled) return 'stands still: it sweats'
  if (f.low && f.high) {
    const [low, high] = [Math.max(Date.parse(f.low), Date.parse(now)), Date.parse(f.high)]
    if (high - low > 12 * 3_600_000) return 'not before long'
    return clock(new Date(low).toISOString()) === clock(f.high)
      ? `at ${clock(f.high)}`
      : `${clock(new Date(low).toISOString())} to ${clock(f.high)}`
  }
  if (f.findings.some((n) => n.code === 'chamber_below_target')) return 'never in this chamber'
  if (f.findings.some((n) => n.code === 'hotter_later')) return 'in a hotter stage'
  if (f.findings.some((n) => n.code === 'too_few_readings')) return 'too early to tell'
  return ''
}

const ordinal = (n: number) => (n === 1 ? 'first' : n === 2 ? 'second' : n === 3 ? 'third' : `${n}th`)
