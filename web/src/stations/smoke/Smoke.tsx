import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useSearch } from '@tanstack/react-router'
import { useState } from 'react'
import type { PieceCard, Schemas } from '../../api/client'
import { useStation } from '../../api/pieces'
import { useRuns } from '../../api/runs'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { useLoop, WeighLoop } from '../weigh/WeighLoop'
import { RunList } from './RunList'
import { StartRun } from './StartRun'

/** Smokes and cookings that a piece has before it now. */
const heats = (p: PieceCard) => p.open_steps.filter((s) => s.station === 'smoke')

const LEAD = 'Dry until tacky, smoke, bring the inside to its target, cool, and weigh.'

/** What waits for smoker or stove, the runs under way, and the weight of what was smoked without one. */
export function Smoke() {
  const station = useStation('smoke')
  const runs = useRuns()
  const search = useSearch({ from: '/smoke' })
  if (!isThere(station) || !isThere(runs)) return <NotYet of={[station, runs]} what="the pieces" page="Smoke" />
  return <Smoker pieces={station.data.pieces} runs={runs.data} first={'piece' in search ? search.piece : undefined} />
}

function Smoker({ pieces, runs, first }: { pieces: PieceCard[]; runs: Schemas['RunsView']; first?: number }) {
  const [way, setWay] = useState<'run' | 'weigh'>(first === undefined ? 'run' : 'weigh')
  const held = useLoop('smoked', pieces, first)
  const aboard = new Set(runs.open.flatMap((r) => r.tags))
  const waiting = pieces.filter((p) => !aboard.has(p.tag))
  const isBare = held.count === 0 && runs.open.length === 0
  return (
    <Page title="Smoke" lead={LEAD}>
      <div className="grid gap-5">
        <RunList title="At the fire now" list={runs.open} />
        {isBare && waiting.length === 0 && (
          <Empty title="Nothing waits for the smoker">
            Pieces come here out of their cure.{' '}
            <Link className="quiet" to="/cure">
              See what lies in cure
            </Link>
          </Empty>
        )}
        {(waiting.length > 0 || held.count > 0) && (
          <>
            <div role="group" aria-label="How it is written down" className="no-print flex flex-wrap gap-1.5">
              {(
                [
                  ['run', 'Set up a run'],
                  ['weigh', 'Only weigh afterwards'],
                ] as const
              ).map(([key, label]) => (
                <button
                  key={key}
                  type="button"
                  aria-pressed={way === key}
                  className={`min-h-12 border-2 px-3.5 font-medium ${way === key ? 'border-violet bg-violet text-on-violet' : 'border-edge bg-table'}`}
                  onClick={() => setWay(key)}
                >
                  {label}
                </button>
              ))}
            </div>
            {way === 'run' ? (
              <StartRun pieces={waiting} />
            ) : (
              <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-2">
                <WeighAfter held={held} pieces={pieces} first={first} />
                <Waiting pieces={waiting} />
              </div>
            )}
          </>
        )}
        <RunList title="Over" list={runs.over} inAll={runs.over_in_all} />
      </div>
    </Page>
  )
}

function WeighAfter({ held, pieces, first }: { held: ReturnType<typeof useLoop>; pieces: PieceCard[]; first?: number }) {
  const format = useFormat()
  return (
    <WeighLoop
      form="smoked"
      held={held}
      title="After the smoke"
      pieces={pieces}
      first={first}
      weightLabel="Smoked and cooled, it weighs"
      about={(p) =>
        p.inside_target_c != null && (
          <p className="border-y border-line py-2 text-center">
            <span className="figures text-4xl font-semibold">{format.heat(p.inside_target_c)}</span>{' '}
            <span className="text-soft">inside, in the thickest place</span>
          </p>
        )
      }
      more={[
        {
          name: 'inside',
          label: 'Warmest inside',
          quantity: 'temperature',
          optional: true,
          hint: 'Without it the pack says: cook before eating.',
        },
        {
          name: 'chamber',
          label: 'Chamber or pot',
          quantity: 'temperature',
          optional: true,
          hint: 'How warm it was around it.',
        },
      ]}
      which={{
        label: 'Which it is',
        options: (p) => heats(p).map((s) => ({ value: s.id, label: s.verb })),
        usual: (p) => (heats(p).find((s) => !s.may_be_left_out) ?? heats(p)[0])?.id,
      }}
      act={(p, reading, more) => ({
        act: 'smoked',
        piece: p.id,
        step: more.step ?? null,
        reading,
        inside: more.inside || null,
        chamber: more.chamber || null,
      })}
      done={(p) => (heats(p).some((s) => s.kind !== 'cook') ? 'Smoked, next piece' : 'Cooked, next piece')}
    />
  )
}

function Waiting({ pieces }: { pieces: PieceCard[] }) {
  const format = useFormat()
  if (pieces.length === 0) return null
  return (
    <section aria-label="Waiting for the smoker">
      <h2 className="mb-1.5">Waiting</h2>
      <ul className="table-top divide-y divide-line">
        {pieces.map((p) => (
          <li key={p.id} className="grid grid-cols-[auto_1fr_auto] items-center gap-3 p-3">
            <PieceTag id={p.id} tag={p.tag} />
            <span className="min-w-0">
              <span className="block truncate font-semibold">{p.build_name}</span>
              <span className="block text-[0.95rem] text-soft">
                {heats(p)
                  .map((s) => s.verb)
                  .join(' or ')}
                , since {format.moment(p.since)}
                {p.thickness_mm ? `, ${format.length(p.thickness_mm)} thick` : ''}
              </span>
            </span>
            <span className="figures text-right">
              {format.mass(p.mass_g)}
              {p.inside_target_c != null && (
                <span className="block text-[0.95rem] text-soft">to {format.heat(p.inside_target_c)}</span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
