import words from '../api/words.json'
import { Link } from '@tanstack/react-router'
import { AlarmClock } from 'lucide-react'
import type { ActAsk } from '../api/client'
import { useLine } from '../api/entries'
import { send } from '../api/queue'
import { elapsed, left, span, type Timer, useTimers } from '../api/timers'
import { AskedAbout } from '../stations/weigh/AskedAbout'
import { useNoticed } from './notices'
import { useRinging } from './ring'

const OWNER = 'timers'
/** What one gives something that is not done yet (min). */
const A_LITTLE = 5

const over: Record<Timer['what'], string> = words.TimerFor.done

/** What rings, on every page until it is answered; and what runs. */
export function Timers() {
  const { list, now } = useTimers()
  const refused = useLine().filter((s) => s.owner === OWNER && s.state === 'refused')
  const ringing = list.filter((t) => left(t, now) <= 0)
  const running = list.filter((t) => left(t, now) > 0)
  const words = ringing.length > 0 ? ringing.map((t) => `${t.tag} ${over[t.what]}`).join(', ') : undefined
  useRinging(words)
  useNoticed(words)
  if (list.length === 0 && refused.length === 0) return null
  return (
    <aside aria-label="Timers" className="no-print max-h-[50vh] overflow-y-auto border-t-2 border-violet bg-table">
      <div className="mx-auto grid max-w-[1240px] gap-1 px-3 py-1.5 sm:px-5">
        <div role="alert" className="grid gap-1">
          {ringing.map((t) => (
            <Ringing key={`${t.piece}-${t.what}`} timer={t} now={now} />
          ))}
        </div>
        {running.length > 0 && (
          <p className="flex flex-wrap gap-x-5 text-[0.95rem]">
            {running.map((t) => (
              <Link key={`${t.piece}-${t.what}`} to="/pieces/$id" params={{ id: String(t.piece) }} className="quiet">
                <AlarmClock size={17} aria-hidden /> {t.tag} {t.said}:{' '}
                <span className="figures font-semibold" role="timer" aria-label={`${t.tag}, time left`}>
                  {span(left(t, now))}
                </span>
              </Link>
            ))}
          </p>
        )}
        <AskedAbout list={refused} />
      </div>
    </aside>
  )
}

const lasted = (minutes: number) => (minutes >= 180 ? `${Number((minutes / 60).toFixed(1))} h` : `${minutes} min`)

function Ringing({ timer, now }: { timer: Timer; now: number }) {
  const isSent = useLine().some((s) => s.owner === OWNER && s.state !== 'refused' && s.typed === timer.entry)
  const common = { owner: OWNER, typed: timer.entry, piece: timer.piece }
  const act = (act: ActAsk, words: string) => send({ to: 'entries', ask: { acts: [act] } }, { ...common, words })
  const { piece, what } = timer
  const isLate = left(timer, now) < -60_000
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-l-8 border-violet bg-violet-wash px-3 py-1.5">
      <p className="min-w-0 grow basis-64 font-semibold">
        <AlarmClock className="mr-1.5 inline" size={21} aria-hidden />
        {timer.tag}: {lasted(timer.minutes)} {timer.said} are over
        {isLate && (
          <>
            , <span className="figures">{span(left(timer, now))}</span> ago
          </>
        )}
        .{timer.note && ` Then: ${timer.note}`}
      </p>
      {what === 'soak' ? (
        <button
          type="button"
          className="press press-main"
          disabled={isSent}
          onClick={() => {
            const minutes = elapsed(timer, now)
            act({ act: 'soaked', piece, minutes, changes: 0, iced: false }, `${timer.tag} out of the water`)
          }}
        >
          Out of the water now
        </button>
      ) : (
        <button
          type="button"
          className="press press-main"
          disabled={isSent}
          onClick={() => act({ act: 'timer_answered', piece, what }, `${timer.tag} ${over[what]}`)}
        >
          {what === 'salt_box' ? 'I see to it' : 'It has rested'}
        </button>
      )}
      <button
        type="button"
        className="press"
        disabled={isSent}
        onClick={() => {
          const words = `${timer.tag}: ${A_LITTLE} min more`
          const set = (minutes: number): ActAsk => ({ act: 'timer_set', piece, what, minutes, note: timer.note })
          // The timer of a salt box is set by its dose, which stands as it is.
          if (what === 'salt_box') return act(set(A_LITTLE), words)
          send({ to: 'correction', entry: timer.entry, ask: { act: set(elapsed(timer, now) + A_LITTLE) } }, { ...common, words })
        }}
      >
        {A_LITTLE} minutes more
      </button>
      {what === 'salt_box' ? (
        <Link to="/cure" search={{ piece }} className="quiet">
          Weigh it out of the salt
        </Link>
      ) : (
        <Link to="/pieces/$id" params={{ id: String(piece) }} className="quiet">
          Its page
        </Link>
      )}
    </div>
  )
}
