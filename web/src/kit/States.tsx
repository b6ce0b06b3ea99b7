import { CircleAlert, Info, OctagonX, RefreshCw, TriangleAlert } from 'lucide-react'
import { type ReactNode, useId, useState } from 'react'
import { type Finding, problemOf } from '../api/client'

export function Loading({ what }: { what: string }) {
  return (
    <p className="table-top hatch p-6 text-soft" role="status">
      Fetching {what} …
    </p>
  )
}

interface Rest {
  isFetching: boolean
  error: unknown
  more: () => void
}

/** The way to the rest of a long list. */
export function More({ left, rest }: { left: number; rest: Rest }) {
  if (left <= 0) return null
  return (
    <div className="mt-2 grid gap-2">
      {rest.error != null && <Refused error={rest.error} />}
      <button type="button" className="press justify-self-start" disabled={rest.isFetching} onClick={rest.more}>
        {rest.isFetching ? 'Fetching more …' : `Show more: ${left} left`}
      </button>
    </div>
  )
}

/** An empty place says what to do first. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="border-2 border-dashed border-line p-6">
      <h2>{title}</h2>
      <div className="mt-1 max-w-prose text-soft">{children}</div>
    </div>
  )
}

/** A page that could not be fetched. */
export function Failed({ error, onRetry }: { error: unknown; onRetry: () => void }) {
  return (
    <div className="border-l-8 border-stop bg-stop-wash p-4" role="alert">
      <h2 className="flex items-center gap-2 text-stop">
        <CircleAlert aria-hidden /> {problemOf(error).problem.title}
      </h2>
      <p className="my-2">{problemOf(error).message}</p>
      <button type="button" className="press" onClick={onRetry}>
        <RefreshCw size={18} aria-hidden /> Try again
      </button>
    </div>
  )
}

const looks = {
  info: { Icon: Info, word: 'Good to know', frame: 'border-edge bg-steel', ink: 'text-soft' },
  caution: {
    Icon: TriangleAlert,
    word: 'Caution',
    frame: 'border-caution bg-caution-wash',
    ink: 'text-caution',
  },
  stop: { Icon: OctagonX, word: 'Stop', frame: 'border-stop bg-stop-wash', ink: 'text-stop' },
}

/** One finding: the hazard, the number seen, the number wanted, the way out. */
export function FindingNote({ finding }: { finding: Finding }) {
  const { Icon, word, frame, ink } = looks[finding.severity]
  return (
    <div className={`border-l-8 px-3 py-2 ${frame}`}>
      <p className="flex items-start gap-2">
        <Icon className={`mt-0.5 shrink-0 ${ink}`} size={21} aria-hidden />
        <span>
          <strong className={ink}>{word}.</strong> {finding.message}
          {finding.saw && <span className="figures"> It is {finding.saw}</span>}
          {finding.saw && finding.wants && <span className="figures">; wanted: {finding.wants}.</span>}
          {finding.saw && !finding.wants && '.'}
          {!finding.saw && finding.wants && <span className="figures"> Wanted: {finding.wants}.</span>}
        </span>
      </p>
      {finding.way_out && <p className="mt-0.5 pl-7 text-[0.95rem]">{finding.way_out}</p>}
    </div>
  )
}

export function Findings({ list }: { list: Finding[] }) {
  if (list.length === 0) return null
  return (
    <ul className="grid gap-2">
      {list.map((finding) => (
        <li key={finding.code + finding.message}>
          <FindingNote finding={finding} />
        </li>
      ))}
    </ul>
  )
}

const refusals = {
  question: 'border-caution bg-caution-wash',
  refused: 'border-stop bg-stop-wash',
}

interface RefusedProps {
  error: unknown
  /** Repeats what was asked about, as it was typed; or at the second of two hours of one name. */
  onKeep?: (at?: string) => void
  /** Repeats what was stopped, with a reason. */
  onReason?: (reason: string) => void
  busy?: boolean
}

/** Where the two hours are buttons, the question says it all: the second one's spelling is for programs. */
const answerable = (finding: Finding): Finding =>
  finding.code === 'hour_came_twice' ? { ...finding, saw: undefined, wants: undefined, way_out: undefined } : finding

/** A refused write: what is wrong, what to type, the way to keep an odd number, and the reason that lifts a stop. */
export function Refused({ error, onKeep, onReason, busy }: RefusedProps) {
  const [reason, setReason] = useState('')
  const field = useId()
  if (!error) return null
  const { problem } = problemOf(error)
  const isQuestion = problem.type.endsWith(':question')
  const secondHour = problem.findings?.find((f) => f.code === 'hour_came_twice')?.wants
  const wantsReason = problem.errors?.some((e) => e.code === 'reason_wanted')
  return (
    <div role="alert" className={`border-l-8 p-3 ${refusals[isQuestion ? 'question' : 'refused']}`}>
      <p className="font-semibold">{problem.detail}</p>
      <div className="mt-2 grid gap-2">
        <Findings list={(problem.findings ?? []).map(answerable)} />
        {(problem.entries ?? []).map((e) => (
          <p key={e.entry}>
            <strong>{e.what}</strong> {e.why}
          </p>
        ))}
      </div>
      {isQuestion && onKeep && (
        <div className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="press" onClick={() => onKeep()} disabled={busy}>
            {secondHour ? 'It was the first time' : 'Keep it as typed'}
          </button>
          {secondHour && (
            <button type="button" className="press" onClick={() => onKeep(secondHour)} disabled={busy}>
              It was the second time
            </button>
          )}
        </div>
      )}
      {wantsReason && onReason && (
        <div className="mt-3 grid max-w-xl gap-2">
          <label htmlFor={field} className="font-semibold">
            Why you go on all the same
          </label>
          <input id={field} className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
          <button
            type="button"
            className="press justify-self-start"
            onClick={() => onReason(reason)}
            disabled={busy || !reason.trim()}
          >
            Go on for this reason
          </button>
        </div>
      )}
    </div>
  )
}
