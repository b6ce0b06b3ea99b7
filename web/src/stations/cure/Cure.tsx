import { Link, useSearch } from '@tanstack/react-router'
import type { PieceCard } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useStation } from '../../api/pieces'
import { Page } from '../../kit/Page'
import { OneOf } from '../../kit/OneOf'
import { Empty, Failed, Loading, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { WeighLoop } from '../weigh/WeighLoop'
import { WeighOutDose } from './WeighOutDose'

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
  if (station.isError)
    return (
      <Page title="Cure">
        <Failed error={station.error} onRetry={() => station.refetch()} />
      </Page>
    )
  const { pieces } = station.data
  const waiting = pieces.filter((p) => p.stage === 'dose')
  const lying = pieces.filter((p) => p.stage === 'in_cure')
  const asked = 'piece' in search ? search.piece : undefined
  const isOut = (p: PieceCard) => p.tasks.some((t) => t.kind === 'out_of_cure' && t.urgency !== 'coming')
  const askedOut = lying.find((p) => p.id === asked)
  const out = lying.filter((p) => isOut(p) || p.id === asked)
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
          key={asked}
          label="What you do now"
          first={askedOut ? 'out' : 'dose'}
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
              count: out.length,
              body: <OutOfCure pieces={out} first={asked} />,
            },
          ]}
        />
        {lying.length > 0 && <Lying pieces={lying} />}
      </div>
    </Page>
  )
}

function OutOfCure({ pieces, first }: { pieces: PieceCard[]; first?: number }) {
  const format = useFormat()
  return (
    <WeighLoop
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
  const record = useRecord()
  return (
    <section aria-label="In cure" data-beside-sheet>
      <h2 className="mb-1.5">In cure</h2>
      <Refused error={record.error} />
      <ul className="table-top divide-y divide-line">
        {pieces.map((p) => {
          const cure = p.cure!
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
                <button
                  type="button"
                  className="press"
                  disabled={record.isPending}
                  onClick={() => record.mutate({ acts: [{ act: 'turned', piece: p.id }] })}
                >
                  Turned<span className="sr-only"> {p.tag}</span>
                </button>
                <Link to="/cure" search={{ piece: p.id }} className="press">
                  Take out<span className="sr-only"> {p.tag}</span>
                </Link>
              </div>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
