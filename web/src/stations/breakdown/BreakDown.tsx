import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useLot, useLots } from '../../api/lots'
import { useDraft } from '../../kit/drafts'
import { Fold, Page } from '../../kit/Page'
import { Empty, Findings, Refused } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { TimeLine } from '../piece/TimeLine'
import { knownWords, stageWords } from '../words'
import { AnimalDrawing } from './AnimalDrawing'
import { Balance } from './Balance'
import { Choices } from './Choices'
import { CutTable, Expected } from './Expected'
import { KeptUse } from './KeptUse'
import { Holds } from './Holds'
import { useWeighOutDraft, WeighOut } from './WeighOut'

/** The animals on the table; with one alone there is nothing to choose. */
export function ChooseLot() {
  const lots = useLots()
  const format = useFormat()
  if (!isThere(lots)) return <NotYet of={[lots]} what="what came in" page="Break down" />
  const open = lots.data.filter((l) => !l.closed)
  const done = lots.data.filter((l) => l.closed)
  return (
    <Page title="Break down" lead="Weigh out pieces, trim, fat, bone and skin until nothing is left.">
      {open.length === 0 && (
        <Empty title="Nothing lies on the table">
          Everything that came in is broken down.{' '}
          <Link to="/receive" className="quiet">
            Receive something
          </Link>
        </Empty>
      )}
      <ul className="grid gap-3 md:grid-cols-2">
        {open.map((lot) => (
          <li key={lot.id}>
            <Link to="/breakdown/$id" params={{ id: String(lot.id) }} className="table-top block p-4 hover:bg-violet-wash">
              <span className="flex items-center justify-between gap-3">
                <PlainTag tag={lot.tag} />
                <span className="figures text-xl font-semibold">{format.mass(lot.left_g)}</span>
              </span>
              <span className="mt-2 block font-semibold">{lot.name}</span>
              <span className="block text-soft">
                still to weigh of <span className="figures">{format.mass(lot.received_g)}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {done.length > 0 && (
        <section className="mt-6" aria-label="Broken down">
          <h2 className="mb-1.5">Broken down</h2>
          <ul className="flex flex-wrap gap-x-5 gap-y-1">
            {done.map((lot) => (
              <li key={lot.id}>
                <Link to="/breakdown/$id" params={{ id: String(lot.id) }} className="quiet">
                  {lot.tag} {lot.name}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
    </Page>
  )
}

/** One animal as the working surface: its mass running out, cut by cut, as it is weighed. */
export function BreakDown() {
  const { id } = useParams({ from: '/breakdown/$id' })
  const lot = useLot(Number(id))
  if (!isThere(lot)) return <NotYet of={[lot]} what="the animal" page="Break down" />
  return <OneAnimal key={id} lot={lot.data} />
}

function OneAnimal({ lot }: { lot: Schemas['LotView'] }) {
  const { value: cut, set: setCut } = useDraft(`cut-of.${lot.card.id}`, lot.cut ?? '', (c) => c)
  const { card, findings, cautions, holds, expectation } = lot
  const open = !card.closed
  const isTyping = useWeighOutDraft(card.id)
  return (
    <Page
      title={`Break down ${card.name}`}
      side={
        <p className="flex items-center gap-3">
          <Link to="/cutsheet/$id" params={{ id: String(card.id) }} className="press no-print">
            <Printer size={18} aria-hidden /> Cut sheet
          </Link>
          <PlainTag tag={card.tag} />
        </p>
      }
    >
      <div className="grid grid-cols-1 gap-5">
        <Balance lot={lot} />
        <KeptUse lot={lot} />
        <Findings list={findings} />
        {holds.some((h) => h.status === 'bad') && (
          <Holds lot={card.id} tag={card.tag} holds={holds.filter((h) => h.status === 'bad')} />
        )}
        <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-[6fr_5fr] lg:grid-rows-[auto_1fr]">
          <div className="lg:col-start-1">
            <AnimalDrawing lot={lot} chosen={cut} onChoose={open ? setCut : undefined} />
          </div>
          <div className="grid grid-cols-1 gap-5 lg:col-start-2 lg:row-span-2 lg:row-start-1">
            {(open || isTyping) && <WeighOut lot={lot} cut={cut} onCut={setCut} />}
            {!open && <Finished lot={lot} />}
            <Weighed lot={lot} />
          </div>
          <div className="grid grid-cols-1 gap-5 lg:col-start-1">
            <CutTable lot={lot} chosen={cut} onChoose={open ? setCut : undefined} />
            {expectation && (
              <div className="table-top px-3">
                <Expected expectation={expectation} />
              </div>
            )}
          </div>
        </div>
        <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-2">
          <Choices lot={lot} />
          <div className="grid gap-5">
            <Holds lot={card.id} tag={card.tag} holds={holds.filter((h) => h.status !== 'bad')} />
            <About lot={lot} />
          </div>
        </div>
        {cautions.length > 0 && (
          <Fold title={`What ${card.species_name} asks of you`}>
            <Findings list={cautions} />
          </Fold>
        )}
        <Fold title={`Everything that happened to ${card.tag}`}>
          <TimeLine entries={lot.timeline} />
        </Fold>
      </div>
    </Page>
  )
}

/** What was said when it came in, beside its weight. */
function About({ lot }: { lot: Schemas['LotView'] }) {
  const format = useFormat()
  const b = lot.background
  const facts = [
    lot.sex && [lot.sex, lot.age].filter(Boolean).join(', '),
    lot.card.cost_cents != null &&
      `${format.money(lot.card.cost_cents)} in all${lot.shipping_cents ? `, ${format.money(lot.shipping_cents)} of it shipping` : ''}`,
    lot.card.together && `part of “${lot.card.together}”`,
    b.fat_cover_mm != null && `${format.length(b.fat_cover_mm)} of fat over the loin`,
    b.rested_days != null && `rested ${b.rested_days} ${b.rested_days === 1 ? 'day' : 'days'}`,
    b.hung_days != null && `hung cold ${b.hung_days} ${b.hung_days === 1 ? 'day' : 'days'}`,
    b.inside_c != null && `${format.heat(b.inside_c)} inside when it came`,
    b.inspected != null && (b.inspected ? 'inspected and stamped' : 'own kill, no stamp'),
    b.withdrawal && `medicines: ${b.withdrawal}`,
    lot.card.frozen &&
      `frozen ${lot.card.frozen.frozen_on}${lot.card.frozen.thaw_by ? `, thaw by ${lot.card.frozen.thaw_by}` : ''}`,
  ].filter(Boolean)
  if (facts.length === 0) return null
  return (
    <section aria-label="What is known of it" className="table-top p-4">
      <h2 className="mb-1">What is known of it</h2>
      <ul className="list-disc pl-5">
        {facts.map((f) => (
          <li key={String(f)}>{f}</li>
        ))}
      </ul>
    </section>
  )
}

function Finished({ lot }: { lot: Schemas['LotView'] }) {
  return (
    <section className="table-top p-4">
      <h2>Nothing is left to weigh out</h2>
      <p className="mt-1 text-soft">The rest stands in the books as loss. To weigh more out, undo “break-down finished” below.</p>
      <p className="mt-3 flex flex-wrap gap-2">
        <Link to="/assign" className="press press-main">
          Give the pieces a product
        </Link>
        <Link to="/tally/$id" params={{ id: String(lot.card.id) }} className="press">
          Where it went
        </Link>
      </p>
    </section>
  )
}

function Weighed({ lot }: { lot: Schemas['LotView'] }) {
  const format = useFormat()
  const record = useRecord()
  const [asked, setAsked] = useState(false)
  const close = () => record.mutate({ acts: [{ act: 'breakdown_closed', lot: lot.card.id }] })
  const pieces = [...lot.pieces].reverse()
  return (
    <section aria-label="Weighed out" className="grid gap-3">
      <h2>
        Weighed out
        {lot.count != null && (
          <span className="figures font-normal text-soft">
            {' '}
            {lot.pieces.length} of {lot.count}
          </span>
        )}
      </h2>
      {pieces.length === 0 ? (
        <Empty title="No pieces yet">
          Weigh the first one; the {knownWords[lot.card.known]} is what it all has to come out of.
        </Empty>
      ) : (
        <table className="table-top w-full">
          <thead>
            <tr className="border-b border-line text-left text-[0.9rem] text-soft">
              <th scope="col" className="p-2 font-normal">
                Piece
              </th>
              <th scope="col" className="p-2 font-normal">
                Cut
              </th>
              <th scope="col" className="p-2 text-right font-normal">
                Green
              </th>
              <th scope="col" className="hidden p-2 text-right font-normal sm:table-cell">
                Thick
              </th>
            </tr>
          </thead>
          <tbody className="divide-y divide-line">
            {pieces.map((p) => {
              const over = p.stage === 'cut_up' || p.stage === 'joined'
              return (
                <tr key={p.id} className={over ? 'text-soft' : ''}>
                  <th scope="row" className="p-1.5">
                    <PieceTag id={p.id} tag={p.tag} />
                  </th>
                  <td className="p-2">
                    {p.cut_name}
                    <span className="block text-[0.9rem] text-soft">
                      {p.build_name ?? stageWords[p.stage]}
                      {over && p.build_name && `, ${stageWords[p.stage]}`}
                    </span>
                  </td>
                  <td className="figures p-2 text-right whitespace-nowrap">{format.mass(p.green_g)}</td>
                  <td className="figures hidden p-2 text-right whitespace-nowrap sm:table-cell">
                    {p.thickness_mm ? format.length(p.thickness_mm) : '–'}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
      {pieces.length > 0 && (
        <p className="text-[0.95rem] text-soft">
          Skin, bone, trim, split, part, open flat or pair a piece on its own page: choose its tag.
        </p>
      )}
      {!lot.card.closed && (pieces.length > 0 || lot.byproducts.length > 0) && (
        <div className="grid gap-2">
          <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
          {!asked && (
            <button
              type="button"
              className="press justify-self-start"
              onClick={() => {
                setAsked(true)
                close()
              }}
              disabled={record.isPending}
            >
              Nothing more to weigh out
            </button>
          )}
          {asked && record.isError && (
            <button
              type="button"
              className="quiet justify-self-start"
              onClick={() => {
                record.reset()
                setAsked(false)
              }}
            >
              There is more to weigh
            </button>
          )}
        </div>
      )}
    </section>
  )
}
