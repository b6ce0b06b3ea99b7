import { Drawing } from '../../../kit/Drawing'
import { isThere, NotYet } from '../../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import { FastForward, Printer, Square } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useStation } from '../../../api/pieces'
import { type Run, useRun, useRunCurve } from '../../../api/runs'
import { useMoveClock, useSettings } from '../../../api/settings'
import { Select } from '../../../kit/Fields'
import { Fold, Page } from '../../../kit/Page'
import { Findings } from '../../../kit/States'
import { useFormat } from '../../../units'
import { useDoing } from './act'
import { Curves } from './Curves'
import { Fire } from './Fire'
import { hours, PieceActions } from './PieceActions'
import { Probes } from './Probes'
import { Pulled } from './Pulled'
import { Refusal } from './Refusal'
import { Smoker } from './Smoker'
import { Stages } from './Stages'

/** A run in smoker, oven or pot, while it goes on and afterwards. */
export function RunPage() {
  const { id } = useParams({ from: '/smoke/runs/$id' })
  const run = useRun(Number(id))
  // Asked for at once, not only when the page is there to hold it.
  useRunCurve(Number(id), Boolean(run.data?.ended))
  if (!isThere(run)) return <NotYet of={[run]} what="the run" page="A run" />
  return <Open key={run.data.id} run={run.data} />
}

function Open({ run }: { run: Run }) {
  const format = useFormat()
  const first = run.pieces.find((p) => p.comes_off === 1) ?? run.pieces.find((p) => !p.left)
  const [chosen, setChosen] = useState<number>()
  const piece = run.pieces.find((p) => p.id === chosen && !p.left) ?? first
  const lead = run.ended
    ? `Over since ${format.moment(run.ended)}.`
    : run.paused
      ? `Pauses since ${format.moment(run.paused)}.`
      : `Set up ${format.moment(run.begun)}.`
  return (
    <Page
      title={run.name}
      lead={lead}
      side={
        <p className="no-print flex flex-wrap items-center gap-x-3">
          <Play run={run} />
          <button type="button" className="press" onClick={() => window.print()}>
            <Printer size={18} aria-hidden /> Run sheet
          </button>
          <Link to="/smoke" className="quiet">
            All runs
          </Link>
        </p>
      }
    >
      <div className="grid gap-4">
        <Stages run={run} />
        <div className="grid grid-cols-1 items-start gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
          <div className="grid gap-4">
            <Smoker run={run} chosen={piece?.id} onChoose={setChosen} />
            {piece && !run.ended && (
              <div className="no-print">
                <PieceActions run={run} piece={piece} />
              </div>
            )}
          </div>
          <div className="grid gap-4">
            <section aria-label="Curves" className="table-top p-2">
              <Drawing of="the curves">
                <Curves run={run} chosen={chosen} />
              </Drawing>
            </section>
            <Clocks run={run} />
            <Pulled run={run} />
            <div className="no-print grid gap-4">
              <Fire run={run} />
              <Probes run={run} />
              {!run.ended && <LayIn run={run} />}
            </div>
          </div>
        </div>
        <Findings list={run.findings} />
        <Lines run={run} />
        <PaperLog run={run} />
      </div>
    </Page>
  )
}

