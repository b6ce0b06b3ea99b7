import { useId } from 'react'
import type { Schemas } from '../../api/client'
import { estimate, useFormat } from '../../units'
import { drawingOf, type Region } from './drawings'

type Progress = Schemas['CutProgress']

/** The animal as it lies: each cut fills as its pieces are weighed, and can be chosen. */
export function AnimalDrawing({
  lot,
  chosen,
  onChoose,
}: {
  lot: Schemas['LotView']
  chosen: string
  onChoose?: (cut: string) => void
}) {
  const { progress, card } = lot
  const drawing = drawingOf(
    card.kind,
    progress.map((p) => p.cut),
  )
  const of = (cut: string) => progress.find((p) => p.cut === cut)
  const regions = drawing.regions.filter((r) => of(r.cut)?.expected)
  if (regions.length === 0) return null
  // The chosen one is drawn last, so that its outline is not cut off by its neighbours.
  const ordered = [...regions].sort((a, b) => Number(a.cut === chosen) - Number(b.cut === chosen))
  return (
    <figure className="table-top p-2">
      <svg viewBox="40 24 590 306" className="w-full" role="group" aria-label={`${card.species_name}, cut by cut`}>
        <path d={drawing.outline} className="fill-none stroke-edge" strokeWidth={4} strokeLinecap="round" />
        {ordered.map((r) => (
          <Cut
            key={r.cut}
            region={r}
            progress={of(r.cut)!}
            chosen={r.cut === chosen}
            onChoose={onChoose && (() => onChoose(r.cut))}
          />
        ))}
        <g aria-hidden className="pointer-events-none">
          {regions.map((r) => r.label && <Name key={r.cut} at={r.label} progress={of(r.cut)!} />)}
        </g>
      </svg>
      <figcaption className="px-1 text-[0.9rem] text-soft">
        Choose a cut, then weigh its pieces: each fills up to what is usual.
      </figcaption>
    </figure>
  )
}

function Cut({
  region,
  progress,
  chosen,
  onChoose,
}: {
  region: Region
  progress: Progress
  chosen: boolean
  onChoose?: () => void
}) {
  const level = useId()
  const format = useFormat()
  const { expected, weighed_g } = progress
  const usual = expected ? (expected.mass_g.low + expected.mass_g.high) / 2 : 0
  const share = usual > 0 ? Math.min(weighed_g / usual, 1) : 0
  const words = `${progress.name}: ${weighed_g > 0 ? format.mass(weighed_g) : 'nothing'} weighed${expected ? `, ${format.mass(estimate(expected.mass_g.low))} to ${format.mass(estimate(expected.mass_g.high))} expected` : ''}`
  const inside = (
    <>
      <title>{words}</title>
      <linearGradient id={level} x1={0} y1={1} x2={0} y2={0}>
        <stop
          offset={share}
          className={
            region.cut.includes('fat')
              ? '[stop-color:var(--c-fat)]'
              : region.cut === 'bones'
                ? '[stop-color:var(--c-bone)]'
                : '[stop-color:var(--c-meat)]'
          }
        />
        <stop offset={share} className="[stop-color:var(--c-steel)]" />
      </linearGradient>
      <path
        d={region.path}
        fill={`url(#${level})`}
        className={chosen ? 'stroke-violet' : 'stroke-ink'}
        strokeWidth={chosen ? 5 : 2}
        strokeLinejoin="round"
      />
    </>
  )
  if (!onChoose)
    return (
      <g role="img" aria-label={words}>
        {inside}
      </g>
    )
  return (
    <g
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={words}
      className="cursor-pointer outline-none [&:focus-visible>path]:stroke-violet [&:focus-visible>path]:[stroke-width:6]"
      onClick={onChoose}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return
        e.preventDefault()
        onChoose()
      }}
    >
      {inside}
    </g>
  )
}

/** A cut's name over the drawing, with what was weighed of it. */
function Name({ at: [x, y], progress }: { at: [number, number]; progress: Progress }) {
  const format = useFormat()
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      className="fill-ink stroke-table text-[22px] font-semibold sm:text-[14px]"
      strokeWidth={3}
      paintOrder="stroke"
    >
      <tspan x={x}>{shortName(progress.name)}</tspan>
      {progress.weighed_g > 0 && (
        <tspan x={x} dy="1.1em" className="figures font-normal">
          {format.mass(progress.weighed_g)}
        </tspan>
      )}
    </text>
  )
}

/** `shoulder, upper (butt)` is long for a drawing: what stands in brackets is what people say. */
function shortName(name: string): string {
  return /\(([^)]*)\)/.exec(name)?.[1] ?? name
}
