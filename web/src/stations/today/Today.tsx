import { Link } from '@tanstack/react-router'
import { Check } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useSettings } from '../../api/settings'
import { useToday } from '../../api/today'
import { Page } from '../../kit/Page'
import { Empty, Failed, Loading, Refused } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { useFormat } from '../../units'
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
  if (today.isError)
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
      {!empty && groups.length === 0 && (
        <Empty title="Nothing needs hands today">
          All pieces rest, or everything is packed.{' '}
          <Link className="quiet" to="/tally">
            Look at the tally
          </Link>
        </Empty>
      )}
      <div className="grid gap-6">
        {groups.map((g) => (
          <Group key={g.urgency} group={g} />
        ))}
        <Waits waits={today.data.waits} />
      </div>
    </Page>
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
  const turns = group.tasks.filter((t) => t.task.kind === 'turn')
  const others = group.tasks.filter((t) => t.task.kind !== 'turn')
  const isNow = group.urgency !== 'coming'
  return (
    <section aria-label={title}>
      <h2 className={`mb-1.5 ${ink}`}>
        {title} <span className="figures font-normal">{group.in_all}</span>
      </h2>
      <ul className={`table-top divide-y divide-line border-l-8 ${mark}`}>
        {turns.length > 0 && <Turnings turns={turns} isNow={isNow} />}
        {others.map((t) => (
          <Row key={t.task.kind + t.piece.id} view={t} isNow={isNow} />
        ))}
      </ul>
      {group.tasks.length < group.in_all && (
        <p className="mt-1 text-soft">And {group.in_all - group.tasks.length} more after these.</p>
      )}
    </section>
  )
}

/** Turnings are one tap each, or one for all. */
function Turnings({ turns, isNow }: { turns: TaskView[]; isNow: boolean }) {
  const record = useRecord()
  const format = useFormat()
  const turn = (which: TaskView[]) => record.mutate({ acts: which.map((t) => ({ act: 'turned', piece: t.piece.id })) })
  return (
    <li className="grid gap-2 p-2.5 sm:px-4">
      <div className="flex flex-wrap items-center justify-between gap-2">
        <p className="font-semibold">
          {isNow ? 'Turn' : 'To be turned'} {turns.length === 1 ? 'one piece' : `${turns.length} pieces`}
        </p>
        {isNow && turns.length > 1 && (
          <button type="button" className="press press-main" disabled={record.isPending} onClick={() => turn(turns)}>
            <Check size={20} aria-hidden /> All {turns.length} turned
          </button>
        )}
      </div>
      <ul className="flex flex-wrap gap-x-4 gap-y-2">
        {turns.map((t) => (
          <li key={t.piece.id} className="flex items-center gap-1">
            <PieceTag id={t.piece.id} tag={t.piece.tag} />
            {isNow ? (
              <button type="button" className="quiet" disabled={record.isPending} onClick={() => turn([t])}>
                Turned<span className="sr-only"> {t.piece.tag}</span>
              </button>
            ) : (
              <span className="text-soft">{format.day(t.task.due)}</span>
            )}
          </li>
        ))}
      </ul>
      <Refused error={record.error} />
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
