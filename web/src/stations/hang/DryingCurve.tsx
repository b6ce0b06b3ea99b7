import { isThere, NotYet } from '../../kit/Fetched'
import { scaleLinear } from 'd3-scale'
import { area, line } from 'd3-shape'
import { useHookCurve } from '../../api/hang'
import { percent, useFormat } from '../../units'

const [W, H, LEFT, RIGHT, TOP, BOTTOM] = [640, 250, 52, 14, 12, 34]
const DAY_MS = 86_400_000

/** How much it lost, coming down towards its line, and the fan of what is to be expected. */
export function DryingCurve({ piece, tag }: { piece: number; tag: string }) {
  const format = useFormat()
  const curve = useHookCurve(piece)
  if (!isThere(curve)) return <NotYet of={[curve]} what="the curve" />
  const { weighed, fan, loss_fraction, days, since } = curve.data
  const end = Math.max(days, fan.at(-1)?.day ?? 0, weighed.at(-1)?.day ?? 0, 1)
  const deepest = Math.max(loss_fraction, ...weighed.map((w) => w.loss)) * 1.15
  const x = scaleLinear()
    .domain([0, end])
    .range([LEFT, W - RIGHT])
  const y = scaleLinear()
    .domain([0, deepest])
    .range([TOP, H - BOTTOM])
  const drawn = fan.filter((p) => p.low <= deepest * 1.3)
  const wide = area<(typeof fan)[number]>(
    (p) => x(p.day),
    (p) => y(Math.min(p.low, deepest)),
    (p) => y(Math.min(p.high, deepest)),
  )(drawn)
  const likely = line<(typeof fan)[number]>(
    (p) => x(p.day),
    (p) => y(p.likely),
  )(fan.filter((p) => p.likely <= deepest))
  const all = [{ day: 0, loss: 0 }, ...weighed]
  const own = line<(typeof weighed)[number]>(
    (p) => x(p.day),
    (p) => y(Math.max(0, p.loss)),
  )(all)
  const date = (day: number) => format.dayOf(new Date(Date.parse(since) + day * DAY_MS).toISOString())
  const last = weighed.at(-1)
  return (
    <figure>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="w-full"
        role="img"
        aria-label={`${tag} on its hook: ${last ? `lost ${percent(last.loss)} by day ${Math.round(last.day)}` : 'not weighed yet'}, wants ${percent(loss_fraction, 0)}`}
      >
        <g fontSize={13} fontFamily="var(--font-figures)" fill="var(--color-soft)">
          {y.ticks(4).map((t) => (
            <g key={t}>
              <line x1={LEFT} x2={W - RIGHT} y1={y(t)} y2={y(t)} stroke="var(--color-line)" />
              <text x={LEFT - 6} y={y(t)} dy="0.35em" textAnchor="end">
                {t > 0 && '−'}
                {percent(t, 0)}
              </text>
            </g>
          ))}
          {x.ticks(5).map((t) => (
            <text key={t} x={x(t)} y={H - 10} textAnchor="middle">
              {date(t)}
            </text>
          ))}
        </g>
        <path d={wide ?? ''} fill="var(--color-violet)" opacity={0.18} />
        <path d={likely ?? ''} fill="none" stroke="var(--color-violet)" strokeDasharray="5 4" strokeWidth={1.8} />
        <line x1={x(days)} x2={x(days)} y1={TOP} y2={H - BOTTOM} stroke="var(--color-edge)" strokeDasharray="2 4" />
        <line
          x1={LEFT}
          x2={W - RIGHT}
          y1={y(loss_fraction)}
          y2={y(loss_fraction)}
          stroke="var(--color-good)"
          strokeWidth={2.5}
          strokeDasharray="9 4"
        />
        <text x={LEFT + 6} y={y(loss_fraction) + 17} fontSize={13} fill="var(--color-good)" fontFamily="var(--font-figures)">
          down at {percent(loss_fraction, 0)}
        </text>
        <path d={own ?? ''} fill="none" stroke="var(--color-ink)" strokeWidth={2.2} />
        {weighed.map((w) => (
          <circle
            key={w.day}
            cx={x(w.day)}
            cy={y(Math.max(0, w.loss))}
            r={4.5}
            fill="var(--color-table)"
            stroke="var(--color-ink)"
            strokeWidth={2.2}
          />
        ))}
      </svg>
      <figcaption className="text-[0.95rem] text-soft">
        Rings: its weighings. Pale: where it may run; dashes: likely. It hangs since {format.dayOf(since)}.
      </figcaption>
    </figure>
  )
}
