import { Link, useSearch } from '@tanstack/react-router'
import { Check } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { PieceCard } from '../../api/client'
import { useLine } from '../../api/entries'
import { useMarks } from '../../api/marks'
import { useStation } from '../../api/pieces'
import { Page } from '../../kit/Page'
import { OneOf } from '../../kit/OneOf'
import { useSettled } from '../../kit/settled'
import { Empty, Failed, Loading } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { AskedAbout } from '../weigh/AskedAbout'
import { type LoopHeld, useLoop, WeighLoop } from '../weigh/WeighLoop'
import { WeighOutDose } from './WeighOutDose'

/** The loop of pieces that come out. */
const OUT = 'out_of_cure'

/** The weigh-out of doses, the pieces that lie in cure, and their way out. */
export function Cure() {
  const station = useStation('cure')
  const search = useSearch({ from: '/cure' })
  if (station.isPending)
    return (
      <Page title="Cure">
        <Loading what="the pieces" />
      </Page>
    )
  if (station.isLoadingError)
    return (
      <Page title="Cure">
        <Failed error={station.error} onRetry={() => station.refetch()} />
      </Page>
    )
  const { pieces } = station.data
  const waiting = pieces.filter((p) => p.stage === 'dose')
  const lying = pieces.filter((p) => p.stage === 'in_cure')
  const asked = 'piece' in search ? search.piece : undefined
  return <Tables pieces={pieces} waiting={waiting} lying={lying} asked={asked} />
}

interface TablesProps {
  pieces: PieceCard[]
  waiting: PieceCard[]
  lying: PieceCard[]
  asked?: number
}

const isDue = (p: PieceCard) => p.tasks.some((t) => t.kind === 'out_of_cure' && t.urgency !== 'coming')

function Tables({ pieces, waiting, lying, asked }: TablesProps) {
  // Wanted out before its day: it stays on the table until it is out.
  const [wanted, setWanted] = useState<number[]>([])
  if (asked !== undefined && !wanted.includes(asked)) setWanted([...wanted, asked])
  const inLine = useLine().flatMap((s) => (s.owner === OUT ? [s.piece] : []))
  const out = lying.filter((p) => isDue(p) || wanted.includes(p.id) || inLine.includes(p.id))
  const isAskedOut = lying.some((p) => p.id === asked)
  const held = useLoop(OUT, out, isAskedOut ? asked : undefined)
  return (
    <Page title="Cure" lead="Each piece by its own weight.">
      {pieces.length === 0 && (
        <Empty title="Nothing to cure">
          Give a piece a product first.{' '}
          <Link className="quiet" to="/assign">
            Assign
          </Link>
        </Empty>
      )}
      <div className="grid grid-cols-1 gap-7">
        <OneOf
          label="What you do now"
          first={isAskedOut ? 'out' : 'dose'}
          asked={asked}
          tabs={[
            {
              key: 'dose',
              title: 'Weigh out',
              count: waiting.length,
              body: <WeighOutDose pieces={waiting} first={asked} />,
            },
            {
              key: 'out',
              title: 'Take out',
              count: held.count,
              body: <OutOfCure pieces={out} held={held} first={isAskedOut ? asked : undefined} />,
            },
          ]}
        />
        {lying.length > 0 && <Lying pieces={lying} />}
      </div>
    </Page>
  )
}

function OutOfCure({ pieces, held, first }: { pieces: PieceCard[]; held: LoopHeld; first?: number }) {
  const format = useFormat()
  return (
    <WeighLoop
      form={OUT}
      held={held}
      title="Out of the cure"
      pieces={pieces}
      first={first}
      weightLabel="Rinsed and patted dry, it weighs"
      about={(p) => (
        <p className="text-center text-soft">
          {p.open_steps.find((s) => s.kind === 'cure')?.check ?? 'Rinse short and cold, pat dry.'}
          {p.cure && (
            <>
              {' '}
              Day <span className="figures">{p.cure.day}</span> of <span className="figures">{p.cure.days ?? '?'}</span>
              {p.cure.out_on && <>, planned {format.day(p.cure.out_on)}</>}.
            </>
          )}
        </p>
      )}
      act={(p, reading) => ({ act: 'out_of_cure', piece: p.id, reading })}
      done={() => 'Out of cure, next piece'}
    />
  )
}

/** What lies in cure: how far along, and when it comes out. */
function Lying({ pieces }: { pieces: PieceCard[] }) {
  const format = useFormat()
  const marks = useMarks('turned')
  const list = useSettled(pieces, (p) => p.id)
  const turn = (p: PieceCard) => {
    list.mark([p.id])
    marks.write([{ act: 'turned', piece: p.id }], `turned ${p.tag}`, [p.id])
  }
  useEffect(() => marks.onRefused((ids) => list.unmark(ids)))
  return (
    <section aria-label="In cure" data-beside-sheet>
      <h2 className="mb-1.5">In cure</h2>
      <AskedAbout list={marks.refused} />
      <ul className="table-top divide-y divide-line" {...list.area}>
        {list.rows.map(({ row: p, isDone, isGone }) => {
          const cure = p.cure
          if (!cure) return null
          const days = cure.days ?? 0
          const done = days > 0 ? Math.min(1, cure.day / days) : 0
          return (
            <li key={p.id} className="grid gap-x-4 gap-y-1.5 p-3 sm:grid-cols-[8rem_1fr_auto] sm:items-center">
              <div>
                <PieceTag id={p.id} tag={p.tag} />
              </div>
              <div>
                <p className="flex flex-wrap justify-between gap-x-3">
                  <span className="font-semibold">{p.build_name}</span>
                  <span className="figures">{format.mass(p.mass_g)}</span>
                </p>
                <div className="relative my-1 h-3 border border-edge bg-steel" aria-hidden>
                  <div className="h-full bg-violet" style={{ width: `${done * 100}%` }} />
                </div>
                <p className="text-[0.95rem] text-soft">
                  day <span className="figures">{cure.day}</span> of <span className="figures">{cure.days ?? '?'}</span> · out{' '}
                  {cure.out_on ? format.day(cure.out_on) : 'when its thickness is known'} ·{' '}
                  {cure.nitrite_ppm == null ? (
                    <strong className="text-caution">dose unknown</strong>
                  ) : (
                    <>
                      <span className={`figures ${p.overridden ? 'font-bold text-stop' : ''}`}>
                        {cure.nitrite_ppm.toFixed(0)} ppm
                      </span>{' '}
                      nitrite
                    </>
                  )}
                  {p.overridden && ', past the limit'}
                </p>
              </div>
              <div className="flex gap-2">
                {isGone ? (
                  <span className="flex min-h-11 items-center text-soft">no longer in cure</span>
                ) : isDone ? (
                  <>
                    <span className="flex min-h-11 min-w-24 items-center gap-1.5 text-good">
                      <Check size={18} aria-hidden /> turned
                    </span>
                    <button type="button" className="quiet" onClick={() => marks.undo(p.id, () => list.unmark([p.id]))}>
                      Undo<span className="sr-only"> turning {p.tag}</span>
                    </button>
                  </>
                ) : (
                  <>
                    <button type="button" className="press min-w-24" onClick={() => turn(p)}>
                      Turned<span className="sr-only"> {p.tag}</span>
                    </button>
                    <Link to="/cure" search={{ piece: p.id }} className="press">
                      Take out<span className="sr-only"> {p.tag}</span>
                    </Link>
                  </>
                )}
              </div>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
