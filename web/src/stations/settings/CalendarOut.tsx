import { CalendarDays, Download } from 'lucide-react'
import { useState } from 'react'
import { useAgenda, useFeed } from '../../api/today'
import { Failed, Loading, Refused } from '../../kit/States'

/** The plan for a calendar program: as a file, or under a secret address that it asks again and again. */
export function CalendarOut() {
  const agenda = useAgenda()
  const feed = useFeed()
  const [copied, setCopied] = useState(false)
  const path = agenda.data?.feed
  const address = path ? `${window.location.origin}${path}` : undefined
  const copy = async () => {
    if (!address) return
    // A page under a plain address may not write to the clipboard; then it is marked and copied by hand.
    await navigator.clipboard?.writeText(address).then(
      () => setCopied(true),
      () => setCopied(false),
    )
  }
  return (
    <section id="calendar" aria-label="Calendar" className="table-top grid max-w-3xl scroll-mt-32 gap-3 p-4">
      <div>
        <h2>
          <CalendarDays size={20} aria-hidden className="mr-1.5 inline" />
          In a calendar
        </h2>
        <p className="text-soft">
          What is planned, with alarms. What moves, moves there too; what is done or falls away is cancelled there.
        </p>
      </div>
      {agenda.isPending && <Loading what="the calendar" />}
      {agenda.isLoadingError && <Failed error={agenda.error} onRetry={() => agenda.refetch()} />}
      {feed.error != null && <Refused error={feed.error} />}
      {agenda.data && (
        <>
          {address ? (
            <>
              <label className="grid gap-1 font-semibold">
                Secret address for a calendar program
                <input
                  className="field figures text-[0.9rem]"
                  readOnly
                  value={address}
                  onFocus={(e) => e.currentTarget.select()}
                />
              </label>
              <p className="text-[0.95rem] text-soft">
                Whoever knows it reads the plan, and nothing else. The program has to reach this machine under that address.
              </p>
              <p className="flex flex-wrap gap-2">
                <button type="button" className="press" onClick={() => void copy()}>
                  {copied ? 'Copied' : 'Copy it'}
                </button>
                <button type="button" className="press" disabled={feed.isPending} onClick={() => feed.mutate(true)}>
                  Give a new one; the old answers no more
                </button>
                <button type="button" className="quiet" disabled={feed.isPending} onClick={() => feed.mutate(false)}>
                  End it
                </button>
              </p>
            </>
          ) : (
            <button
              type="button"
              className="press press-main bench justify-self-start"
              disabled={feed.isPending}
              onClick={() => feed.mutate(true)}
            >
              Make a secret address to subscribe to
            </button>
          )}
          <a href="/api/v1/calendar.ics" download="plan.ics" className="quiet justify-self-start">
            <Download size={18} aria-hidden /> As a file, once
          </a>
        </>
      )}
    </section>
  )
}
