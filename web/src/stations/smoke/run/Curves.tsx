import type { Schemas } from '../../../api/client'
import { type Run, useRunCurve } from '../../../api/runs'
import { Failed, Loading } from '../../../kit/States'
import { useFormat } from '../../../units'

const [WIDTH, HEIGHT] = [560, 340]
const [LEFT, RIGHT, TOP, BOTTOM] = [42, 66, 14, 30]

/** Each piece has its own line: by its dashes and its name at the end, never by colour alone. */
const dashes = ['', '9 4', '2 4', '14 4 2 4', '5 5', '1 6']

/** Chamber and inside over the hours, the marks, and the fan of when each will be there. */
export function Curves({ run, chosen }: { run: Run; chosen?: number }) {
  const curve = useRunCurve(run.id, Boolean(run.ended))
  if (curve.isPending) return <Loading what="the curves" />
  if (curve.isError) return <Failed error={curve.error} onRetry={() => curve.refetch()} />
  const { pieces, zones } = curve.data
  if (pieces.length === 0 && zones.length === 0)
    return (
      <p className="border-2 border-dashed border-line p-4 text-soft">
        No reading yet. Set a probe into the thickest piece and one into the air, read by hand, or take a file of a thermometer.
      </p>
    )
  return <Drawn curves={curve.data} chosen={chosen} />
}