/** The clocks of every piece beside each other. */
function Clocks({ run }: { run: Run }) {
  const format = useFormat()
  const known = run.pieces.filter((p) => p.warm_up || p.kill || p.inside)
  if (known.length === 0) return null
  return (
    <section aria-label="Clocks" className="table-top overflow-x-auto p-3" tabIndex={0}>
      <table className="figures w-full text-[0.95rem]">
        <caption className="sr-only">Each piece with its warm hours and what heat did</caption>
        <thead>
          <tr className="text-left text-soft">
            <th className="pr-3 font-semibold">Piece</th>
            <th className="pr-3 font-semibold">Inside</th>
            <th className="pr-3 font-semibold">Warm hours</th>
            <th className="font-semibold">Heat did</th>
          </tr>
        </thead>
        <tbody>
          {known.map((p) => (
            <tr key={p.id}>
              <td className="pr-3">{p.tag}</td>
              <td className="pr-3">{p.inside ? `${format.heat(p.inside.celsius)}, ${format.clock(p.inside.at)}` : ''}</td>
              <td className={`pr-3 ${p.warm_up?.over ? 'font-semibold text-stop' : ''}`}>
                {p.warm_up && `${hours(p.warm_up.minutes)} of ${hours(p.warm_up.limit_minutes)}`}
              </td>
              <td>{p.kill ? `${p.kill.said} log` : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[0.92rem] text-soft">
        What heat did is information: it never allows stopping under the mark, and holds for a moist surface only.
      </p>
    </section>
  )
}

function LayIn({ run }: { run: Run }) {
  const station = useStation('smoke')
  const doing = useDoing(run)
  const [piece, setPiece] = useState('')
  const [zone, setZone] = useState(run.zones[0]?.name ?? '')
  const here = new Set(run.pieces.filter((p) => !p.left).map((p) => p.id))
  const waiting = (station.data?.pieces ?? []).filter((p) => !here.has(p.id))
  if (waiting.length === 0) return null
  return (
    <Fold title={`Lay another piece in: ${waiting.length} wait`}>
      <div className="table-top grid gap-x-3 p-3 sm:grid-cols-2">
        <Select label="Which piece" value={piece} onChange={setPiece}>
          <option value="">choose a piece</option>
          {waiting.map((p) => (
            <option key={p.id} value={p.id}>
              {p.tag}, {p.build_name}
            </option>
          ))}
        </Select>
        <Select label="Into which zone" value={zone} onChange={setZone}>
          {run.zones.map((z) => (
            <option key={z.name}>{z.name}</option>
          ))}
        </Select>
        <div className="sm:col-span-2">
          <Refusal doing={doing} />
          <button
            type="button"
            className="press press-main bench"
            disabled={piece === '' || doing.busy}
            onClick={() => doing.act([{ act: 'loaded', piece: Number(piece), zone }], () => setPiece(''))}
          >
            Lay it in
          </button>
        </div>
      </div>
    </Fold>
  )
}

/** What was done, the newest first; a slip is struck out and stays readable. */
function Lines({ run }: { run: Run }) {
  const format = useFormat()
  const doing = useDoing(run)
  const lines = run.lines.filter((l) => !l.said.startsWith('an alarm'))
  return (
    <section aria-label="What was done">
      <h2 className="mb-1.5">What was done</h2>
      <Refusal doing={doing} />
      <ol className="table-top divide-y divide-line" reversed>
        {lines.map((l) => (
          <li key={l.no} className="flex flex-wrap items-center gap-x-4 px-3 py-1">
            <span className="figures w-32 shrink-0 text-soft">{format.moment(l.at)}</span>
            <span className={`min-w-0 grow ${l.struck ? 'line-through' : ''}`}>
              {l.said}
              {l.reason && <span className="block text-[0.95rem] text-soft">because: {l.reason}</span>}
            </span>
            {l.may_be_struck && !l.struck && (
              <button
                type="button"
                className="quiet no-print"
                disabled={doing.busy}
                onClick={() => doing.act([{ act: 'struck', event: l.no }])}
              >
                Strike out<span className="sr-only"> {l.said}</span>
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  )
}

/** On paper: a table to write readings into, for a night without a screen. */
function PaperLog({ run }: { run: Run }) {
  const format = useFormat()
  const here = run.pieces.filter((p) => !p.left)
  return (
    <div className="print-only">
      <table className="w-full border-collapse">
        <thead>
          <tr>
            {['time', ...run.zones.map((z) => z.name), ...here.map((p) => `${p.tag}, to ${format.heat(p.mark_c)}`), 'seen'].map(
              (h) => (
                <th key={h} className="border border-line px-1 text-left">
                  {h}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: 14 }, (_, i) => (
            <tr key={i}>
              {Array.from({ length: 2 + run.zones.length + here.length }, (_, j) => (
                <td key={j} className="h-8 border border-line" />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        Turn to swap places at each check, hot spots differ. Fat side up. Before pulling: the thickest piece in two or three
        places, off the bone.
      </p>
    </div>
  )
}

/** Minutes of practice that go by at once, and how often. */
const [STEP_MIN, STEP_MS] = [5, 600]

/** In a household for practice the day can be let run: five minutes at a time, until it is stopped or something rings. */
function Play({ run }: { run: Run }) {
  const settings = useSettings().data
  const { mutateAsync } = useMoveClock()
  // What begins to ring stops it: a person answers in their own time.
  const [since, setSince] = useState<number>()
  const runs = since !== undefined && run.alarms.length <= since
  useEffect(() => {
    if (!runs) return
    let isOff = false
    const step = async () => {
      while (!isOff) {
        await mutateAsync({ by: `${STEP_MIN} min` }).catch(() => (isOff = true))
        await new Promise((done) => setTimeout(done, STEP_MS))
      }
    }
    void step()
    return () => {
      isOff = true
    }
  }, [runs, mutateAsync])
  if (!settings?.practice || run.ended) return null
  return (
    <button type="button" className="press" aria-pressed={runs} onClick={() => setSince(runs ? undefined : run.alarms.length)}>
      {runs ? (
        <>
          <Square size={18} aria-hidden /> Stop the clock
        </>
      ) : (
        <>
          <FastForward size={18} aria-hidden /> Let the day run
        </>
      )}
    </button>
  )
}
