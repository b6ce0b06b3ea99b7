import type { Schemas } from '../../api/client'
import { Fold } from '../../kit/Page'
import { useFormat } from '../../units'
import { rowWords } from './words'

/** Tomorrow, and the week after it at a glance. */
export function Ahead({ days }: { days: Schemas['DayAhead'][] }) {
  const [tomorrow, ...rest] = days
  const later = rest.filter((d) => d.lines.length > 0)
  if (!tomorrow) return null
  return (
    <section aria-label="Tomorrow and the week">
      <h2 className="mb-1">Tomorrow</h2>
      <DayBox day={tomorrow} />
      {later.length > 0 && (
        <>
          <div className="hidden lg:block">
            <h2 className="mt-4 mb-1 text-soft">The days after</h2>
            <Days days={later} />
          </div>
          <div className="lg:hidden">
            <Fold title="The days after">
              <Days days={later} />
            </Fold>
          </div>
        </>
      )}
    </section>
  )
}

function Days({ days }: { days: Schemas['DayAhead'][] }) {
  const format = useFormat()
  return (
    <ol className="grid gap-2">
      {days.map((d) => (
        <li key={d.day}>
          <h3 className="text-[0.95rem]">{format.until(d.day)}</h3>
          <DayBox day={d} />
        </li>
      ))}
    </ol>
  )
}

function DayBox({ day }: { day: Schemas['DayAhead'] }) {
  if (day.lines.length === 0) return <p className="table-top px-3 py-1.5 text-soft">Nothing is planned.</p>
  return (
    <ul className="table-top divide-y divide-line">
      {day.lines.map((l) => (
        <li key={l.kind + (l.step ?? '')} className="grid grid-cols-[1fr_auto] gap-x-3 px-3 py-1 text-[0.95rem]">
          <span className="font-semibold">
            {rowWords(l)}
            {l.two_people && <span className="font-normal text-soft">, two people</span>}
          </span>
          <span className="figures text-soft">{l.count}</span>
          <span className="figures col-span-2 text-[0.9rem] text-soft">
            {l.tags.join(', ')}
            {l.count > l.tags.length && ' …'}
          </span>
        </li>
      ))}
    </ul>
  )
}