function Drawn({ curves, chosen }: { curves: Schemas['CurvesView']; chosen?: number }) {
  const format = useFormat()
  const { pieces, zones, stages } = curves
  const all = [...pieces, ...zones]
  const fans = pieces.flatMap((p) => (p.fan ? [Math.min(p.fan.high, curves.minutes + 360)] : []))
  const from = Math.min(0, ...all.flatMap((c) => c.minute.slice(0, 1)))
  const to = Math.max(60, curves.minutes, ...all.flatMap((c) => c.minute.slice(-1)), ...fans)
  const high = Math.max(75, ...all.flatMap((c) => c.high_c), ...pieces.map((p) => (p.mark_c ?? 0) + 6))
  const low = Math.min(0, ...all.flatMap((c) => c.low_c))
  const x = (m: number) => LEFT + ((m - from) / (to - from)) * (WIDTH - LEFT - RIGHT)
  const y = (c: number) => TOP + ((high - c) / (high - low)) * (HEIGHT - TOP - BOTTOM)
  const at = (m: number) => new Date(Date.parse(curves.begin) + m * 60_000).toISOString()
  const line = (c: Schemas['CurveView']) =>
    c.minute.map((m, i) => `${x(m).toFixed(1)},${y(c.high_c[i] ?? 0).toFixed(1)}`).join(' ')
  const band = (c: Schemas['CurveView']) =>
    [
      ...c.minute.map((m, i) => `${x(m).toFixed(1)},${y(c.high_c[i] ?? 0).toFixed(1)}`),
      ...[...c.minute].reverse().map((m, i) => `${x(m).toFixed(1)},${y(c.low_c[c.low_c.length - 1 - i] ?? 0).toFixed(1)}`),
    ].join(' ')
  const step = [5, 10, 20, 50].find((s) => (high - low) / s <= 9) ?? 100
  const lines = Array.from({ length: Math.ceil((high - low) / step) + 1 }, (_, i) => (Math.ceil(low / step) + i) * step).filter(
    (c) => c <= high,
  )
  const ticks = Array.from({ length: 5 }, (_, i) => from + ((to - from) * i) / 4)
  const last = (c: Schemas['CurveView']) => c.high_c[c.high_c.length - 1] ?? 0
  const names = spread(
    all.map((c) => ({ name: c.name, y: y(last(c)) })),
    15,
  )
  const said = pieces.map((p) => `${p.name} ${format.heat(last(p))}`).join(', ')
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`Inside and chamber from ${format.moment(at(from))} on: ${said}`}
      >
        {stages.map((s, i) => (
          <g key={i}>
            <rect
              x={x(s.from)}
              width={Math.max(0, x(s.to) - x(s.from))}
              y={TOP}
              height={HEIGHT - TOP - BOTTOM}
              fill={i % 2 === 0 ? 'var(--color-steel)' : 'var(--color-floor)'}
            />
            {x(s.to) - x(s.from) > 8 * s.name.length && (
              <text x={x(s.from) + 5} y={TOP + 12} fontSize="12" fill="var(--color-soft)">
                {s.name}
              </text>
            )}
          </g>
        ))}
        {lines.map((c) => (
          <g key={c}>
            <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(c)} y2={y(c)} stroke="var(--color-line)" />
            <text x={LEFT - 5} y={y(c) + 4} textAnchor="end" fontSize="14" fill="var(--color-soft)">
              {format.heat(c).replace(/ .*/, '°')}
            </text>
          </g>
        ))}
        {[...new Set(pieces.map((p) => p.mark_c))].map(
          (c) =>
            c != null && (
              <line
                key={c}
                x1={LEFT}
                x2={WIDTH - RIGHT}
                y1={y(c)}
                y2={y(c)}
                stroke="var(--color-violet)"
                strokeWidth="1.5"
                strokeDasharray="3 3"
              />
            ),
        )}
        {zones.map((z) => (
          <g key={z.name}>
            <polygon points={band(z)} fill="var(--color-loss)" opacity="0.35" />
            <polyline points={line(z)} fill="none" stroke="var(--color-loss)" strokeWidth="2" />
          </g>
        ))}
        {pieces.map((p, i) => (
          <g key={p.name} opacity={chosen === undefined || chosen === p.piece ? 1 : 0.35}>
            <polygon points={band(p)} fill="var(--color-meat)" opacity="0.25" />
            <polyline
              points={line(p)}
              fill="none"
              stroke="var(--color-meat)"
              strokeWidth={chosen === p.piece ? 3.5 : 2.5}
              strokeDasharray={dashes[i % dashes.length]}
            />
            {p.minute.length === 1 && <circle cx={x(p.minute[0] ?? 0)} cy={y(last(p))} r="4" fill="var(--color-meat)" />}
            {p.fan && p.mark_c != null && p.fan.low < to && (
              <polygon
                points={`${x(p.minute[p.minute.length - 1] ?? 0)},${y(last(p))} ${x(p.fan.low)},${y(p.mark_c)} ${x(Math.min(p.fan.high, to))},${y(p.mark_c)}`}
                fill="var(--color-violet)"
                opacity="0.22"
              />
            )}
            {p.spots.map((s) => (
              <rect
                key={s.at}
                x={x((Date.parse(s.at) - Date.parse(curves.begin)) / 60_000) - 4}
                y={y(s.celsius) - 4}
                width="8"
                height="8"
                transform={`rotate(45 ${x((Date.parse(s.at) - Date.parse(curves.begin)) / 60_000)} ${y(s.celsius)})`}
                fill="var(--color-ink)"
              />
            ))}
          </g>
        ))}
        {names.map((n) => (
          <text key={n.name} x={WIDTH - RIGHT + 6} y={n.y + 4} fontSize="14" fill="var(--color-ink)">
            {n.name}
          </text>
        ))}
        {ticks.map((m, i) => (
          <text key={m} x={x(m)} y={HEIGHT - 9} textAnchor={i === 0 ? 'start' : 'middle'} fontSize="14" fill="var(--color-soft)">
            {format.clock(at(m))}
          </text>
        ))}
      </svg>
      <figcaption className="figures text-[0.95rem] text-soft">
        {curves.readings.toLocaleString('en')} readings; dotted violet: the marks; pale violet: when each gets there; diamonds:
        checks by hand
      </figcaption>
    </figure>
  )
}

/** Names beside each other that would lie on each other are moved apart. */
function spread(all: { name: string; y: number }[], least: number) {
  const sorted = [...all].sort((a, b) => a.y - b.y)
  let before = -Infinity
  return sorted.map((n) => {
    before = Math.max(n.y, before + least)
    return { name: n.name, y: before }
  })
}
