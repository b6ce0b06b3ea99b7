import type { Schemas } from '../../api/client'
import { useFormat } from '../../units'
import { byproductWords, knownWords, lossWords } from '../words'

interface Part {
  name: string
  mass_g: number
  fill: string
}

/** Received less weighed is still to weigh: one bar that runs along. */
export function Balance({ lot }: { lot: Schemas['LotView'] }) {
  const format = useFormat()
  const { card } = lot
  const kept: Part[] = lot.byproducts
    .filter((b) => b.kind !== 'ends' && b.kind !== 'rendered')
    .map((b) => ({
      name: b.used_g > 0 ? `${byproductWords[b.kind]} (${format.mass(b.used_g)} used)` : byproductWords[b.kind],
      // What was used since came out of the animal all the same.
      mass_g: b.mass_g + b.used_g,
      fill: b.kind === 'fat' ? 'bg-fat' : 'bg-bone',
    }))
  const cutLosses = new Set(['dressing', 'cutting', 'unaccounted'])
  const lost: Part[] = lot.losses
    .filter((l) => cutLosses.has(l.kind) && l.mass_g > 0 && card.closed)
    .map((l) => ({
      name: lossWords[l.kind],
      mass_g: l.mass_g,
      fill: l.kind === 'unaccounted' ? 'bg-stop hatch' : 'bg-loss',
    }))
  const parts: Part[] = [{ name: 'pieces', mass_g: lot.in_pieces_g, fill: 'bg-meat' }, ...kept, ...lost].filter(
    (p) => p.mass_g > 0,
  )
  const left = card.left_g
  const whole = Math.max(
    card.received_g,
    parts.reduce((sum, p) => sum + p.mass_g, left),
  )
  const share = (g: number) => `${(g / whole) * 100}%`
  return (
    <section aria-label="Balance" className="table-top p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <p>
          <span className="figures text-4xl font-semibold" data-testid="left">
            {format.mass(left)}
          </span>{' '}
          <span className="text-soft">still to weigh</span>
        </p>
        <p className="text-soft">
          of <span className="figures">{format.mass(card.received_g)}</span> {knownWords[card.known]}
        </p>
      </div>
      <div className="mt-2 flex h-11 overflow-hidden border border-edge bg-steel" aria-hidden>
        {parts.map((p) => (
          <div key={p.name} className={`${p.fill} border-r border-table`} style={{ width: share(p.mass_g) }} />
        ))}
      </div>
      <ul className="mt-2 flex flex-wrap gap-x-4 gap-y-0.5 text-[0.95rem]">
        {parts.map((p) => (
          <li key={p.name} className="flex items-center gap-1.5">
            <span aria-hidden className={`inline-block size-3.5 border border-edge ${p.fill}`} />
            {p.name} <span className="figures">{format.mass(p.mass_g)}</span>
          </li>
        ))}
        {lot.dressing_g > 0 && !card.closed && (
          <li className="text-soft">
            head, hide and guts explain up to <span className="figures">{format.mass(lot.dressing_g)}</span>
          </li>
        )}
      </ul>
    </section>
  )
}
