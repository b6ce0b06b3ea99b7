import { useState } from 'react'
import { problemOf } from '../../../api/client'
import { type Run, useRunActs } from '../../../api/runs'
import { Refused } from '../../../kit/States'
import { useFormat } from '../../../units'
import { asked, draftOf, type StageDraft } from '../stages'
import { StagesEditor } from '../StagesEditor'
import { useDoing } from './act'
import { Refusal } from './Refusal'

const span = (minutes: number) => {
  const m = Math.max(0, Math.round(minutes))
  return m < 60 ? `${m} min` : `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, '0')}`
}

/** The stages as a strip: what is over, what is under way and until when, what comes; the one thing to do next beside it. */
export function Stages({ run }: { run: Run }) {
  const format = useFormat()
  const doing = useDoing(run)
  const [edited, setEdited] = useState<StageDraft[]>()
  const now = run.stages.findIndex((s) => s.now)
  const begun = run.stages.reduce((n, s, i) => (s.began ? i + 1 : n), 0)
  const next = run.stages[begun]
  const isOpen = !run.ended
  const here = run.pieces.filter((p) => !p.left)
  return (
    <section aria-label="Stages" className="table-top grid gap-2 p-3">
      <ol className="flex gap-1 overflow-x-auto" tabIndex={0} aria-label="Stages in order">
        {run.stages.map((s, i) => (
          <li
            key={i}
            aria-current={s.now ? 'step' : undefined}
            className={`min-w-40 grow border-t-4 px-2.5 py-1.5 ${s.now ? 'border-violet bg-violet-wash' : s.began ? 'border-edge bg-steel' : 'border-line bg-table text-soft'}`}
          >
            <p className="font-semibold">
              {s.name}
              {s.set_c != null && <span className="figures"> {format.heat(s.set_c)}</span>}
            </p>
            <p className="figures text-[0.95rem]">
              {s.now
                ? s.over_at
                  ? `over at ${format.clock(s.over_at)}, ${span((Date.parse(s.over_at) - Date.parse(run.now)) / 60_000)} to go`
                  : `${s.ends_said}; ${span(s.minutes)} so far`
                : s.began
                  ? `${span(s.minutes)}`
                  : s.ends_said}
              {s.damper && `; damper ${s.damper}`}
            </p>
          </li>
        ))}
      </ol>
      {isOpen && (
        <div className="no-print flex flex-wrap gap-2">
          {next && here.length > 0 && (
            <button
              type="button"
              className={`press ${now < 0 || run.stages[now]?.over_at ? 'press-main' : ''}`}
              disabled={doing.busy}
              onClick={() => doing.act([{ act: 'stage_begun' }])}
            >
              {begun === 0 ? 'Begin: ' : 'On to: '}
              {next.name}
            </button>
          )}
          {now >= 0 && (
            <button type="button" className="press" disabled={doing.busy} onClick={() => doing.act([{ act: 'paused' }])}>
              Pause
            </button>
          )}
          {run.paused && begun > 0 && (
            <button
              type="button"
              className="press press-main"
              disabled={doing.busy}
              onClick={() => doing.act([{ act: 'resumed' }])}
            >
              Go on
            </button>
          )}
          <button
            type="button"
            className="press"
            onClick={() => setEdited((e) => (e ? undefined : run.stages.map((s) => draftOf(s, format.heat))))}
          >
            {edited ? 'Leave the stages' : 'Change the stages'}
          </button>
          <button type="button" className="press" disabled={doing.busy} onClick={() => doing.act([{ act: 'ended' }])}>
            It is over
          </button>
        </div>
      )}
      <Refusal doing={doing} />
      {edited && isOpen && (
        <EditStages run={run} fixed={begun} stages={edited} onChange={setEdited} onDone={() => setEdited(undefined)} />
      )}
    </section>
  )
}

function EditStages(props: {
  run: Run
  fixed: number
  stages: StageDraft[]
  onChange: (s: StageDraft[]) => void
  onDone: () => void
}) {
  const write = useRunActs(props.run.id)
  const send = (more: object = {}) =>
    write.mutate(
      { acts: [{ act: 'staged', stages: props.stages.map(asked) }], seen: props.run.version, ...more },
      { onSuccess: props.onDone },
    )
  const wrong = (field: string) => (write.error ? problemOf(write.error).field(`acts[0].${field}`) : undefined)
  return (
    <form
      aria-label="Change the stages"
      className="grid gap-2 border-t border-line pt-2"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <StagesEditor stages={props.stages} onChange={props.onChange} fixed={props.fixed} wrong={wrong} />
      {write.error != null && (
        <Refused
          error={write.error}
          onKeep={() => send({ keep_as_typed: true })}
          onReason={(reason) => send({ keep_as_typed: true, reason })}
          busy={write.isPending}
        />
      )}
      <button type="submit" className="press press-main bench justify-self-start" disabled={write.isPending}>
        These stages
      </button>
    </form>
  )
}
