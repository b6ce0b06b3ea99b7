import { Link } from '@tanstack/react-router'
import { Check } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { ActAsk, Schemas } from '../../api/client'
import { useMarks } from '../../api/marks'
import { useSettings } from '../../api/settings'
import { useMoreLabels, useMoreTasks, useToday } from '../../api/today'
import { Page } from '../../kit/Page'
import { useSettled } from '../../kit/settled'
import { Empty, Failed, Loading, More } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { useVerdictWords } from '../../kit/Verdict'
import { useFormat } from '../../units'
import { AskedAbout } from '../weigh/AskedAbout'
import { taskStation, taskWords } from '../words'

type TaskView = Schemas['TaskView']

const groupWords = {
  overdue: { title: 'Overdue', mark: 'border-stop', ink: 'text-stop' },
  due: { title: 'Due', mark: 'border-violet', ink: 'text-violet' },
  coming: { title: 'Coming', mark: 'border-line', ink: 'text-soft' },
}

/** What needs hands now, for all pieces. */
export function Today() {
  const today = useToday()
  const empty = useSettings().data?.empty
  if (today.isPending)
    return (
      <Page title="Today">
        <Loading what="what is due" />
      </Page>
    )
  if (today.isLoadingError)
    return (
      <Page title="Today">
        <Failed error={today.error} onRetry={() => today.refetch()} />
      </Page>
    )
  const groups = today.data.groups.filter((g) => g.in_all > 0)
  return (
    <Page title="Today" side={<DayLine />}>
      {empty && (
        <Empty title="Nothing has come in yet">
          <p>Begin with an animal or a purchase. Everything else follows from its weight.</p>
          <p className="mt-2">
            Home curing is at your own risk. This program computes, asks and warns; it does not certify. Your local food-safety
            and game rules, your extension office and, where you sell, your inspector come first.
          </p>
          <Link to="/receive" className="press press-main bench mt-4">
            Receive the first one
          </Link>
        </Empty>
      )}
      {!empty && groups.length === 0 && today.data.labels.in_all === 0 && (
        <Empty title="Nothing needs hands today">
          All pieces rest, or everything is packed.{' '}
          <Link className="quiet" to="/tally">
            Look at the tally
          </Link>
        </Empty>
      )}
      <div className="grid gap-6">
        <Labels labels={today.data.labels} />
        {groups.map((g) => (
          <Group key={g.urgency} group={g} />
        ))}
        <Waits waits={today.data.waits} />
      </div>
    </Page>
  )
}

/** Packs whose label no longer holds, until they are relabelled or thrown away. */
function Labels({ labels }: { labels: Schemas['LabelsOutdated'] }) {
  const words = useVerdictWords()
  const format = useFormat()
  const rest = useMoreLabels(labels)
  const packs = [labels, ...rest.pages].flatMap((p) => p.packs)
  if (labels.in_all === 0) return null
  return (
    <section aria-label="Labels that no longer hold">
      <h2 className="mb-1.5 text-stop">
        Labels that no longer hold <span className="figures font-normal">{labels.in_all}</span>
      </h2>
      <ul className="table-top divide-y divide-line border-l-8 border-stop">
        {packs.map((p) => (
          <li key={p.pack} className="grid gap-x-3 gap-y-1 p-2.5 sm:grid-cols-[8rem_1fr_auto] sm:items-center sm:px-4">
            <PieceTag id={p.piece} tag={p.tag} />
            <div className="min-w-0">
              <p className="font-semibold">
                {p.product}: {words(p.verdict)}
              </p>
              <p className="text-[0.95rem]">
                Printed as “{words(p.printed)}” on {format.date(p.printed_on)}. {p.verdict.reasons[0]?.message}
              </p>
            </div>
            <span className="flex flex-wrap gap-2">
              <Link to="/trace/packs/$id" params={{ id: String(p.pack) }} className="quiet">
                What is in it
              </Link>
              <Link to="/pieces/$id" params={{ id: String(p.piece) }} className="press press-main">
                {p.verdict.word === 'do_not_eat' ? 'Throw it away' : 'Relabel'}
              </Link>
            </span>
          </li>
        ))}
      </ul>
      <More left={labels.in_all - packs.length} rest={rest} />
    </section>
  )
}

