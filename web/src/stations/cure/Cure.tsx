import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useSearch } from '@tanstack/react-router'
import { useState } from 'react'
import type { PieceCard, Schemas } from '../../api/client'
import words from '../../api/words.json'
import { useLine } from '../../api/entries'
import { useStation } from '../../api/pieces'
import { Choice } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { OneOf } from '../../kit/OneOf'
import { Empty } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { type LoopHeld, useLoop, WeighLoop } from '../weigh/WeighLoop'
import { Lying } from './Lying'
import { WeighOutDose } from './WeighOutDose'

/** The loop of pieces that come out. */
const OUT = 'out_of_cure'

/** The weigh-out of doses, the pieces that lie in cure, and their way out. */
export function Cure() {
  const station = useStation('cure')
  const search = useSearch({ from: '/cure' })
  if (!isThere(station)) return <NotYet of={[station]} what="the pieces" page="Cure" />
  const { pieces } = station.data
  const waiting = pieces.filter((p) => p.stage === 'dose' && !p.frozen)
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
  // What is timed to the hour comes first, the one that is over first of these.
  out.sort((a, b) => (a.cure?.out_at ?? '9').localeCompare(b.cure?.out_at ?? '9'))
  const isAskedOut = lying.some((p) => p.id === asked)
  const held = useLoop(OUT, out, isAskedOut ? asked : undefined)
  return (
    <Page
      title="Cure"
      lead="Each piece by its own weight."
      side={
        <Link to="/recipe" search={asked !== undefined && !isAskedOut ? { piece: asked } : {}} className="press">
          By somebody's recipe
        </Link>
      }
    >
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
              body: <WeighOutDose pieces={waiting} lying={lying} first={asked} />,
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
        <InFreezer pieces={pieces.filter((p) => p.frozen)} />
      </div>
    </Page>
  )
}

/** What waits in the freezer for its day. */
function InFreezer({ pieces }: { pieces: PieceCard[] }) {
  const format = useFormat()
  if (pieces.length === 0) return null
  return (
    <section aria-label="In the freezer">
      <h2 className="mb-1.5">In the freezer</h2>
      <ul className="table-top divide-y divide-line">
        {pieces.map((p) => (
          <li key={p.id} className="flex flex-wrap items-center gap-3 p-3">
            <PieceTag id={p.id} tag={p.tag} />
            <span className="grow font-semibold">{p.build_name}</span>
            <span className="text-soft">
              {p.frozen?.thaw_by ? `to be thawed by ${format.until(p.frozen.thaw_by)}` : 'until you take it out'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Turnings that were missed: once or twice makes no odds, more may show. */
function Turnings({ piece }: { piece: PieceCard }) {
  const turned = piece.cure?.turnings
  if (!turned || turned.wanted - turned.done < 2) return null
  return (
    <span className="mt-1 block font-semibold text-caution">
      {piece.cure?.in_brine ? 'Stirred' : 'Turned'}{' '}
      {turned.done === 0 ? 'never' : turned.done === 1 ? 'once' : `${turned.done} times`}, of {turned.wanted} by now. Feel it all
      over: what lay dry, or against another, may be soft or pale, and wants two more days.
    </span>
  )
}

const surfaces: Record<Schemas['Surface'], string> = words.Surface.label

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
              {p.cure.out_at ? (
                <>
                  <span className="figures">{p.cure.hours}</span> hours in the salt, out at{' '}
                  <span className="figures">{format.moment(p.cure.out_at)}</span>.
                </>
              ) : (
                <>
                  Day <span className="figures">{p.cure.counted_day}</span> of{' '}
                  <span className="figures">{p.cure.days ?? '?'}</span>
                  {p.cure.out_on && <>, planned {format.day(p.cure.out_on)}</>}.
                </>
              )}
              <Turnings piece={p} />
            </>
          )}
        </p>
      )}
      extra={(_, typed, set) => (
        <Choice
          label="Its surface"
          value={typed.surface as Schemas['Surface'] | undefined}
          onChange={(surface) => set({ surface })}
          options={(Object.keys(surfaces) as Schemas['Surface'][]).map((s) => ({ value: s, label: surfaces[s] }))}
        />
      )}
      act={(p, reading, more) => ({
        act: 'out_of_cure',
        piece: p.id,
        reading,
        surface: (more.surface as Schemas['Surface']) || null,
      })}
      done={() => 'Out of cure, next piece'}
    />
  )
}
