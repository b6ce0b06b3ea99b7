import { scaleLinear, scaleTime } from 'd3-scale'
import { line } from 'd3-shape'
import type { Schemas } from '../../api/client'
import { percent, useFormat } from '../../units'
import { pointWords } from '../words'

const [W, H, LEFT, BOTTOM] = [640, 260, 64, 34]

/** Weight over time, with the target line while it hangs. */
export function Curve({ weighings, target_g }: { weighings: Schemas['WeighingView'][]; target_g?: number }) {
  const format = useFormat()
  if (weighings.length < 2) return <p className="text-soft">The curve begins with the second weighing.</p>
  const times = weighings.map((w) => Date.parse(w.at))
  const heaviest = Math.max(...weighings.map((w) => w.net_g))
  const lightest = Math.min(...weighings.map((w) => w.net_g), target_g ?? Infinity)
  const span = Math.max(heaviest - lightest, heaviest * 0.05)
  const x = scaleTime()
    .domain([Math.min(...times), Math.max(...times)])
    .range([LEFT, W - 12])
  const y = scaleLinear()
    .domain([lightest - span * 0.15, heaviest + span * 0.1])
    .range([H - BOTTOM, 10])
  const path = line<(typeof weighings)[number]>(
    (w) => x(Date.parse(w.at)),
    (w) => y(w.net_g),
  )(weighings)
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full"
      role="img"
      aria-label={`Weight of the meat from ${format.mass(weighings[0]!.net_g)} to ${format.mass(weighings.at(-1)!.net_g)}, ${percent(Math.abs(weighings.at(-1)!.lost_since_green))} ${weighings.at(-1)!.lost_since_green < 0 ? 'gained' : 'lost'} since green`}
    >
      <g fontSize={13} fontFamily="var(--font-figures)" fill="var(--color-soft)">
        {y.ticks(4).map((t) => (
          <g key={t}>
            <line x1={LEFT} x2={W - 12} y1={y(t)} y2={y(t)} stroke="var(--color-line)" />
            <text x={LEFT - 6} y={y(t)} dy="0.35em" textAnchor="end">
              {format.mass(t)}
            </text>
          </g>
        ))}
        {x.ticks(5).map((t) => (
          <text key={t.getTime()} x={x(t)} y={H - 10} textAnchor="middle">
            {t.toLocaleDateString('en', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
          </text>
        ))}
      </g>
      {target_g != null && (
        <g>
          <line
            x1={LEFT}
            x2={W - 12}
            y1={y(target_g)}
            y2={y(target_g)}
            stroke="var(--color-good)"
            strokeWidth={2}
            strokeDasharray="7 4"
          />
          <text
            x={W - 14}
            y={y(target_g) - 6}
            textAnchor="end"
            fontSize={13}
            fill="var(--color-good)"
            fontFamily="var(--font-figures)"
          >
            target {format.mass(target_g)}
          </text>
        </g>
      )}
      <path d={path ?? ''} fill="none" stroke="var(--color-violet)" strokeWidth={2.5} />
      {weighings.map((w) => (
        <circle
          key={w.entry + w.point}
          cx={x(Date.parse(w.at))}
          cy={y(w.net_g)}
          r={5}
          fill="var(--color-table)"
          stroke="var(--color-violet)"
          strokeWidth={2.5}
        >
          <title>
            {pointWords[w.point]}: {format.mass(w.net_g)}
          </title>
        </circle>
      ))}
    </svg>
  )
}
