import { useEffect, useRef } from 'react'
import { problemOf, ProblemError } from '../../api/client'
import { because, kept, useLine } from '../../api/entries'
import { drop, isHeldUp, onWritten, sendAgain, type Sending } from '../../api/queue'
import { putBack } from '../../kit/drafts'
import type { Held } from '../../kit/held'
import { Failed, Refused } from '../../kit/States'

/** What a form sent and was asked about, with the answers; `here` is shown in the form itself. */
export function AskedAbout({ list, onBack }: { list: Sending[]; onBack?: (sending: Sending) => void }) {
  return list.map((s) => (
    <section key={s.key} aria-label={`Asked about ${s.words}`} className="grid gap-2 border border-line p-2">
      <p className="font-semibold">
        Not written yet: <span className="figures">{s.words}</span>
      </p>
      <Answer sending={s} />
      <p className="flex flex-wrap gap-2">
        {onBack && (
          <button type="button" className="quiet" onClick={() => onBack(s)}>
            Type it again
          </button>
        )}
        <button type="button" className="quiet" onClick={() => drop(s.key)}>
          Leave it out
        </button>
      </p>
    </section>
  ))
}

/** The refusal itself, with the way to keep it and the reason that lifts it. */
export function Answer({ sending }: { sending: Sending }) {
  if (!sending.problem) return null
  // What could not be written for want of room, a file or the right time waits for somebody to see to that.
  if (isHeldUp(sending.problem) || sending.problem.type.endsWith(':internal'))
    return <Failed error={new ProblemError(sending.problem)} onRetry={() => sendAgain(sending.key, (errand) => errand)} />
  return (
    <Refused
      error={new ProblemError(sending.problem)}
      onKeep={(at) => sendAgain(sending.key, (errand) => kept(errand, at))}
      onReason={(reason) => sendAgain(sending.key, because(reason))}
    />
  )
}

/** What this form was asked about: of the piece at hand, and of others. */
export function useAsked(form: string, piece: number | undefined) {
  const refused = useLine().filter((s) => s.owner === form && s.state === 'refused')
  const here = refused.find((s) => s.piece === piece)
  return {
    here,
    others: refused.filter((s) => s !== here),
    wrong: (field: string) => (here?.problem ? problemOf(new ProblemError(here.problem)).field(field) : undefined),
  }
}

/** Brings the piece that was asked about back to hand with its number, unless something else is being typed. */
export function useComesBack<T>(form: string, held: Held<T>, blank: T) {
  const known = useRef(new Set<string>())
  const refused = useAsked(form, undefined).others
  const latest = refused.at(-1)
  useEffect(() => {
    if (!latest || known.current.has(latest.key)) return
    known.current.add(latest.key)
    if (latest.piece === undefined || (held.isTyped && held.piece?.id !== latest.piece)) return
    putBack(`${form}.${latest.piece}`, latest.typed ?? blank, latest.words)
    held.hold(latest.piece)
  }, [latest, form, held, blank])
  // Kept as it was typed, it is done with, as if it had never been asked about.
  useEffect(
    () =>
      onWritten((sending) => {
        if (sending.owner !== form || !known.current.delete(sending.key)) return
        const isAtHand = held.piece?.id === sending.piece
        if (isAtHand && JSON.stringify(held.typed) === JSON.stringify(sending.typed)) held.advance()
      }),
    [form, held],
  )
}
