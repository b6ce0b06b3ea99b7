import { Drawing } from '../../kit/Drawing'
import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useHouseholdTally, useLotTally, useMoreOfTally } from '../../api/tally'
import { TextField } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty, Findings, More } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { percent, useFormat } from '../../units'
import { lossWords, pointWords } from '../words'
import { Flow } from './Flow'

/** What one got for what one put in, over everything. */
export function Tally() {
  const tally = useHouseholdTally()
  const rest = useMoreOfTally(tally.data)
  const format = useFormat()
  if (!isThere(tally)) return <NotYet of={[tally]} what="the sums" page="Tally" />
  const { products, lots_in_all } = tally.data
  const lots = [tally.data, ...rest.pages].flatMap((p) => p.lots)
  if (lots.length === 0)
    return (
      <Page title="Tally">
        <Empty title="Nothing to add up yet">
          Receive something first.{' '}
          <Link to="/receive" className="quiet">
            Receive
          </Link>
        </Empty>
      </Page>
    )
  return (
    <Page
      title="Tally"
      lead="What did I get for what I put in?"
      side={
        <Link to="/overrides" className="press">
          Lifted stops
        </Link>
      }
    >
      <div className="grid grid-cols-1 gap-7">
        <section aria-label="By animal and purchase">
          <h2 className="mb-1.5">By animal and purchase</h2>
          <ul className="table-top divide-y divide-line">
            {lots.map(({ card, packed_share, given_g, taken_in_g, cost_cents_per_kg }) => (
              <li key={card.id}>
                <Link
                  to="/tally/$id"
                  params={{ id: String(card.id) }}
                  className="grid grid-cols-[auto_1fr_auto] items-center gap-x-4 gap-y-1 p-3 hover:bg-violet-wash"
                >
                  <PlainTag tag={card.tag} />
                  <span className="min-w-0">
                    <span className="block truncate font-semibold">{card.name}</span>
                    <span className="block text-[0.95rem] text-soft">
                      <span className="figures">{format.mass(card.packed_g)}</span> packed of{' '}
                      <span className="figures">{format.mass(card.received_g)}</span>
                      {taken_in_g > 0 && ` and ${format.mass(taken_in_g)} from elsewhere`}
                      {given_g > 0 && `, ${format.mass(given_g)} given to others`}
                      {card.open_pieces > 0 && `, ${card.open_pieces} pieces on their way`}
                    </span>
                  </span>
                  <span className="text-right">
                    <span className="figures block text-xl font-semibold">
                      {packed_share == null ? '–' : percent(packed_share, 0)}
                    </span>
                    {cost_cents_per_kg != null && (
                      <span className="figures text-[0.95rem] text-soft">{format.money(cost_cents_per_kg)} a kg</span>
                    )}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          <More left={lots_in_all - lots.length} rest={rest} />
        </section>
        <Products products={products} />
      </div>
    </Page>
  )
}

/** One animal: the flow from what came in to packs, by-products and losses. */
export function LotTally() {
  const { id } = useParams({ from: '/tally/$id' })
  const tally = useLotTally(Number(id))
  const format = useFormat()
  if (!isThere(tally)) return <NotYet of={[tally]} what="the sums" page="Tally" />
  const { lot, flow, products, pieces, losses, findings } = tally.data
  return (
    <Page
      title={`Where ${lot.card.name} went`}
      side={
        <span className="flex items-center gap-3">
          <Link to="/trace/lots/$id" params={{ id }} className="quiet">
            Where its meat is
          </Link>
          <Link to="/breakdown/$id" params={{ id }} className="tag">
            {lot.card.tag}
          </Link>
        </span>
      }
    >
      <div className="grid grid-cols-1 gap-6">
        <dl className="flex flex-wrap gap-x-10 gap-y-2">
          <Sum name="came in" value={format.mass(lot.card.received_g)} />
          <Sum name="in packs" value={format.mass(lot.card.packed_g)} />
          {lot.given_g > 0 && <Sum name="given to others" value={format.mass(lot.given_g)} />}
          {lot.taken_in_g > 0 && <Sum name="from elsewhere" value={format.mass(lot.taken_in_g)} />}
          {lot.packed_share != null && <Sum name="of its meat packed" value={percent(lot.packed_share)} />}
          {lot.cost_cents_per_kg != null && <Sum name="a kilogram in packs" value={format.money(lot.cost_cents_per_kg)} />}
        </dl>
        <Findings list={findings} />
        <Drawing of="where every gram went">
          <Flow links={flow} />
        </Drawing>
        {lot.cost_cents_per_kg != null && <Shop cents={lot.cost_cents_per_kg} />}
        <Products products={products} />
        <div className="grid grid-cols-1 gap-6 lg:grid-cols-2">
          <section aria-label="Finished pieces">
            <h2 className="mb-1.5">Finished pieces, the best yield first</h2>
            {pieces.length === 0 ? (
              <Empty title="None yet">A piece stands here once it is packed to the last gram.</Empty>
            ) : (
              <ul className="table-top divide-y divide-line">
                {pieces.map((p) => (
                  <li key={p.id} className="grid grid-cols-[auto_1fr_auto] items-center gap-3 p-2.5">
                    <PieceTag id={p.id} tag={p.tag} />
                    <span className="min-w-0 truncate">
                      {p.name}
                      {p.thickness_mm != null && <span className="figures text-soft">, {format.length(p.thickness_mm)}</span>}
                    </span>
                    <span className="figures text-right">
                      <strong>{percent(p.packed_g / p.green_g)}</strong>
                      <span className="block text-[0.95rem] text-soft">
                        {format.mass(p.packed_g)} of {format.mass(p.green_g)}
                      </span>
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
          <section aria-label="Losses">
            <h2 className="mb-1.5">Kept by nobody</h2>
            <ul className="table-top divide-y divide-line">
              {losses.map((l) => (
                <li key={l.kind} className="flex justify-between p-2.5">
                  <span>{lossWords[l.kind]}</span>
                  <span className="figures">{format.mass(l.mass_g)}</span>
                </li>
              ))}
              {losses.length === 0 && <li className="p-2.5 text-soft">Nothing lost so far.</li>}
            </ul>
          </section>
        </div>
      </div>
    </Page>
  )
}

function Sum({ name, value }: { name: string; value: string }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-soft">{name}</dt>
      <dd className="figures text-3xl leading-tight font-semibold">{value}</dd>
    </div>
  )
}

/** Against a shop price the person types. */
function Shop({ cents }: { cents: number }) {
  const format = useFormat()
  const [price, setPrice] = useState('')
  const shop = Number(price.replace(',', '.')) * 100
  const saved = shop - cents
  const known = price.trim() !== '' && Number.isFinite(shop)
  return (
    <div className="max-w-md">
      <TextField
        label="A kilogram costs this much in the shop"
        value={price}
        onChange={setPrice}
        inputMode="decimal"
        hint={
          known
            ? saved >= 0
              ? `${format.money(saved)} less a kilogram than in the shop; purchase price alone.`
              : `${format.money(-saved)} more a kilogram than in the shop; purchase price alone.`
            : 'Type it to compare. Only the purchase is counted, not salt, casings or fuel.'
        }
      />
    </div>
  )
}

function Products({ products }: { products: Schemas['ProductView'][] }) {
  const format = useFormat()
  if (products.length === 0) return null
  return (
    <section aria-label="By product">
      <h2 className="mb-1.5">By product</h2>
      <div className="table-top overflow-x-auto" tabIndex={0} role="region" aria-label="Yields by product">
        <table className="w-full min-w-[38rem]">
          <thead>
            <tr className="border-b border-line text-left text-[0.9rem] text-soft">
              {['Product', 'Pieces', 'Green', 'Steps, % of the weight before', 'Packed', 'Of green'].map((h, i) => (
                <th key={h} scope="col" className={`p-2.5 font-normal ${i === 1 || i === 2 || i > 3 ? 'text-right' : ''}`}>
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-line">
            {products.map(({ name, tally, yield_of_green, usual_yield }) => (
              <tr key={tally.build} className="align-top">
                <th scope="row" className="p-2.5 text-left font-semibold">
                  {name}
                </th>
                <td className="figures p-2.5 text-right">{tally.pieces}</td>
                <td className="figures p-2.5 text-right whitespace-nowrap">{format.mass(tally.green_mg / 1000)}</td>
                <td className="figures p-2.5 text-[0.95rem]">
                  {tally.steps.map((s) => (
                    <span key={s.point} className="mr-3 whitespace-nowrap">
                      {pointWords[s.point]} {percent(s.here_mg / s.before_mg)}
                    </span>
                  ))}
                </td>
                <td className="figures p-2.5 text-right whitespace-nowrap">
                  {format.mass(tally.packed_mg / 1000)}
                  {tally.packs > 0 && <span className="block text-[0.9rem] text-soft">{tally.packs} packs</span>}
                </td>
                <td className="figures p-2.5 text-right whitespace-nowrap">
                  {yield_of_green != null ? percent(yield_of_green) : '–'}
                  {usual_yield && (
                    <span className="block text-[0.9rem] text-soft">
                      usual {percent(usual_yield.low, 0)} to {percent(usual_yield.high, 0)}
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
