import type { Schemas } from '../../api/client'
import { useFormat } from '../../units'

interface Props {
  points: Schemas['OverWeight'][]
  ceiling?: number | null
  floor?: number | null
}

/** Nobody said for how much meat it is: nitrite over weight, with the weights at which it would be right. */
export function OverWeight({ points, ceiling, floor }: Props) {
  const format = useFormat()
  const first = points[0]!
  const last = points.at(-1)!
  const top = Math.min(Math.max(...points.map((p) => p.nitrite_ppm)), (ceiling ?? 200) * 2)
  const x = (g: number) => 44 + ((g - first.meat_g) / (last.meat_g - first.meat_g)) * 340
  const y = (ppm: number) => 150 - (Math.min(ppm, top) / top) * 130
  const shown = points.filter((p) => p.nitrite_ppm <= top)
  const path = shown.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p.meat_g).toFixed(1)} ${y(p.nitrite_ppm).toFixed(1)}`).join('')
  const right = points.filter((p) => p.nitrite_ppm <= (ceiling ?? Infinity) && p.nitrite_ppm >= (floor ?? 0))
  const words =
    right.length > 0
      ? `From ${format.mass(Math.round(right[0]!.meat_g / 50) * 50)} to ${format.mass(Math.round(right.at(-1)!.meat_g / 50) * 50)} of meat the nitrite lies between floor and limit.`
      : 'At no weight does the nitrite lie between floor and limit.'
  return (
    <figure className="table-top p-3">
      <figcaption className="font-semibold">Nitrite by the weight of the meat</figcaption>
      <svg viewBox="0 0 400 186" className="w-full max-w-xl" role="img" aria-label={words}>
        <rect x={44} y={20} width={340} height={130} fill="var(--color-steel)" stroke="var(--color-edge)" />
        {ceiling != null && ceiling <= top && (
          <>
            <rect x={44} y={20} width={340} height={y(ceiling) - 20} fill="var(--color-stop-wash)" />
            <line x1={44} x2={384} y1={y(ceiling)} y2={y(ceiling)} stroke="var(--color-stop)" strokeWidth={2} />
          </>
        )}
        {floor != null && (
          <line x1={44} x2={384} y1={y(floor)} y2={y(floor)} stroke="var(--color-soft)" strokeDasharray="5 4" strokeWidth={1.5} />
        )}
        {right.length > 0 && (
          <rect
            x={x(right[0]!.meat_g)}
            y={20}
            width={Math.max(2, x(right.at(-1)!.meat_g) - x(right[0]!.meat_g))}
            height={130}
            fill="var(--color-violet)"
            opacity={0.14}
          />
        )}
        <path d={path} fill="none" stroke="var(--color-violet)" strokeWidth={3} />
        <g fontSize={12} fontFamily="var(--font-figures)" fill="var(--color-ink)">
          {ceiling != null && ceiling <= top && (
            <text x={380} y={y(ceiling) - 5} textAnchor="end" fill="var(--color-stop)">{`${ceiling.toFixed(0)} limit`}</text>
          )}
          {floor != null && (
            <text x={380} y={y(floor) + 14} textAnchor="end" fill="var(--color-soft)">{`${floor.toFixed(0)} floor`}</text>
          )}
          <text x={40} y={26} textAnchor="end">
            {top.toFixed(0)}
          </text>
          <text x={40} y={150} textAnchor="end">
            0
          </text>
          <text x={4} y={90} fill="var(--color-soft)">
            ppm
          </text>
          {[first, points[Math.floor(points.length / 2)]!, last].map((p, i) => (
            <text key={i} x={x(p.meat_g)} y={168} textAnchor={i === 0 ? 'start' : i === 1 ? 'middle' : 'end'}>
              {format.mass(Math.round(p.meat_g / 10) * 10)}
            </text>
          ))}
        </g>
      </svg>
      <p className="text-[0.95rem] text-soft">{words}</p>
    </figure>
  )
}
