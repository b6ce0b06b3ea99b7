import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useNavigate } from '@tanstack/react-router'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { usePiece } from '../../api/pieces'
import { Empty, Findings, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'

type Suitability = Schemas['Suitability']

/** What a piece could become, best first, each with its reason; then what it cannot, and why. */
export function Suits({ id, next }: { id: number; next?: number }) {
  const piece = usePiece(id)
  const record = useRecord()
  const navigate = useNavigate()
  const format = useFormat()
  if (!isThere(piece)) return <NotYet of={[piece]} what="what suits it" />
  const { card, suits } = piece.data
  const assign = (build: string) => {
    const discard = build === 'discard'
    const acts: Schemas['ActAsk'][] = [{ act: 'assigned', piece: id, build }]
    if (discard) acts.push({ act: 'discarded', piece: id, reason: 'Thrown away when it was assigned.' })
    record.mutate(
      { acts, seen: [{ piece: id, version: card.version }] },
      { onSuccess: () => void navigate({ to: '/assign', search: next ? { piece: next } : {} }) },
    )
  }
  const now = (s: Suitability) => s.score > 0 && s.lacks.length === 0 && !s.held
  const groups = [
    { title: 'Suits it', list: suits.filter((s) => now(s) && !s.ending) },
    { title: 'Would suit it, but not yet', list: suits.filter((s) => s.score > 0 && !now(s) && !s.ending) },
    { title: 'Where anything can go', list: suits.filter((s) => s.ending && !s.held) },
  ]
  const not = suits.filter((s) => (s.score === 0 && !s.ending) || (s.ending && s.held))
  return (
    <section aria-label={`What suits ${card.tag}`} className="grid gap-4">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <PieceTag id={card.id} tag={card.tag} />
        <p>
          {card.cut_name} of {card.species_name}, <span className="figures">{format.mass(card.mass_g)}</span>
          {card.thickness_mm && <span className="figures">, {format.length(card.thickness_mm)} thick</span>}
          {card.build_name && <>; now: {card.build_name}</>}
        </p>
      </div>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      {suits.length === 0 && (
        <Empty title="It keeps its product">
          {card.tag} is dosed or packed.{' '}
          <Link className="quiet" to="/assign">
            Choose another piece
          </Link>
        </Empty>
      )}
      {groups
        .filter((g) => g.list.length > 0)
        .map((g) => (
          <div key={g.title}>
            <h2 className="mb-1.5">{g.title}</h2>
            <ul className="table-top divide-y divide-line">
              {g.list.map((s) => (
                <Suit
                  key={s.build}
                  suit={s}
                  busy={record.isPending}
                  isNow={s.build === card.build}
                  onAssign={() => assign(s.build)}
                />
              ))}
            </ul>
          </div>
        ))}
      {not.length > 0 && (
        <details>
          <summary className="quiet">Does not suit it: {not.length}, and why</summary>
          <ul className="table-top mt-1 divide-y divide-line">
            {not.map((s) => (
              <Suit
                key={s.build}
                suit={s}
                busy={record.isPending}
                isNow={s.build === card.build}
                onAssign={() => assign(s.build)}
              />
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}

function Suit({ suit, busy, isNow, onAssign }: { suit: Suitability; busy: boolean; isNow: boolean; onAssign: () => void }) {
  const classic = suit.score === 2
  const can = suit.score > 0 && !(suit.ending && suit.held)
  // What does not suit is stopped, and a typed reason lifts that.
  const may = can || !suit.held
  return (
    <li className="grid grid-cols-[1fr_auto] items-start gap-3 p-3">
      <div>
        <p className="font-semibold">
          {suit.ending ? (
            suit.name
          ) : (
            <Link to="/library/$build" params={{ build: suit.build }} className="underline underline-offset-3">
              {suit.name}
            </Link>
          )}
          {classic && <span className="ml-2 border border-violet px-1.5 text-[0.85rem] font-medium text-violet">classic</span>}
        </p>
        {suit.reasons.map((r) => (
          <p key={r} className="text-[0.95rem] text-soft">
            {r}
          </p>
        ))}
        {can && suit.first.length > 0 && (
          <p className="text-[0.95rem]">
            <strong>First:</strong> {suit.first.join(', ')}.
          </p>
        )}
        {can && suit.findings.length > 0 && (
          <div className="mt-2">
            <Findings list={suit.findings} />
          </div>
        )}
      </div>
      {may && (
        <button type="button" className={`press ${classic ? 'press-main' : ''}`} disabled={busy || isNow} onClick={onAssign}>
          {isNow ? 'Chosen' : 'Make this'}
          <span className="sr-only">: {suit.name}</span>
        </button>
      )}
    </li>
  )
}
