import { Link } from '@tanstack/react-router'
import { BellRing } from 'lucide-react'
import type { Schemas } from '../api/client'
import { useAlarms, useRunActs } from '../api/runs'
import { useNoticed } from './notices'
import { useRinging } from './ring'

/** What rings at the fire, on every page until it is answered. */
export function Alarms() {
  const list = useAlarms().data?.alarms ?? []
  const words = list.length > 0 ? list.map((a) => a.message).join(' ') : undefined
  useRinging(words)
  useNoticed(words)
  if (list.length === 0) return null
  return (
    <aside aria-label="At the fire" className="no-print max-h-[32vh] overflow-y-auto border-t-2 border-violet bg-table">
      <div role="alert" className="mx-auto grid max-w-[1240px] gap-1 px-3 py-1.5 sm:px-5">
        {list.map((a, i) => (
          <Ringing key={`${a.run} ${a.key}`} alarm={a} isFirst={i === 0} />
        ))}
        {list.length > 1 && <p className="px-3 font-semibold sm:hidden">and {list.length - 1} more after this</p>}
      </div>
    </aside>
  )
}

/** On a phone one after the other: what rings must not hide the work. */
function Ringing({ alarm, isFirst }: { alarm: Schemas['AlarmView']; isFirst: boolean }) {
  const act = useRunActs(alarm.run)
  return (
    <div
      className={`${isFirst ? 'flex' : 'hidden sm:flex'} flex-wrap items-center gap-x-4 gap-y-1 border-l-8 border-violet bg-violet-wash px-3 py-1.5`}
    >
      <p className="min-w-0 grow basis-64 font-semibold">
        <BellRing className="mr-1.5 inline" size={20} aria-hidden />
        {alarm.message}
      </p>
      <button
        type="button"
        className="press press-main"
        disabled={act.isPending}
        onClick={() => act.mutate({ acts: [{ act: 'answered', alarm: alarm.key }] })}
      >
        I see to it
      </button>
      <Link to="/smoke/runs/$id" params={{ id: String(alarm.run) }} className="quiet">
        {alarm.run_name}
      </Link>
    </div>
  )
}
