import { isThere, NotYet } from '../../kit/Fetched'
import { Link } from '@tanstack/react-router'
import { CalendarDays, Plane, ScrollText, ShoppingBasket, Thermometer } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useSettings } from '../../api/settings'
import { useMoreLabels, useToday } from '../../api/today'
import { Fold, Page } from '../../kit/Page'
import { Empty, Findings, More, Refused } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { useVerdictWords } from '../../kit/Verdict'
import { useFormat } from '../../units'
import { AtTheFire } from '../smoke/RunList'
import { Ahead } from './Ahead'
import { ReadHere } from './ReadHere'
import { Rings } from './Rings'
import { TripList } from './Trips'
import { labelChangeWords } from '../words'
import { rowWords } from './words'

/** What needs hands now, as one walks through the house. */
export function Today() {
  const today = useToday()
  const empty = useSettings().data?.empty
  if (!isThere(today)) return <NotYet of={[today]} what="what is due" page="Today" />
  const day = today.data
  const isQuiet =
    day.trips.length === 0 &&
    day.labels.in_all === 0 &&
    day.recalls.length === 0 &&
    day.reads.length === 0 &&
    day.whole.length === 0
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
      <div className="grid gap-x-7 gap-y-5 lg:grid-cols-[minmax(0,1fr)_21rem]">
        <div className="grid content-start gap-5">
          <Alarms alarms={day.alarms} />
          <Labels labels={day.labels} />
          <Recalls list={day.recalls} />
          <AtTheFire />
          {!empty && isQuiet && (
            <Empty title="Nothing needs hands today">
              All pieces rest, or everything is packed.{' '}
              <Link className="quiet" to="/tally">
                Look at the tally
              </Link>
            </Empty>
          )}
          {day.reads.map((r) => (
            <ReadHere key={r.place} ask={r} />
          ))}
          {/* A new day begins with a list of its own: yesterday's ticks do not stay in it. */}
          <TripList key={day.day} trips={day.trips} />
          <Whole list={day.whole} />
          <LaterToday rows={day.later_today} />
          <Missing list={day.missing} />
          <Waits waits={day.waits} />
        </div>
        {!empty && (
          <aside aria-label="What comes" className="grid content-start gap-5">
            <Ahead days={day.ahead} />
            <Ways />
            <Rings />
          </aside>
        )}
      </div>
    </Page>
  )
}

/** Places that were too warm or too cold. */
function Alarms({ alarms }: { alarms: Schemas['PlaceAlarm'][] }) {
  if (alarms.length === 0) return null
  return (
    <section aria-label="Places that give pause" className="grid gap-2">
      {alarms.map((a) => (
        <div key={a.place} className="grid gap-1">
          <Findings list={a.findings} />
          <Link to="/cold" hash={`place-${a.place}`} className="quiet justify-self-start">
            <Thermometer size={18} aria-hidden /> The log of {a.name}
          </Link>
        </div>
      ))}
    </section>
  )
}

