/** The dose against its limit: a band on a scale, because no reading is a point. */
export function DoseBand(props: { nominal: number; low: number; high: number; ceiling: number; floor: number; label: string }) {
  const { nominal, low, high, ceiling, floor, label } = props
  const end = Math.max(ceiling * 1.25, high * 1.12, 50)
  const x = (ppm: number) => 8 + (Math.min(ppm, end) / end) * 384
  const over = nominal > ceiling + 0.5
  const words = `${label}: ${nominal.toFixed(0)} ppm nitrite, somewhere from ${low.toFixed(0)} to ${high.toFixed(0)}; at most ${ceiling.toFixed(0)}, at least ${floor.toFixed(0)} for slow smoke or hanging.`
  return (
    <figure className="max-w-xl">
      <svg viewBox="0 0 400 64" className="w-full" role="img" aria-label={words}>
        <rect x={x(0)} y={26} width={x(end) - x(0)} height={12} fill="var(--color-steel)" stroke="var(--color-edge)" />
        <rect
          x={x(ceiling)}
          y={26}
          width={Math.max(0, x(end) - x(ceiling))}
          height={12}
          fill="var(--color-stop-wash)"
          stroke="var(--color-stop)"
        />
        <rect
          x={x(low)}
          y={22}
          width={Math.max(2, x(high) - x(low))}
          height={20}
          fill={over ? 'var(--color-stop)' : 'var(--color-violet)'}
          opacity={0.45}
        />
        <line
          x1={x(nominal)}
          x2={x(nominal)}
          y1={18}
          y2={46}
          stroke={over ? 'var(--color-stop)' : 'var(--color-violet)'}
          strokeWidth={3}
        />
        <line x1={x(floor)} x2={x(floor)} y1={38} y2={50} stroke="var(--color-soft)" strokeWidth={1.5} />
        <line x1={x(ceiling)} x2={x(ceiling)} y1={14} y2={50} stroke="var(--color-stop)" strokeWidth={2} />
        <g fontSize={12} fill="var(--color-ink)" fontFamily="var(--font-figures)">
          <text x={x(nominal)} y={13} textAnchor={nominal > ceiling * 0.75 ? 'end' : 'middle'} fontWeight={700}>
            {nominal.toFixed(0)}
          </text>
          <text x={x(ceiling)} y={13} textAnchor="start" fill="var(--color-stop)">{` ${ceiling.toFixed(0)} limit`}</text>
          <text x={x(floor)} y={61} textAnchor="middle" fill="var(--color-soft)">{`${floor.toFixed(0)} floor`}</text>
          <text x={x(end)} y={61} textAnchor="end" fill="var(--color-soft)">
            ppm
          </text>
        </g>
      </svg>
    </figure>
  )
}
