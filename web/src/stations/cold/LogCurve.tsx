import type { Schemas } from '../../api/client'
import { useFormat } from '../../units'

const [WIDTH, HEIGHT] = [900, 220]
const [LEFT, RIGHT, TOP, BOTTOM] = [46, 10, 12, 26]

/** The curve of a place between its bounds: the pale band is where a cure goes on as it should. */
interface LogCurveProps {
  points: Schemas['LogPoint'][]
  name: string
  bands: Schemas['WarmthBands']
}

export function LogCurve({ points, name, bands }: LogCurveProps) {
  const { cold_c: cold, warm_c: warm, spoils_c: spoils } = bands
  const format = useFormat()
  const first = points[0]
  const last = points.at(-1)
  if (!first || !last) return <p className="text-soft">Nothing was read in these days.</p>
  const [from, to] = [Date.parse(first.at), Math.max(Date.parse(last.at), Date.parse(first.at) + 3_600_000)]
  const low = Math.min(-1, ...points.map((p) => p.low_c))
  const high = Math.max(8, ...points.map((p) => p.high_c))
  const x = (at: string) => LEFT + ((Date.parse(at) - from) / (to - from)) * (WIDTH - LEFT - RIGHT)
  const y = (c: number) => TOP + ((high - c) / (high - low)) * (HEIGHT - TOP - BOTTOM)
  const up = points.map((p) => `${x(p.at).toFixed(1)},${y(p.high_c).toFixed(1)}`)
  const down = points.map((p) => `${x(p.at).toFixed(1)},${y(p.low_c).toFixed(1)}`)
  const hottest = points.reduce((a, b) => (b.high_c > a.high_c ? b : a))
  const coldest = points.reduce((a, b) => (b.low_c < a.low_c ? b : a))
  const ticks = Array.from({ length: 5 }, (_, i) => new Date(from + ((to - from) * i) / 4).toISOString())
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`${name}: ${format.heat(coldest.low_c)} to ${format.heat(hottest.high_c)} from ${format.moment(first.at)} to ${format.moment(last.at)}`}
      >
        <rect x={LEFT} width={WIDTH - LEFT - RIGHT} y={y(warm)} height={y(cold) - y(warm)} fill="var(--color-good-wash)" />
        {[cold, warm, spoils].map((c) => (
          <g key={c}>
            <line
              x1={LEFT}
              x2={WIDTH - RIGHT}
              y1={y(c)}
              y2={y(c)}
              stroke={c === spoils ? 'var(--color-stop)' : 'var(--color-edge)'}
              strokeDasharray={c === spoils ? '7 4' : undefined}
            />
            <text x={LEFT - 5} y={y(c) + 4} textAnchor="end" fontSize="13" fill="var(--color-soft)">
              {format.heat(c).replace(/ .*/, '°')}
            </text>
          </g>
        ))}
        <polygon points={[...up, ...[...down].reverse()].join(' ')} fill="var(--color-violet)" opacity="0.3" />
        <polyline points={up.join(' ')} fill="none" stroke="var(--color-violet)" strokeWidth="2" />
        {points.length <= 60 &&
          points.map((p) => <circle key={p.at} cx={x(p.at)} cy={y(p.high_c)} r="3.5" fill="var(--color-violet)" />)}
        {ticks.map((at, i) => (
          <text
            key={at}
            x={x(at)}
            y={HEIGHT - 8}
            textAnchor={i === 0 ? 'start' : i === 4 ? 'end' : 'middle'}
            fontSize="13"
            fill="var(--color-soft)"
          >
            {format.moment(at)}
          </text>
        ))}
      </svg>
      <figcaption className="figures text-[0.95rem] text-soft">
        lowest {format.heat(coldest.low_c)}, {format.moment(coldest.at)} · highest {format.heat(hottest.high_c)},{' '}
        {format.moment(hottest.at)}
      </figcaption>
    </figure>
  )
}