/** What came in and of which nothing was weighed out yet. */
function Whole({ list }: { list: Schemas['Whole'][] }) {
  const format = useFormat()
  if (list.length === 0) return null
  return (
    <section aria-label="To break down">
      <h2 className="mb-1.5">To break down</h2>
      <ul className="table-top divide-y divide-line">
        {list.map((w) => (
          <li key={w.lot} className="flex flex-wrap items-center gap-x-3 gap-y-1 p-2 sm:px-3">
            <PlainTag tag={w.tag} />
            <span className="grow">
              <span className="font-semibold">{w.name}</span>, <span className="figures">{format.mass(w.left_g)}</span>{' '}
              <span className="text-soft">
                {w.days === 0 ? 'came today' : w.days === 1 ? 'came yesterday' : `came ${w.days} days ago`}; no piece of it is
                weighed out yet
              </span>
            </span>
            <Link to="/breakdown/$id" params={{ id: String(w.lot) }} className="press">
              Break it down
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What comes to its hour later today. */
function LaterToday({ rows }: { rows: Schemas['Row'][] }) {
  const format = useFormat()
  if (rows.length === 0) return null
  return (
    <section aria-label="Later today">
      <h2 className="mb-1.5 text-soft">Later today</h2>
      <ul className="table-top divide-y divide-line border-l-8 border-line">
        {rows.flatMap((row) =>
          row.chips.map((c) => (
            <li key={row.kind + c.piece + (row.step ?? '')} className="flex flex-wrap items-center gap-x-3 p-2 sm:px-3">
              <PieceTag id={c.piece} tag={c.tag} />
              <span className="grow font-semibold">{rowWords(row)}</span>
              {c.hours && (
                <span className="figures text-soft">
                  {row.kind === 'out_of_cure' ? 'at' : 'about'} {format.clock(c.hours.due)}
                  {c.hours.latest !== c.hours.due && <>, by {format.moment(c.hours.latest)}</>}
                </span>
              )}
            </li>
          )),
        )}
      </ul>
    </section>
  )
}

/** What today's and tomorrow's work takes and is not there. */
function Missing({ list }: { list: Schemas['Missing'][] }) {
  if (list.length === 0) return null
  return (
    <section aria-label="Missing for tomorrow" className="border-l-8 border-caution bg-caution-wash px-3 py-2">
      <h2 className="text-caution">
        <ShoppingBasket size={20} aria-hidden className="mr-1.5 inline" />
        Missing for what is due until tomorrow
      </h2>
      <ul className="figures mt-0.5">
        {list.map((m) => (
          <li key={m.words}>
            {m.words} <span className="text-[0.95rem] text-soft">for {m.for.join(', ')}</span>
          </li>
        ))}
      </ul>
      <Link to="/pantry" className="quiet">
        The pantry
      </Link>
    </section>
  )
}

function Way({ to, icon, children }: { to: '/away' | '/cold' | '/recipe' | '/settings'; icon: ReactNode; children: ReactNode }) {
  return (
    <li>
      <Link to={to} hash={to === '/settings' ? 'calendar' : undefined} className="quiet">
        {icon} {children}
      </Link>
    </li>
  )
}

/** Ways from here. */
function Ways() {
  return (
    <ul className="flex flex-wrap gap-x-2 lg:grid">
      <Way to="/cold" icon={<Thermometer size={18} aria-hidden />}>
        How cold it is
      </Way>
      <Way to="/away" icon={<Plane size={18} aria-hidden />}>
        Away for some days?
      </Way>
      <Way to="/recipe" icon={<ScrollText size={18} aria-hidden />}>
        Somebody's recipe?
      </Way>
      <Way to="/settings" icon={<CalendarDays size={18} aria-hidden />}>
        In a calendar
      </Way>
    </ul>
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
                {p.changes.includes('word') ? (
                  <>
                    Printed as “{words(p.printed)}” on {format.date(p.printed_on)}. {p.verdict.reasons[0]?.message}
                  </>
                ) : (
                  <>
                    Printed on {format.date(p.printed_on)}. Wrong on it by now:{' '}
                    {p.changes.map((c) => labelChangeWords[c]).join(', ')}.
                  </>
                )}
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

/** Packs that left the house and that nobody may eat by now: who has them is told. */
function Recalls({ list }: { list: Schemas['Recall'][] }) {
  const record = useRecord()
  const format = useFormat()
  if (list.length === 0) return null
  return (
    <section aria-label="Somebody has to be told">
      <h2 className="mb-1.5 text-stop">
        Somebody has to be told <span className="figures font-normal">{list.length}</span>
      </h2>
      <ul className="table-top divide-y divide-line border-l-8 border-stop">
        {list.map((r) => (
          <li key={r.pack} className="grid gap-x-3 gap-y-1 p-2.5 sm:grid-cols-[8rem_1fr_auto] sm:items-center sm:px-4">
            <PieceTag id={r.piece} tag={r.tag} />
            <div className="min-w-0">
              <p className="font-semibold">
                {r.product}, {r.left === 'eaten' ? 'eaten' : 'given away'} {format.until(r.on)}
                {r.to && `: ${r.to}`}
              </p>
              <p className="text-[0.95rem]">Nobody may eat it. {r.verdict.reasons[0]?.message}</p>
            </div>
            <button
              type="button"
              className="press press-main"
              disabled={record.isPending}
              onClick={() => record.mutate({ acts: [{ act: 'pack_told', packs: [r.pack] }] })}
            >
              Told<span className="sr-only"> about {r.tag}</span>
            </button>
          </li>
        ))}
      </ul>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </section>
  )
}

/** What holds an animal back, and frozen stock with its day. */
function Waits({ waits }: { waits: Schemas['LotWaits'][] }) {
  const format = useFormat()
  if (waits.length === 0) return null
  return (
    <section aria-label="Waited for">
      <Fold
        title={
          <>
            Waited for <span className="figures">{waits.length}</span>
          </>
        }
      >
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
      </Fold>
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
