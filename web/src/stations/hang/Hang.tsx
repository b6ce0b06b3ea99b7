import { Link, useSearch } from '@tanstack/react-router'
import type { PieceCard, Schemas } from '../../api/client'
import { useStation } from '../../api/pieces'
import { Page } from '../../kit/Page'
import { OneOf } from '../../kit/OneOf'
import { Empty, Failed, Loading } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { percent, useFormat } from '../../units'
import { type LoopHeld, useLoop, WeighLoop } from '../weigh/WeighLoop'

type HangView = Schemas['HangView']

/** The row of hanging pieces, with how far each has to go. */
export function Hang() {
  const station = useStation('hang')
  const search = useSearch({ from: '/hang' })
  if (station.isPending)
    return (
      <Page title="Hang">
        <Loading what="the hooks" />
      </Page>
    )
  if (station.isLoadingError)
    return (
      <Page title="Hang">
        <Failed error={station.error} onRetry={() => station.refetch()} />
      </Page>
    )
  return <Hooked pieces={station.data.pieces} first={'piece' in search ? search.piece : undefined} />
}

function Hooked({ pieces, first }: { pieces: PieceCard[]; first?: number }) {
  const waiting = pieces.filter((p) => p.stage === 'hang')
  const hanging = pieces.filter((p) => p.stage === 'hanging')
  const isUp = waiting.some((p) => p.id === first)
  const up = useLoop('hung', waiting, isUp ? first : undefined)
  const weighed = useLoop('weighed_in', hanging, isUp ? undefined : first, true)
  return (
    <Page title="Hang" lead="The weight decides, not the day. Cloth, net and clips are not meat.">
      {pieces.length === 0 && (
        <Empty title="The hooks are empty">
          Pieces come here out of a long cure, or from the smoke to age.{' '}
          <Link className="quiet" to="/cure">
            See what lies in cure
          </Link>
        </Empty>
      )}
      <div className="grid grid-cols-1 gap-7">
        {hanging.length > 0 && <Hooks pieces={hanging} />}
        <OneOf
          label="What you do now"
          first={isUp || hanging.length === 0 ? 'up' : 'in'}
          asked={first}
          tabs={[
            {
              key: 'in',
              title: 'Weigh in',
              count: weighed.count,
              body: <WeighIn pieces={hanging} held={weighed} first={isUp ? undefined : first} />,
            },
            {
              key: 'up',
              title: 'Hang up',
              count: up.count,
              body: <HangUp pieces={waiting} held={up} first={isUp ? first : undefined} />,
            },
          ]}
        />
      </div>
    </Page>
  )
}

function Hooks({ pieces }: { pieces: PieceCard[] }) {
  return (
    <ul className="order-last flex flex-wrap gap-x-3 gap-y-6 border-t-[6px] border-edge sm:order-none" aria-label="On the hooks">
      {pieces.map((p) => p.hang && <Hook key={p.id} piece={p} hang={p.hang} />)}
    </ul>
  )
}

