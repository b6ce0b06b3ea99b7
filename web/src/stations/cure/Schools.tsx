import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useFormat } from '../../units'

const BY: Record<string, string> = {
  build: 'the build’s own weeks',
  recipe: 'the recipe',
  salt_box: 'thickness',
}

/** The days by every school, side by side; the one that is followed is marked. */
export function Schools({ piece }: { piece: Schemas['PieceSheet'] }) {
  const names = useCatalogue().data?.schools ?? []
  const format = useFormat()
  if (piece.days == null) return null
  const by = BY[piece.days_by] ?? names.find((s) => s.key === piece.days_by)?.name ?? piece.days_by
  return (
    <details className="border-t border-line">
      <summary className="flex min-h-11 flex-wrap items-center justify-between gap-x-3">
        <span>
          <span className="figures text-2xl font-semibold">{piece.hours ?? piece.days}</span>{' '}
          {piece.hours != null ? 'hours' : 'days'}, by {by}
        </span>
        <span className="quiet no-print">all schools</span>
      </summary>
      <p className="pb-1 text-[0.95rem]">{piece.days_why}</p>
      <table className="w-full text-[0.95rem]">
        <caption className="sr-only">
          Days in the cure for {piece.tag}
          {piece.thickness_mm ? ` at ${format.length(piece.thickness_mm)}` : ''}
        </caption>
        <tbody>
          {piece.schools.map((s) => {
            const school = names.find((n) => n.key === s.school)
            const chosen = s.school === piece.days_by
            return (
              <tr key={s.school} className={`border-t border-line ${chosen ? 'font-semibold text-violet' : ''}`}>
                <th scope="row" className="py-1 text-left font-[inherit]">
                  {school?.name ?? s.school}
                  {chosen && ' (followed)'}
                  <span className="block text-[0.88rem] font-normal text-soft">{school?.words}</span>
                </th>
                <td className="figures w-20 py-1 text-right align-top">{s.days} days</td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </details>
  )
}
