import type { Schemas } from '../../api/client'
import { estimate, useFormat } from '../../units'

/** What the animal should give in all: boneless lean, bones for stock, fat to render. */
export function Expected({ expectation }: { expectation: Schemas['Expectation'] }) {
  const format = useFormat()
  const range = (r: Schemas['Range']) => `${format.mass(estimate(r.low))} to ${format.mass(estimate(r.high))}`
  return (
    <dl className="grid gap-x-6 sm:grid-cols-3">
      {(
        [
          ['boneless lean', expectation.lean_g],
          ['bones for stock', expectation.bones_g],
          ['fat to render', expectation.fat_g],
        ] as const
      ).map(([what, r]) => (
        <div key={what} className="border-t border-line py-1.5">
          <dt className="text-soft">{what}</dt>
          <dd className="figures font-semibold">{range(r)}</dd>
        </div>
      ))}
    </dl>
  )
}

/** Cut by cut: what was expected, by whose word, and what the scale said; the drawing as a table. */
export function CutTable({
  lot,
  chosen,
  onChoose,
}: {
  lot: Schemas['LotView']
  chosen?: string
  onChoose?: (cut: string) => void
}) {
  const format = useFormat()
  const { progress } = lot
  if (progress.length === 0) return null
  const anyOwn = progress.some((p) => p.expected?.own)
  return (
    <table className="table-top w-full text-[0.95rem]">
      <caption className="sr-only">Cuts of {lot.card.name}: expected and weighed</caption>
      <thead>
        <tr className="border-b border-line text-left text-soft">
          <th scope="col" className="p-2 font-normal">
            Cut
          </th>
          <th scope="col" className="p-2 text-right font-normal">
            Expected
          </th>
          {anyOwn && (
            <th scope="col" className="hidden p-2 text-right font-normal sm:table-cell">
              Your own
            </th>
          )}
          <th scope="col" className="p-2 text-right font-normal">
            Weighed
          </th>
        </tr>
      </thead>
      <tbody className="divide-y divide-line">
        {progress.map((p) => {
          const e = p.expected
          const out = e && p.weighed_g > 0 && (p.weighed_g < e.mass_g.low * 0.8 || p.weighed_g > e.mass_g.high * 1.2)
          return (
            <tr key={p.cut} className={p.cut === chosen ? 'bg-violet-wash' : ''}>
              <th scope="row" className="p-0 text-left font-normal">
                {onChoose && e ? (
                  <button
                    type="button"
                    className="min-h-11 w-full px-2 text-left font-semibold underline-offset-3 hover:underline"
                    aria-pressed={p.cut === chosen}
                    onClick={() => onChoose(p.cut)}
                  >
                    {p.name}
                  </button>
                ) : (
                  <span className="block px-2 py-1.5 font-semibold">{p.name}</span>
                )}
              </th>
              <td className="figures p-2 text-right sm:whitespace-nowrap">
                {e ? `${format.mass(estimate(e.mass_g.low))} – ${format.mass(estimate(e.mass_g.high))}` : '–'}
                {e?.by === 'own' && <span className="block text-[0.85rem] text-violet">your own</span>}
              </td>
              {anyOwn && (
                <td className="figures hidden p-2 text-right whitespace-nowrap text-soft sm:table-cell">
                  {e?.own ? `${(e.own.mean * 100).toFixed(1)} ± ${(e.own.spread * 100).toFixed(1)} % of ${e.own.animals}` : '–'}
                </td>
              )}
              <td className="figures p-2 text-right sm:whitespace-nowrap">
                {p.weighed_g > 0 ? format.mass(p.weighed_g) : <span className="text-soft">not yet</span>}
                {p.pieces > 0 && (
                  <span className="block text-[0.85rem] text-soft">
                    {p.pieces} {p.pieces === 1 ? 'piece' : 'pieces'}
                    {out && (
                      <strong className="text-caution"> · {p.weighed_g < e.mass_g.low ? 'less' : 'more'} than expected</strong>
                    )}
                  </span>
                )}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