/** One hook: the piece shrinks down towards its target line. */
function Hook({ piece, hang }: { piece: PieceCard; hang: HangView }) {
  const format = useFormat()
  const task = piece.tasks[0]
  const meat = hang.gross_start_g - hang.tare_g
  const left = 1 - hang.loss_now
  const target = 1 - hang.loss_fraction
  const late = task?.urgency === 'overdue'
  return (
    <li className="grid w-full grid-cols-[5rem_1fr] gap-3 sm:w-[17.5rem]">
      <svg
        viewBox="0 0 80 150"
        role="img"
        aria-label={`${piece.tag}: lost ${percent(hang.loss_now)} of ${percent(hang.loss_fraction, 0)} wanted`}
      >
        <path d="M40 0v10a6 6 0 1 1 -6 6" fill="none" stroke="var(--color-edge)" strokeWidth={3} />
        <rect x={16} y={30} width={48} height={110} fill="none" stroke="var(--color-line)" strokeDasharray="3 3" />
        <rect x={16} y={30} width={48} height={110 * left} fill={hang.reached ? 'var(--color-good)' : 'var(--color-meat)'} />
        <line x1={8} x2={72} y1={30 + 110 * target} y2={30 + 110 * target} stroke="var(--color-ink)" strokeWidth={2.5} />
      </svg>
      <div className="pt-4">
        <PieceTag id={piece.id} tag={piece.tag} />
        <p className="mt-1 text-[0.95rem] leading-tight">
          {piece.cut_name} of {piece.species_name}
        </p>
        <p className="figures mt-1 text-2xl leading-tight font-semibold">
          {hang.reached ? 'done' : format.mass(hang.to_go_g)}
          <span className="font-[family-name:var(--font-text)] text-base font-normal text-soft">
            {' '}
            {hang.reached ? '' : 'to go'}
          </span>
        </p>
        <p className="text-[0.95rem] text-soft">
          lost <span className="figures">{percent(hang.loss_now)}</span> of{' '}
          <span className="figures">{percent(hang.loss_fraction, 0)}</span> in {hang.days} days; waits for{' '}
          <span className="figures">{format.mass(hang.target_gross_g)}</span> on the scale
        </p>
        {task && (
          <p className={`text-[0.95rem] ${late ? 'font-semibold text-stop' : 'text-soft'}`}>
            {task.kind === 'take_down' ? 'Take it down' : 'Weigh it'}
            {late ? `: was due ${format.day(task.due)}` : task.kind === 'take_down' ? '.' : `, ${format.day(task.due)}.`}
          </p>
        )}
        <p className="sr-only">Started at {format.mass(meat)} of meat.</p>
      </div>
    </li>
  )
}

interface HangLoopProps {
  pieces: PieceCard[]
  held: LoopHeld
  first?: number
}

function HangUp({ pieces, held, first }: HangLoopProps) {
  return (
    <WeighLoop
      form="hung"
      held={held}
      title="Hang up"
      pieces={pieces}
      first={first}
      weightLabel="With everything on it, it weighs"
      about={() => <p className="text-center text-soft">Weigh casing, net, clips and hook alone first.</p>}
      more={[
        {
          name: 'tare',
          label: 'Casing, net, clips and hook',
          quantity: 'mass',
          hint: 'What hangs there and is not meat, such as 45 g.',
        },
      ]}
      act={(p, reading, more) => ({
        act: 'hung',
        piece: p.id,
        reading,
        tare: more.tare ?? '',
        loss_fraction: null,
        place: more.place ?? null,
      })}
      place={['hang']}
      done={() => 'On the hook, next piece'}
    />
  )
}

function WeighIn({ pieces, held, first }: HangLoopProps) {
  const format = useFormat()
  return (
    <WeighLoop
      form="weighed_in"
      held={held}
      title="Weigh in"
      pieces={pieces}
      first={first}
      weightLabel="On the scale, net and all"
      about={(p) =>
        p.hang && (
          <p className="border-y border-line py-2 text-center">
            <span className="text-soft">wait for</span>{' '}
            <span className="figures text-4xl font-semibold">{format.mass(p.hang.target_gross_g)}</span>
            <span className="block text-[0.95rem] text-soft">
              showed <span className="figures">{format.mass(p.hang.gross_now_g)}</span> {format.moment(p.hang.weighed_at)}
            </span>
            {p.hang.hook_shows_g != null && (
              <span className="block text-[0.95rem] text-caution">
                the practice hook shows <span className="figures font-semibold">{format.mass(p.hang.hook_shows_g)}</span>
              </span>
            )}
          </p>
        )
      }
      act={(p, reading) => ({ act: 'weighed_in', piece: p.id, reading })}
      done={() => 'Weighed, next piece'}
      other={{
        label: 'Weighed and taken down',
        show: () => true,
        act: (p, reading) => ({ act: 'taken_down', piece: p.id, reading }),
      }}
    />
  )
}