/** What holds an animal back, and frozen stock with its day. */
function Waits({ waits }: { waits: Schemas['LotWaits'][] }) {
  const format = useFormat()
  if (waits.length === 0) return null
  return (
    <section aria-label="Waited for">
      <h2 className="mb-1.5 text-soft">
        Waited for <span className="figures font-normal">{waits.length}</span>
      </h2>
      <ul className="table-top divide-y divide-line border-l-8 border-line">
        {waits.map((w) => (
          <li key={w.tag + (w.hold?.kind ?? 'thaw')}>
            <Link
              to="/breakdown/$id"
              params={{ id: String(w.lot) }}
              className="grid grid-cols-[auto_1fr] items-center gap-3 p-2.5 hover:bg-violet-wash"
            >
              <PlainTag tag={w.tag} />
              <span>
                <strong>{w.hold ? w.hold.name : 'Thaw and use'}</strong> <span className="text-soft">{w.name}</span>
                <span className={`block text-[0.95rem] ${w.hold?.status === 'bad' ? 'font-semibold text-stop' : 'text-soft'}`}>
                  {w.thaw_by && `by ${format.day(w.thaw_by)}`}
                  {w.hold?.freezing && `${w.hold.freezing.days_gone.toFixed(1)} of ${w.hold.freezing.days} days`}
                  {w.hold &&
                    !w.hold.freezing &&
                    (w.hold.status === 'bad'
                      ? 'positive: do not eat'
                      : w.hold.status === 'waiting'
                        ? 'sent in, the answer is waited for'
                        : w.hold.words)}
                </span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

function DayLine() {
  const settings = useSettings().data
  if (!settings) return null
  const day = new Date(settings.today).toLocaleDateString('en', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: 'UTC',
  })
  return <p className="text-soft">{day}</p>
}

function Group({ group }: { group: Schemas['TaskGroup'] }) {
  const { title, mark, ink } = groupWords[group.urgency]
  const rest = useMoreTasks(group)
  const tasks = [group, ...rest.pages].flatMap((p) => p.tasks)
  const turns = tasks.filter((t) => t.task.kind === 'turn')
  // The turnings keep their place for as long as one of them stands there done.
  const [hadTurns, setHadTurns] = useState(turns.length > 0)
  if (turns.length > 0 && !hadTurns) setHadTurns(true)
  const others = tasks.filter((t) => t.task.kind !== 'turn')
  const isNow = group.urgency !== 'coming'
  return (
    <section aria-label={title}>
      <h2 className={`mb-1.5 ${ink}`}>
        {title} <span className="figures font-normal">{group.in_all}</span>
      </h2>
      <ul className={`table-top divide-y divide-line border-l-8 ${mark}`}>
        {hadTurns && <Turnings turns={turns} isNow={isNow} />}
        {others.map((t) => (
          <Row key={t.task.kind + t.piece.id} view={t} isNow={isNow} />
        ))}
      </ul>
      <More left={group.in_all - tasks.length} rest={rest} />
    </section>
  )
}

function turnWords(open: TaskView[]) {
  const many = open.some((t) => (t.task.with ?? []).length > 0)
  const [one, more] = many ? ['one vessel', 'vessels'] : ['one piece', 'pieces']
  return open.length === 1 ? one : `${open.length} ${more}`
}

const turned = (piece: number): ActAsk => ({ act: 'turned', piece })

/** A piece, or the vessel with all that lie in it. */
const inVessel = (t: TaskView) => t.task.vessel_name ?? [t.piece.tag, ...(t.task.with_tags ?? [])].join(' and ')

/** Turnings are one tap each, or one for all. What was turned stays in its place with its undo. */
function Turnings({ turns, isNow }: { turns: TaskView[]; isNow: boolean }) {
  const marks = useMarks('turned')
  const format = useFormat()
  const list = useSettled(turns, (t) => t.piece.id)
  const open = list.rows.filter((r) => !r.isDone && !r.isGone)
  const turn = (which: TaskView[]) => {
    const ids = which.map((t) => t.piece.id)
    list.mark(ids)
    marks.write(
      which.map((t) => ({ id: t.piece.id, acts: [t.piece.id, ...(t.task.with ?? [])].map(turned) })),
      `turned ${which.map(inVessel).join(', ')}`,
    )
  }
  useEffect(() => marks.onRefused((ids) => list.unmark(ids)))
  if (list.rows.length === 0) return null
  return (
    <li className="grid gap-2 p-2.5 sm:px-4" {...list.area}>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <p className="font-semibold">
          {open.length === 0 ? 'All turned' : `${isNow ? 'Turn' : 'To be turned'} ${turnWords(open.map((r) => r.row))}`}
        </p>
        {isNow && list.rows.length > 1 && (
          <button
            type="button"
            className="press press-main"
            disabled={open.length === 0}
            onClick={() => turn(open.map((r) => r.row))}
          >
            <Check size={20} aria-hidden /> All {open.length > 0 && open.length} turned
          </button>
        )}
      </div>
      <ul className="grid gap-x-6 gap-y-1 sm:grid-cols-2">
        {list.rows.map(({ row: t, isDone, isGone }) => (
          <li key={t.piece.id} className="grid grid-cols-[minmax(0,1fr)_auto_7.5rem] items-center gap-1">
            <span className="min-w-0">
              <PieceTag id={t.piece.id} tag={t.piece.tag} />
              {(t.task.with_tags ?? []).length > 0 && (
                <span className="block truncate text-[0.92rem] text-soft">
                  {t.task.vessel_name ?? 'one vessel'}, with {(t.task.with_tags ?? []).join(', ')}
                </span>
              )}
            </span>
            {isNow ? (
              <>
                <span>
                  {isDone && (
                    <button
                      type="button"
                      className="quiet"
                      onClick={() => marks.undo(t.piece.id, () => list.unmark([t.piece.id]))}
                    >
                      Undo<span className="sr-only"> turning {t.piece.tag}</span>
                    </button>
                  )}
                </span>
                {isDone || isGone ? (
                  <span className="flex min-h-11 items-center justify-center gap-1.5 text-good" aria-live="polite">
                    <Check size={18} aria-hidden /> {isDone ? 'turned' : 'done'}
                    <span className="sr-only"> {t.piece.tag}</span>
                  </span>
                ) : (
                  <button type="button" className="press !px-2" onClick={() => turn([t])}>
                    Turned<span className="sr-only"> {t.piece.tag}</span>
                  </button>
                )}
              </>
            ) : (
              <span className="col-span-2 text-soft">{format.day(t.task.due)}</span>
            )}
          </li>
        ))}
      </ul>
      <AskedAbout list={marks.refused} />
    </li>
  )
}

function Row({ view, isNow }: { view: TaskView; isNow: boolean }) {
  const { task, piece } = view
  const format = useFormat()
  return (
    <li className="grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-0.5 p-2.5 sm:grid-cols-[8rem_1fr_auto] sm:px-4">
      <div>
        <PieceTag id={piece.id} tag={piece.tag} />
      </div>
      <div className="min-w-0">
        <p className="font-semibold">{taskWords[task.kind]}</p>
        <p className="truncate text-[0.95rem] text-soft">
          {piece.build_name ?? piece.cut_name} · <span className="figures">{format.mass(piece.mass_g)}</span> · {piece.lot_name}
        </p>
        <p className="text-[0.95rem] text-soft">
          {task.urgency === 'overdue' ? 'was due' : 'planned'} {format.day(task.due)}
          {task.kind === 'out_of_cure' && piece.cure?.out_at && <>, at {format.moment(piece.cure.out_at)}</>}
          {task.latest !== task.due && task.urgency !== 'overdue' && <>, can wait until {format.until(task.latest)}</>}
        </p>
      </div>
      <Link to={taskStation[task.kind]} search={{ piece: piece.id }} className={`press ${isNow ? 'press-main' : ''}`}>
        {isNow ? 'Do it' : 'Look'}
        <span className="sr-only">
          : {taskWords[task.kind]} {piece.tag}
        </span>
      </Link>
    </li>
  )
}
