import { Droplets, Thermometer } from 'lucide-react'
import type { DryingPlace, HangSheet, Hook } from '../../api/hang'
import { percent, useFormat } from '../../units'

interface Props {
  sheet: HangSheet
  chosen?: number
  onChoose: (piece: number) => void
}

/** The rails as they are: each place with its air, under it what hangs there, from its first hook on. */
export function Rails({ sheet, chosen, onChoose }: Props) {
  const used = sheet.places.filter((p) => sheet.hooks.some((h) => h.place === p.id) || p.at)
  const nowhere = sheet.hooks.filter((h) => !sheet.places.some((p) => p.id === h.place))
  return (
    <div className="grid gap-6">
      {used.map((place) => (
        <section key={place.id} aria-label={place.name}>
          <AirLine place={place} />
          <Rail hooks={sheet.hooks.filter((h) => h.place === place.id)} chosen={chosen} onChoose={onChoose} />
        </section>
      ))}
      {nowhere.length > 0 && (
        <section aria-label="Hanging where nobody said">
          {used.length > 0 && <p className="mb-1 text-soft">Nobody said where these hang.</p>}
          <Rail hooks={nowhere} chosen={chosen} onChoose={onChoose} />
        </section>
      )}
    </div>
  )
}

/** A place with its air in one line. */
function AirLine({ place }: { place: DryingPlace }) {
  const format = useFormat()
  return (
    <p className="mb-1 flex flex-wrap items-baseline gap-x-3">
      <span className="font-semibold">{place.name}</span>
      {place.celsius != null && (
        <span className="figures inline-flex items-center gap-1">
          <Thermometer size={16} aria-hidden /> {format.heat(place.celsius)}
        </span>
      )}
      {place.humidity != null && (
        <span className="figures inline-flex items-center gap-1">
          <Droplets size={16} aria-hidden /> {percent(place.humidity, 0)}
        </span>
      )}
      <span className="text-[0.95rem] text-soft">
        {place.at ? `read ${format.moment(place.at)}` : 'its air was never read'}
        {place.day_humidity != null && place.day_celsius != null && (
          <>
            ; the last day <span className="figures">{format.heat(Math.round(place.day_celsius * 10) / 10)}</span>,{' '}
            <span className="figures">{percent(place.day_humidity, 0)}</span>
          </>
        )}
      </span>
      {place.findings.some((f) => f.severity !== 'info') && <span className="font-semibold text-caution">{airWord(place)}</span>}
    </p>
  )
}

function airWord(place: DryingPlace) {
  const has = (code: string) => place.findings.some((f) => f.code === code)
  if (has('air_too_warm')) return 'too warm'
  if (has('air_too_dry')) return 'too dry'
  return 'too damp'
}

function Rail({ hooks, chosen, onChoose }: { hooks: Hook[] } & Omit<Props, 'sheet'>) {
  if (hooks.length === 0) return <p className="border-t-[6px] border-edge py-3 text-soft">Nothing hangs here.</p>
  return (
    <ul className="flex flex-wrap gap-x-2 gap-y-4 border-t-[6px] border-edge">
      {hooks.map((hook) => (
        <li key={hook.id}>
          <HookButton hook={hook} isChosen={hook.id === chosen} onChoose={() => onChoose(hook.id)} />
        </li>
      ))}
    </ul>
  )
}

/** When it will be there, as short as it can be said. */
export function useWhen() {
  const format = useFormat()
  return (hook: Hook) => {
    if (hook.reached === 'yes') return 'there'
    if (hook.reached === 'close_enough') return 'close enough'
    if (!hook.will) return 'no day can be told'
    const [low, high] = [format.dayOf(hook.will.low), format.dayOf(hook.will.high)]
    return low === high ? low : `${low} to ${high}`
  }
}

/** One hook: the piece comes down towards its line as it loses water. */
function HookButton({ hook, isChosen, onChoose }: { hook: Hook; isChosen: boolean; onChoose: () => void }) {
  const format = useFormat()
  const when = useWhen()
  const left = Math.max(0.1, 1 - hook.loss_now)
  const target = 1 - hook.loss_fraction
  const isDone = hook.reached !== 'no'
  const late = hook.urgency === 'overdue'
  const bad = hook.findings.some((f) => f.severity !== 'info')
  return (
    <button
      type="button"
      aria-pressed={isChosen}
      onClick={onChoose}
      className={`grid w-[9.6rem] justify-items-center gap-0.5 px-1 pb-2 text-center ${isChosen ? 'bg-violet-wash' : 'hover:bg-steel'}`}
    >
      <svg viewBox="0 0 96 128" className="h-32 w-24" aria-hidden>
        <path d="M48 0v9a6 6 0 1 1 -6 6" fill="none" stroke="var(--color-edge)" strokeWidth={3} />
        <path d={shape(1)} fill="none" stroke="var(--color-line)" strokeDasharray="3 3" />
        <path d={shape(left)} fill={isDone ? 'var(--color-good)' : 'var(--color-meat)'} />
        <line x1={10} x2={86} y1={26 + 98 * target} y2={26 + 98 * target} stroke="var(--color-ink)" strokeWidth={2.5} />
        {bad && (
          <g>
            <path d="M78 34l11 19h-22z" fill="var(--color-caution)" />
            <path d="M78 40v7M78 49.5v1" stroke="var(--color-table)" strokeWidth={2.4} />
          </g>
        )}
      </svg>
      <span className="tag">{hook.tag}</span>
      <span className="figures text-xl leading-tight font-semibold">
        {isDone ? 'done' : format.mass(Math.round(hook.to_go_g))}
        {!isDone && <span className="font-[family-name:var(--font-text)] text-[0.95rem] font-normal text-soft"> to go</span>}
      </span>
      <span className="figures text-[0.95rem]">
        {percent(hook.loss_now)} of {percent(hook.loss_fraction, 0)}
      </span>
      <span className="text-[0.92rem] leading-tight text-soft">{when(hook)}</span>
      {hook.due && (
        <span className={`text-[0.92rem] leading-tight ${late ? 'font-semibold text-stop' : 'text-soft'}`}>
          {hook.due_down ? 'take down' : 'weigh'}
          {late || hook.due < format.today ? `, was due ${format.day(hook.due)}` : ` ${format.day(hook.due)}`}
        </span>
      )}
      {bad && <span className="sr-only">Something gives pause.</span>}
    </button>
  )
}

/** A tied piece hanging down, as long as what is left of it. */
function shape(left: number) {
  const [top, bottom] = [26, 26 + 98 * left]
  return `M48 ${top} C70 ${top + 4} 74 ${top + 18} 74 ${top + 30} L72 ${bottom - 16} C71 ${bottom - 4} 58 ${bottom} 48 ${bottom} C38 ${bottom} 25 ${bottom - 4} 24 ${bottom - 16} L22 ${top + 30} C22 ${top + 18} 26 ${top + 4} 48 ${top} Z`
}
