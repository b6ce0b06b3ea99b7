import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { Download, FileText, Printer } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { usePlan, useShopping } from '../../api/planning'
import { Select } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty, Failed, Loading } from '../../kit/States'
import { useFormat } from '../../units'
import { stockWords } from '../words'

/** What a plan takes, less what the pantry holds; to be printed, sent or taken along. */
export function Shopping() {
  const search = useSearch({ from: '/assign/shopping' })
  const plan = 'plan' in search ? search.plan : undefined
  const list = useShopping(plan)
  const plans = usePlan()
  const navigate = useNavigate()
  const query = plan ? `?plan=${encodeURIComponent(plan)}` : ''
  return (
    <Page
      title="Shopping list"
      lead={
        plan
          ? `For plan ${plan}, less what the pantry holds.`
          : 'For what was given or locked by hand, less what the pantry holds.'
      }
      side={
        <Link to="/assign" className="press no-print">
          Back to supply and wishes
        </Link>
      }
    >
      <div className="grid grid-cols-1 gap-4">
        <div className="no-print flex flex-wrap items-start gap-x-4">
          <div className="w-64">
            <Select
              label="For"
              value={plan ?? ''}
              onChange={(v) => void navigate({ to: '/assign/shopping', search: v ? { plan: v } : {} })}
            >
              <option value="">what was given by hand</option>
              {plans.data?.kept.map((k) => (
                <option key={k.plan.name} value={k.plan.name}>
                  plan {k.plan.name}
                </option>
              ))}
            </Select>
          </div>
          <p className="flex flex-wrap gap-2 pt-7">
            <a className="press" href={`/api/v1/shopping.txt${query}`} target="_blank" rel="noreferrer">
              <FileText size={18} aria-hidden /> As text
            </a>
            <a className="press" href={`/api/v1/shopping.csv${query}`} download>
              <Download size={18} aria-hidden /> As a table (CSV)
            </a>
            <button type="button" className="press" onClick={() => window.print()}>
              <Printer size={18} aria-hidden /> Print
            </button>
            <Link to="/pantry" className="press">
              The pantry
            </Link>
          </p>
        </div>
        {list.isPending && <Loading what="the list" />}
        {list.isLoadingError && <Failed error={list.error} onRetry={() => list.refetch()} />}
        {list.data && <List list={list.data} />}
      </div>
    </Page>
  )
}

function List({ list }: { list: Schemas['ShoppingList'] }) {
  const format = useFormat()
  if (list.lines.length === 0)
    return (
      <Empty title="Nothing is planned yet">Give pieces a product, or keep a suggested plan: what it takes stands here.</Empty>
    )
  const say = (n: number, unit: Schemas['StockUnit']) =>
    unit === 'grams' ? format.mass(Math.round(n * 10) / 10) : unit === 'metres' ? `${n.toFixed(1)} m` : `${Math.ceil(n)}`
  const toBuy = list.lines.filter((l) => l.buy > 1e-6)
  const there = list.lines.filter((l) => l.buy <= 1e-6)
  return (
    <>
      <section aria-label="To buy">
        <h2 className="mb-1.5">
          To buy{' '}
          <span className="figures font-normal text-soft">
            {format.money(list.cost_cents)}
            {list.unpriced > 0 && ` and ${list.unpriced} without a price`}
          </span>
        </h2>
        {toBuy.length === 0 ? (
          <p>Everything is in the house.</p>
        ) : (
          <div className="table-top overflow-x-auto" tabIndex={0} role="region" aria-label="What is to buy">
            <table className="w-full min-w-[30rem] text-[0.95rem]">
              <thead>
                <tr className="border-b border-line text-left text-soft">
                  <th scope="col" className="p-2 font-normal">
                    What
                  </th>
                  <th scope="col" className="p-2 text-right font-normal">
                    To buy
                  </th>
                  <th scope="col" className="p-2 text-right font-normal">
                    of
                  </th>
                  <th scope="col" className="p-2 text-right font-normal">
                    Cost
                  </th>
                  <th scope="col" className="p-2 font-normal">
                    For
                  </th>
                </tr>
              </thead>
              <tbody className="divide-y divide-line">
                {toBuy.map((l) => (
                  <tr key={l.kind + l.name} className="align-top">
                    <th scope="row" className="p-2 text-left">
                      <span aria-hidden className="mr-2 hidden size-3 border border-edge print:inline-block" />
                      {l.name}
                      <span className="block font-normal text-soft">
                        {stockWords[l.kind]}
                        {l.note && `: ${l.note}`}
                      </span>
                    </th>
                    <td className="figures p-2 text-right text-lg font-semibold whitespace-nowrap">{say(l.take, l.unit)}</td>
                    <td className="figures p-2 text-right whitespace-nowrap text-soft">{say(l.need, l.unit)}</td>
                    <td className="figures p-2 text-right whitespace-nowrap">
                      {l.cost_cents != null ? format.money(l.cost_cents) : '–'}
                    </td>
                    <td className="p-2">{l.products.join(', ')}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </section>
      {there.length > 0 && (
        <section aria-label="In the house" className="no-print">
          <h2 className="mb-1.5">In the house already</h2>
          <ul className="table-top divide-y divide-line text-[0.95rem]">
            {there.map((l) => (
              <li key={l.kind + l.name} className="flex flex-wrap justify-between gap-x-4 p-2">
                <span>
                  <strong>{l.name}</strong> <span className="text-soft">for {l.products.join(', ')}</span>
                </span>
                <span className="figures">
                  {say(l.need, l.unit)} of {say(l.have, l.unit)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {list.problems.map((p) => (
        <p key={p} className="border-l-8 border-caution bg-caution-wash p-3">
          {p}
        </p>
      ))}
    </>
  )
}
