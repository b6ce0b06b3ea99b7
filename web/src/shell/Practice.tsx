import { Hourglass } from 'lucide-react'
import { problemOf } from '../api/client'
import { useMoveClock, useSettings } from '../api/settings'
import { useFormat } from '../units'

/** On every printed page: nothing of a household for practice is real. Its labels say so themselves. */
export function PracticeMark() {
  const practice = useSettings().data?.practice ?? false
  return practice ? <p className="print-only practice-mark">PRACTICE</p> : null
}

/** The clock of a household for practice: plainly marked as that on every page, and moved on by hand. */
export function Practice() {
  const settings = useSettings().data
  const move = useMoveClock()
  const format = useFormat()
  if (!settings?.practice) return null
  const went = move.data
  return (
    <aside aria-label="Practice clock" className="no-print border-t border-line bg-caution-wash">
      <div className="mx-auto flex max-w-[1240px] flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1 sm:px-5">
        <p className="grow">
          <Hourglass size={18} aria-hidden className="mr-1.5 inline" />
          <strong>Practice.</strong> It is{' '}
          <span className="figures font-semibold" role="timer" aria-label="the present">
            {format.moment(settings.now)}
          </span>
          {went && went.came_due > 0 && (
            <span role="status">; {went.came_due === 1 ? 'one thing' : `${went.came_due} things`} came due meanwhile</span>
          )}
          .
        </p>
        <div className="flex flex-wrap gap-x-1">
          <button type="button" className="quiet" disabled={move.isPending} onClick={() => move.mutate({ by: '1 h' })}>
            An hour on
          </button>
          <button
            type="button"
            className="quiet"
            disabled={move.isPending}
            onClick={() => move.mutate({ until: 'next_morning' })}
          >
            Next morning
          </button>
          <button type="button" className="quiet" disabled={move.isPending} onClick={() => move.mutate({ until: 'next_due' })}>
            Next due
          </button>
        </div>
        {move.error && <p className="w-full font-semibold text-stop">{problemOf(move.error).problem.detail}</p>}
      </div>
    </aside>
  )
}
