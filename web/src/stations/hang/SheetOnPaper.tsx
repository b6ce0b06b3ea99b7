import type { HangSheet } from '../../api/hang'
import { percent, useFormat } from '../../units'
import { useWhen } from './Rail'

/** The hanging sheet for the chamber's door: what each waits for, with room for the next weighings by pencil. */
export function SheetOnPaper({ sheet }: { sheet: HangSheet }) {
  const format = useFormat()
  const when = useWhen()
  if (sheet.hooks.length === 0) return null
  const placeOf = (id?: number | null) => sheet.places.find((p) => p.id === id)?.name ?? ''
  return (
    <section className="print-only" aria-hidden>
      <table className="w-full border-collapse text-[0.85rem]">
        <thead>
          <tr>
            {['Tag', 'What', 'Where', 'Hung', 'Down at', 'Last', 'There', 'Day / g', 'Day / g', 'Day / g', 'Feel, mould'].map(
              (h, i) => (
                <th key={`${h}${i}`} className="border border-line px-1 text-left">
                  {h}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody>
          {sheet.hooks.map((h) => (
            <tr key={h.id} className="h-[11mm] break-inside-avoid">
              <td className="border border-line px-1 font-semibold whitespace-nowrap">{h.tag}</td>
              <td className="border border-line px-1">{h.build_name}</td>
              <td className="border border-line px-1">
                {placeOf(h.place)}
                {h.hook != null && `, ${h.hook}`}
              </td>
              <td className="border border-line px-1 whitespace-nowrap">{format.dayOf(h.since)}</td>
              <td className="figures border border-line px-1 font-semibold whitespace-nowrap">
                {format.mass(Math.round(h.target_gross_g))} ({percent(h.loss_fraction, 0)})
              </td>
              <td className="figures border border-line px-1 whitespace-nowrap">{format.mass(Math.round(h.gross_now_g))}</td>
              <td className="border border-line px-1">{when(h)}</td>
              <td className="w-16 border border-line" />
              <td className="w-16 border border-line" />
              <td className="w-16 border border-line" />
              <td className="w-24 border border-line" />
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-[0.85rem]">
        White, chalky and dry: leave it. Grey-green, dry: wipe with vinegar, look again. Fuzzy, wet, black, yellow, orange, red:
        out of the chamber. Slime under the casing, a bad smell, a blown bag: discard untasted. Home curing is at your own risk;
        follow your local food-safety rules.
      </p>
    </section>
  )
}
