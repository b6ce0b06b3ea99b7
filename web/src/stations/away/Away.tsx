import { useNavigate, useSearch } from '@tanstack/react-router'
import { CalendarClock } from 'lucide-react'
import { problemOf, type Schemas } from '../../api/client'
import { useAgenda, useAway, useMoveBack, useMoveTasks } from '../../api/today'
import { Page } from '../../kit/Page'
import { Empty, Failed, Loading, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { rowWords } from '../today/words'

const groupWords: Record<Schemas['Leave'], { title: string; mark: string; ink: string }> = {
  cannot: { title: 'Cannot be left', mark: 'border-stop', ink: 'text-stop' },
  before: { title: 'Before you leave', mark: 'border-violet', ink: 'text-violet' },
  waits: { title: 'Waits until you are back', mark: 'border-good', ink: 'text-good' },
  missed: { title: 'Falls out', mark: 'border-line', ink: 'text-soft' },
}

/** What it means when nobody is at home for some days. */
export function Away() {
  const { from = '', to = '' } = useSearch({ from: '/away' })
  const navigate = useNavigate({ from: '/away' })
  const set = (days: { from?: string; to?: string }) => void navigate({ search: (s) => ({ ...s, ...days }), replace: true })
  const format = useFormat()
  const away = useAway(from, to)
  return (
    <Page title="Away" lead="Nobody at home from one day to another: what is done before, what waits, and what cannot.">
      <form className="table-top mb-5 flex flex-wrap gap-x-5 gap-y-2 p-3" onSubmit={(e) => e.preventDefault()}>
        <Day label="From" value={from} least={format.today} onChange={(from) => set({ from })} />
        <Day label="To, the last day away" value={to} least={from || format.today} onChange={(to) => set({ to })} />
      </form>
      {from === '' || to === '' ? (
        <Empty title="Say from when until when">Both days are days on which nobody is at home.</Empty>
      ) : away.isPending ? (
        <Loading what="what falls into that" />
      ) : away.isError ? (
        problemOf(away.error).problem.errors?.length ? (
          <Refused error={away.error} />
        ) : (
          <Failed error={away.error} onRetry={() => away.refetch()} />
        )
      ) : (
        <Found away={away.data} />
      )}
      <Moved />
    </Page>
  )
}

interface DayProps {
  label: string
  value: string
  least: string
  onChange: (day: string) => void
}

function Day({ label, value, least, onChange }: DayProps) {
  return (
    <label className="grid gap-1 font-semibold">
      {label}
      <input type="date" className="field figures" value={value} min={least} onChange={(e) => onChange(e.target.value)} />
    </label>
  )
}

function Found({ away }: { away: Schemas['Away'] }) {
  const format = useFormat()
  const move = useMoveTasks()
  if (away.groups.length === 0 && away.places.length === 0)
    return <Empty title="Nothing falls into these days">Go with an easy mind: everything rests, or comes before or after.</Empty>
  const moveOf = (l: Schemas['AwayLine']): Schemas['Move'][] =>
    l.move_to ? [{ piece: l.task.piece, kind: l.task.kind, step: l.task.step?.id ?? null, to: l.move_to }] : []
  return (
    <div className="grid gap-5">
      {away.places.map((words) => (
        <p key={words} className="border-l-8 border-caution bg-caution-wash px-3 py-2">
          {words}
        </p>
      ))}
      {move.error != null && <Refused error={move.error} />}
      {away.groups.map((g) => {
        const moves = g.lines.flatMap(moveOf).filter((m) => m.to)
        const { title, mark, ink } = groupWords[g.leave]
        return (
          <section key={g.leave} aria-label={title}>
            <div className="mb-1.5 flex flex-wrap items-center justify-between gap-2">
              <h2 className={ink}>
                {title} <span className="figures font-normal">{g.lines.length}</span>
              </h2>
              {moves.length > 1 && (
                <button type="button" className="press" disabled={move.isPending} onClick={() => move.mutate(moves)}>
                  <CalendarClock size={18} aria-hidden /> Move all {moves.length}
                </button>
              )}
            </div>
            <ul className={`table-top divide-y divide-line border-l-8 ${mark}`}>
              {g.lines.map((l) => (
                <li
                  key={l.task.kind + l.task.piece}
                  className="grid gap-x-3 gap-y-1 p-2.5 sm:grid-cols-[9rem_1fr_auto] sm:items-center sm:px-4"
                >
                  <span>
                    <PieceTag id={l.task.piece} tag={l.task.tag} />
                  </span>
                  <div>
                    <p>
                      <strong>{rowWords({ kind: l.task.kind, step: l.task.step?.kind })}</strong>{' '}
                      <span className="text-soft">
                        planned {format.until(l.task.due)}
                        {l.task.hours && <>, {format.clock(l.task.hours.due)}</>}
                        {l.task.moved && ', moved'}
                      </span>
                    </p>
                    <p className="text-[0.95rem] text-soft">{l.words}</p>
                  </div>
                  {l.move_to &&
                    (l.task.due === l.move_to ? (
                      <span className="font-semibold text-good">moved</span>
                    ) : (
                      <button type="button" className="press" disabled={move.isPending} onClick={() => move.mutate(moveOf(l))}>
                        To {format.until(l.move_to)}
                        <span className="sr-only">: {l.task.tag}</span>
                      </button>
                    ))}
                </li>
              ))}
            </ul>
          </section>
        )
      })}
    </div>
  )
}

/** What was moved, and the way back. */
function Moved() {
  const agenda = useAgenda().data
  const back = useMoveBack()
  const format = useFormat()
  if (!agenda || agenda.moves.length === 0) return null
  return (
    <section aria-label="Moved" className="mt-6">
      <h2 className="mb-1.5 text-soft">
        Moved to another day <span className="figures font-normal">{agenda.moves.length}</span>
      </h2>
      {back.error != null && <Refused error={back.error} />}
      <ul className="table-top divide-y divide-line">
        {agenda.moves.map((t) => (
          <li key={t.kind + t.piece} className="flex flex-wrap items-center gap-x-3 p-2 sm:px-3">
            <PieceTag id={t.piece} tag={t.tag} />
            <span className="grow">
              {rowWords({ kind: t.kind, step: t.step?.kind })}: {format.until(t.due)}
            </span>
            <button
              type="button"
              className="quiet"
              disabled={back.isPending}
              onClick={() => back.mutate({ piece: t.piece, kind: t.kind, step: t.step?.id ?? null })}
            >
              Back to its own day<span className="sr-only"> {t.tag}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
