import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { ChevronRight } from 'lucide-react'
import type { PieceCard, Schemas } from '../../api/client'
import { usePiece, useRecord, useStation } from '../../api/hooks'
import { Page } from '../../kit/Page'
import { Empty, Failed, Findings, Loading, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'

/** Pieces without a product on one side, what suits the chosen one on the other. */
export function Assign() {
  const station = useStation('assign')
  const search = useSearch({ from: '/assign' })
  const navigate = useNavigate()
  if (station.isPending) return <Page title="Assign"><Loading what="the pieces" /></Page>
  if (station.isError) return <Page title="Assign"><Failed error={station.error} onRetry={() => station.refetch()} /></Page>
  const { pieces } = station.data
  const asked = 'piece' in search ? search.piece : undefined
  const chosen = asked ?? pieces[0]?.id
  return (
    <Page title="Assign" lead="What should each piece become? The best uses stand first, with the reason.">
      {pieces.length === 0 && !asked && (
        <Empty title="Every piece has a product">Weigh more pieces out, or look at what waits in <Link className="quiet" to="/cure">Cure</Link>.</Empty>
      )}
      <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-[2fr_3fr]">
        {pieces.length > 0 && (
          <ul className="table-top divide-y divide-line" aria-label="Pieces without a product">
            {pieces.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  aria-pressed={p.id === chosen}
                  onClick={() => void navigate({ to: '/assign', search: { piece: p.id } })}
                  className={`grid w-full grid-cols-[auto_1fr_auto] items-center gap-3 p-3 text-left ${p.id === chosen ? 'bg-violet-wash' : 'hover:bg-steel'}`}
                >
                  <span className="tag">{p.tag}</span>
                  <span className="min-w-0"><span className="block truncate font-semibold">{p.cut_name}</span><span className="block truncate text-[0.95rem] text-soft">{p.lot_name}</span></span>
                  <span className="figures flex items-center gap-1"><Mass piece={p} /><ChevronRight size={18} aria-hidden /></span>
                </button>
              </li>
            ))}
          </ul>
        )}
        {chosen && <Suits key={chosen} id={chosen} next={pieces.find((p) => p.id !== chosen)?.id} />}
      </div>
    </Page>
  )
}

function Mass({ piece }: { piece: PieceCard }) {
  return <>{useFormat().mass(piece.mass_g)}</>
}

function Suits({ id, next }: { id: number; next?: number }) {
  const piece = usePiece(id)
  const record = useRecord()
  const navigate = useNavigate()
  const format = useFormat()
  if (piece.isPending) return <Loading what="what suits it" />
  if (piece.isError) return <Failed error={piece.error} onRetry={() => piece.refetch()} />
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
  const groups = [
    { title: 'Suits it', list: suits.filter((s) => s.score > 0 && !s.ending) },
    { title: 'Where anything can go', list: suits.filter((s) => s.ending) },
    { title: 'Does not suit it', list: suits.filter((s) => s.score === 0 && !s.ending) },
  ]
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
      <Refused error={record.error} />
      {suits.length === 0 && <Empty title="It keeps its product">{card.tag} is dosed or packed. <Link className="quiet" to="/assign">Choose another piece</Link></Empty>}
      {groups.filter((g) => g.list.length > 0).map((g) => (
        <div key={g.title}>
          <h2 className="mb-1.5">{g.title}</h2>
          <ul className="table-top divide-y divide-line">
            {g.list.map((s) => <Suit key={s.build} suit={s} busy={record.isPending} isNow={s.build === card.build} onAssign={() => assign(s.build)} />)}
          </ul>
        </div>
      ))}
    </section>
  )
}

function Suit({ suit, busy, isNow, onAssign }: { suit: Schemas['Suitability']; busy: boolean; isNow: boolean; onAssign: () => void }) {
  const classic = suit.score === 2
  return (
    <li className="grid grid-cols-[1fr_auto] items-start gap-3 p-3">
      <div>
        <p className="font-semibold">
          {suit.ending ? suit.name : <Link to="/library/$build" params={{ build: suit.build }} className="underline underline-offset-3">{suit.name}</Link>}
          {classic && <span className="ml-2 border border-violet px-1.5 text-[0.85rem] font-medium text-violet">classic</span>}
        </p>
        {suit.reasons.map((r) => <p key={r} className="text-[0.95rem] text-soft">{r}</p>)}
        {suit.score > 0 && suit.findings.length > 0 && <div className="mt-2"><Findings list={suit.findings} /></div>}
      </div>
      {suit.score > 0 && (
        <button type="button" className={`press ${classic ? 'press-main' : ''}`} disabled={busy || isNow} onClick={onAssign}>
          {isNow ? 'Chosen' : 'Make this'}<span className="sr-only">: {suit.name}</span>
        </button>
      )}
    </li>
  )
}
