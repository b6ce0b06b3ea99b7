import { Drawing } from '../../kit/Drawing'
import { isThere, NotYet } from '../../kit/Fetched'
import { ThermometerSaid } from '../../kit/Thermometer'
import { Link } from '@tanstack/react-router'
import { scaleLinear, scaleTime } from 'd3-scale'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { type DryingPlace, usePlaceHours } from '../../api/hang'
import { Choice } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { Findings } from '../../kit/States'
import { percent, useFormat } from '../../units'
import { ReadAir } from './ReadAir'

type Hours = Schemas['HoursView']

const [W, H, LEFT, RIGHT, TOP, BOTTOM] = [640, 120, 52, 14, 8, 24]

const spans = [
  { value: '7', label: 'a week' },
  { value: '28', label: 'four weeks' },
]

/** The air of a drying place: each hour one step, doors as ticks, what is wanted as a pale band. */
export function AirWeek({ place }: { place: DryingPlace }) {
  const [days, setDays] = useState('7')
  return (
    <section aria-label={`Air in ${place.name}`} className="table-top grid gap-3 p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2>{place.name}</h2>
        <span className="text-soft">{place.kind_name}</span>
      </div>
      {place.care && <p className="text-[0.95rem] text-soft">{place.care}</p>}
      <Findings list={place.findings} />
      <Drawing of="the air">
        <AirCurves place={place} days={Number(days)} />
      </Drawing>
      {place.at && <Choice label="Shown" value={days} options={spans} onChange={setDays} />}
      {place.sensor && <ThermometerSaid sensor={place.sensor} />}
      <Fold title="Read it by hand">
        <ReadAir place={place.id} />
      </Fold>
      <Link to="/cold" className="quiet">
        All readings, or a file of its thermometer
      </Link>
    </section>
  )
}

/** How warm and how damp it was, hour by hour. */
export function AirCurves({ place, days }: { place: { id: number; name: string }; days: number }) {
  const hours = usePlaceHours(place.id, days)
  if (!isThere(hours)) return <NotYet of={[hours]} what="its air" />
  if (hours.data.hours.length === 0)
    return <p className="hatch p-4 text-soft">Nobody read its air yet. Type what its thermometer shows, or take a file of it.</p>
  return (
    <>
      <Steps hours={hours.data} what="warmth" name={place.name} />
      {hours.data.hours.some((h) => h.humidity != null) && <Steps hours={hours.data} what="damp" name={place.name} />}
    </>
  )
}

/** An hour is one step: a small chamber swings with its compressor and its door, and meat feels neither. */
function Steps({ hours, what, name }: { hours: Hours; what: 'warmth' | 'damp'; name: string }) {
  const format = useFormat()
  const isWarmth = what === 'warmth'
  const read = hours.hours.flatMap((h) => {
    const value = isWarmth ? h.celsius : h.humidity
    return value == null ? [] : [{ at: Date.parse(h.from), value, opened: h.opened }]
  })
  const [low, high] = isWarmth ? [hours.wants_cold_c, hours.wants_warm_c] : [hours.wants_dry, hours.wants_damp]
  const values = [...read.map((r) => r.value), ...[low, high].filter((v) => v != null)]
  const first = read[0]
  const last = read.at(-1)
  if (!first || !last) return null
  const pad = isWarmth ? 1 : 0.03
  const x = scaleTime()
    .domain([first.at, last.at + 3_600_000])
    .range([LEFT, W - RIGHT])
  const y = scaleLinear()
    .domain([Math.min(...values) - pad, Math.max(...values) + pad])
    .range([H - BOTTOM, TOP])
  const said = (v: number) => (isWarmth ? format.heat(Math.round(v * 10) / 10) : percent(v, 0))
  // A gap in the readings is a gap in the line.
  const path = read
    .map((r, i) => {
      const joined = i > 0 && r.at - read[i - 1]!.at <= 3 * 3_600_000
      return `${joined ? 'L' : 'M'}${x(r.at).toFixed(1)} ${y(r.value).toFixed(1)}L${x(r.at + 3_600_000).toFixed(1)} ${y(r.value).toFixed(1)}`
    })
    .join('')
  const worst = { low: Math.min(...read.map((r) => r.value)), high: Math.max(...read.map((r) => r.value)) }
  const doors = read.reduce((n, r) => n + r.opened, 0)
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full"
      role="img"
      aria-label={`${isWarmth ? 'Temperature' : 'Humidity'} in ${name}: ${said(worst.low)} to ${said(worst.high)}; the door was opened ${doors} times`}
    >
      {low != null && high != null && (
        <rect x={LEFT} width={W - LEFT - RIGHT} y={y(high)} height={y(low) - y(high)} fill="var(--color-good-wash)" />
      )}
      <g fontSize={13} fontFamily="var(--font-figures)" fill="var(--color-soft)">
        {y.ticks(3).map((t) => (
          <text key={t} x={LEFT - 6} y={y(t)} dy="0.35em" textAnchor="end">
            {said(t)}
          </text>
        ))}
        {x.ticks(5).map((t) => (
          <text key={t.getTime()} x={x(t)} y={H - 6} textAnchor="middle">
            {format.dayOf(t.toISOString())}
          </text>
        ))}
      </g>
      <path d={path} fill="none" stroke="var(--color-violet)" strokeWidth={1.8} />
      {read.map(
        (r) =>
          r.opened > 0 && (
            <line key={r.at} x1={x(r.at)} x2={x(r.at)} y1={TOP} y2={TOP + 9} stroke="var(--color-ink)" strokeWidth={2}>
              <title>The door was opened.</title>
            </line>
          ),
      )}
    </svg>
  )
}
