import words from '../../api/words.json'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useSlabs } from '../../api/pieces'
import { AmountField, Select } from '../../kit/Fields'
import { Loading } from '../../kit/States'
import { useFormat } from '../../units'
import { stockWords } from '../words'

const ways: Record<Schemas['SlabWay'], string> = words.SlabWay.label

/** How a piece should be cut, from its product, the slicer, the bags and the smoker; to scale. */
export function Slabs({ card }: { card: Schemas['PieceCard'] }) {
  const catalogue = useCatalogue().data
  const format = useFormat()
  const [build, setBuild] = useState(card.build ?? '')
  const [typed, setTyped] = useState({ length: '', width: '' })
  const asked = useSlabs({
    piece: card.id,
    build: build || null,
    length: typed.length || null,
    width: typed.width || null,
  })
  const wrong = (field: string) => (asked.error ? problemOf(asked.error).field(field) : undefined)
  const found = asked.data
  return (
    <section aria-label="How should I cut this?" className="table-top grid gap-3 p-4">
      <h2>How should I cut this?</h2>
      <div className="grid gap-x-4 sm:grid-cols-3">
        <Select label="To become" value={build} onChange={setBuild}>
          <option value="">not said yet</option>
          {catalogue?.builds
            .filter((b) => !b.ending && b.form === 'whole')
            .map((b) => (
              <option key={b.key} value={b.key}>
                {b.name}
              </option>
            ))}
        </Select>
        <AmountField
          quantity="length"
          label="Its length"
          value={typed.length}
          onChange={(length) => setTyped((t) => ({ ...t, length }))}
          error={wrong('length') ?? wrong('length_mm')}
          hint={found && `about ${format.length(Math.round(found.size.length_mm))}`}
        />
        <AmountField
          quantity="length"
          label="Its width"
          value={typed.width}
          onChange={(width) => setTyped((t) => ({ ...t, width }))}
          error={wrong('width') ?? wrong('width_mm')}
          hint={found && `about ${format.length(Math.round(found.size.width_mm))}`}
        />
      </div>
      {asked.isPending && <Loading what="the ways to cut it" />}
      {asked.isError && <p className="border-l-8 border-caution bg-caution-wash px-3 py-2">{problemOf(asked.error).message}</p>}
      {found && !asked.isError && (
        <>
          <ul className="grid gap-4">
            {found.plans.map((plan, i) => (
              <li
                key={plan.way}
                className={`grid gap-x-4 gap-y-2 sm:grid-cols-[minmax(0,2fr)_minmax(0,3fr)] ${i > 0 ? 'border-t border-line pt-3' : ''}`}
              >
                <Picture plan={plan} />
                <div>
                  <p className="font-semibold">
                    {ways[plan.way]}
                    {plan.slabs > 1 && (
                      <span className="figures">
                        : {plan.slabs} of about {format.mass(Math.round(plan.each_g / 10) * 10)}
                      </span>
                    )}
                  </p>
                  {plan.way !== 'roll' && (
                    <p className="figures text-soft">
                      {!(typed.length && typed.width) && 'about '}
                      {[plan.each.length_mm, plan.each.width_mm, plan.each.thickness_mm]
                        .map((v) => format.length(Math.round(v)))
                        .join(' × ')}
                      {plan.bag && `, into a ${plan.bag}`}
                    </p>
                  )}
                  <ul className="mt-1 list-disc pl-5 text-[0.95rem]">
                    {plan.reasons.map((r) => (
                      <li key={r}>{r}</li>
                    ))}
                  </ul>
                </div>
              </li>
            ))}
          </ul>
          {found.wraps.length > 0 && (
            <div>
              <h3>For one {found.plans[0] && found.plans[0].slabs > 1 ? 'slab' : 'piece'}</h3>
              <ul className="text-[0.95rem]">
                {found.wraps.map((w, i) => (
                  <li key={w.kind} className="flex flex-wrap justify-between gap-x-4 border-t border-line py-1">
                    <span>
                      <strong>{w.name}</strong>{' '}
                      <span className="text-soft">
                        {stockWords[w.kind]}: {w.made_of}
                      </span>
                    </span>
                    <span className="figures">
                      {found.wrap_words[i]}
                      {w.in_stock ? (
                        w.left >= w.amount ? (
                          ', in stock'
                        ) : (
                          <strong className="text-caution">, not enough in stock</strong>
                        )
                      ) : (
                        <strong className="text-caution">, none in stock</strong>
                      )}
                    </span>
                  </li>
                ))}
              </ul>
            </div>
          )}
        </>
      )}
    </section>
  )
}

/** The piece from above and from its end, with the cuts, to scale. */
function Picture({ plan }: { plan: Schemas['SlabPlan'] }) {
  const { whole, along, across, layers } = plan
  const gap = 24
  const wide = Math.max(whole.length_mm, 1)
  const end = plan.way === 'roll' ? (plan.roll_diameter_mm ?? 0) : whole.thickness_mm
  const high = whole.width_mm + gap + end
  const line = {
    stroke: 'currentColor',
    strokeWidth: Math.max(wide, high) / 130,
    strokeDasharray: `${wide / 40} ${wide / 60}`,
  }
  const cuts = (n: number, size: number) => Array.from({ length: n - 1 }, (_, i) => ((i + 1) * size) / n)
  const words =
    plan.way === 'roll'
      ? `A roll with ${plan.ties} ties`
      : `${plan.slabs} ${plan.slabs === 1 ? 'piece' : 'slabs'}: ${along} along, ${across} across, ${layers} ${layers === 1 ? 'layer' : 'layers'}`
  return (
    <figure>
      <svg viewBox={`-6 -6 ${wide + 12} ${high + 12}`} className="max-h-56 w-full text-violet" role="img" aria-label={words}>
        <rect width={whole.length_mm} height={whole.width_mm} className="fill-meat stroke-ink" strokeWidth={line.strokeWidth} />
        {cuts(along, whole.length_mm).map((x) => (
          <line key={x} x1={x} x2={x} y1={-4} y2={whole.width_mm + 4} {...line} className="stroke-table" />
        ))}
        {cuts(across, whole.width_mm).map((y) => (
          <line key={y} y1={y} y2={y} x1={-4} x2={whole.length_mm + 4} {...line} className="stroke-table" />
        ))}
        {plan.way === 'roll' ? (
          <g transform={`translate(0 ${whole.width_mm + gap})`}>
            <rect
              width={whole.length_mm}
              height={end}
              rx={end / 5}
              className="fill-meat stroke-ink"
              strokeWidth={line.strokeWidth}
            />
            {Array.from(
              { length: plan.ties ?? 0 },
              (_, i) => 15 + (i * (whole.length_mm - 30)) / Math.max((plan.ties ?? 2) - 1, 1),
            ).map((x) => (
              <line key={x} x1={x} x2={x} y1={0} y2={end} className="stroke-table" strokeWidth={line.strokeWidth * 1.4} />
            ))}
          </g>
        ) : (
          <g transform={`translate(0 ${whole.width_mm + gap})`}>
            <rect width={whole.length_mm} height={end} className="fill-meat stroke-ink" strokeWidth={line.strokeWidth} />
            {cuts(layers, end).map((y) => (
              <line key={y} y1={y} y2={y} x1={-4} x2={whole.length_mm + 4} {...line} className="stroke-table" />
            ))}
          </g>
        )}
      </svg>
      <figcaption className="text-center text-[0.85rem] text-soft">
        {plan.way === 'roll' ? 'flat above, rolled below' : 'from above, and from the side'}
      </figcaption>
    </figure>
  )
}
