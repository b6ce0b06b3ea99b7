import { Link } from '@tanstack/react-router'
import { BellRing } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { useRuns } from '../../api/runs'
import { useFormat } from '../../units'

/** What goes on in smoker, oven and pot now; nothing where nothing does. */
export function AtTheFire() {
  const runs = useRuns().data?.open ?? []
  return <RunList title="At the fire now" list={runs} />
}

/** The run that a piece lies in. */
export function LiesIn({ tag }: { tag: string }) {
  const run = useRuns().data?.open.find((r) => r.tags.includes(tag))
  if (!run) return null
  return (
    <p>
      <Link to="/smoke/runs/$id" params={{ id: String(run.id) }} className="quiet">
        It lies in {run.name}
        {run.stage && `: ${run.stage}`}
      </Link>
    </p>
  )
}

/** Runs, each with what lies in it and how it stands. */
export function RunList({ title, list, inAll }: { title: string; list: Schemas['RunCard'][]; inAll?: number }) {
  const format = useFormat()
  if (list.length === 0) return null
  return (
    <section aria-label={title}>
      <h2 className="mb-1.5">{title}</h2>
      <ul className="table-top divide-y divide-line">
        {list.map((r) => (
          <li key={r.id}>
            <Link
              to="/smoke/runs/$id"
              params={{ id: String(r.id) }}
              className="flex min-h-14 flex-wrap items-center gap-x-4 gap-y-1 px-3 py-2 hover:bg-violet-wash"
            >
              <strong className="text-lg">{r.name}</strong>
              <span className="figures">{r.tags.join(', ')}</span>
              <span className="grow text-right text-soft">
                {r.ended
                  ? `over ${format.moment(r.ended)}`
                  : r.paused
                    ? `pauses since ${format.moment(r.paused)}`
                    : (r.stage ?? 'set up, not begun')}
              </span>
              {r.alarms > 0 && (
                <span className="flex items-center gap-1 font-semibold text-violet">
                  <BellRing size={18} aria-hidden /> {r.alarms} {r.alarms === 1 ? 'rings' : 'ring'}
                </span>
              )}
            </Link>
          </li>
        ))}
      </ul>
      {inAll !== undefined && inAll > list.length && <p className="mt-1 text-soft">and {inAll - list.length} older ones</p>}
    </section>
  )
}
