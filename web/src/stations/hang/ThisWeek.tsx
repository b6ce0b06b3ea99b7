import type { HangSheet } from '../../api/hang'
import { useWhen } from './Rail'

/** What may come down now, and within the week. */
export function ThisWeek({ sheet, onChoose }: { sheet: HangSheet; onChoose: (piece: number) => void }) {
  const when = useWhen()
  const now = sheet.hooks.filter((h) => h.ready === 'now')
  const week = sheet.hooks.filter((h) => h.ready === 'this_week')
  if (now.length === 0 && week.length === 0) return null
  return (
    <section aria-label="Ready this week" className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
      {[
        { title: 'May come down', list: now },
        { title: 'This week, perhaps', list: week },
      ].map(
        ({ title, list }) =>
          list.length > 0 && (
            <p key={title} className="flex flex-wrap items-center gap-2">
              <span className="font-semibold">{title}</span>
              {list.map((h) => (
                <button key={h.id} type="button" className="tag" onClick={() => onChoose(h.id)}>
                  {h.tag}
                  <span className="sr-only">, {when(h)}</span>
                </button>
              ))}
            </p>
          ),
      )}
    </section>
  )
}
