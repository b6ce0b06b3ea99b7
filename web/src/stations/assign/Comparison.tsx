import words from '../../api/words.json'
import { Link } from '@tanstack/react-router'
import { api, type Schemas, unwrap } from '../../api/client'
import { useListChange } from '../../api/planning'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { useCarryOut } from './useSuggest'

type Summary = Schemas['PlanSummary']

const one = (n: number) => (Math.round(n * 10) / 10).toString()

/** Kept plans side by side: packs, kilograms, days, money, places. */
export function Comparison({ plan }: { plan: Schemas['PlanView'] }) {
  const format = useFormat()
  const { record, toDo, carryOut } = useCarryOut(plan)
  const drop = useListChange(async (name: string) =>
    unwrap(await api.POST('/api/v1/plan/drop', { body: { version: plan.plans_version, name } })),
  )
  const { kept } = plan
  if (kept.length === 0) return null
  const products = [...new Map(kept.flatMap((k) => k.summary.products.map((p) => [p.build, p.name] as const)))]
  const rows: [string, (s: Summary) => string][] = [
    ['Packs', (s) => `${s.packs}`],
    ['Finished', (s) => format.mass(Math.round(s.gives_g / 10) * 10)],
    ['Days until the last', (s) => `${s.days}`],
    ['To buy', (s) => `${format.money(s.buy_cents)}${s.unpriced > 0 ? ` and ${s.unpriced} without a price` : ''}`],
    ...plan.places.map((place, i): [string, (s: Summary) => string] => [
      USES[place.what],
      (s) => `${one(rounded(s.places[i] ?? 0, place.measure))}${UNITS[place.measure]}`,
    ]),
    [
      'Smoker',
      (s) => `${one(s.smoke_kg)} kg${s.smoke_runs != null ? `, ${s.smoke_runs} ${s.smoke_runs === 1 ? 'run' : 'runs'}` : ''}`,
    ],
  ]
  return (
    <section aria-label="Kept plans" className="grid grid-cols-1 gap-2">
      <h2>Kept plans, side by side</h2>
      <Refused error={record.error ?? drop.error} />
      <div className="table-top overflow-x-auto" tabIndex={0} role="region" aria-label="Plans compared">
        <table className="w-full min-w-[26rem] text-[0.95rem]">
          <thead>
            <tr className="border-b border-line text-left">
              <td className="p-2" />
              {kept.map((k) => (
                <th key={k.plan.name} scope="col" className="p-2 text-lg">
                  {k.plan.name}
                  {k.summary.gone > 0 && (
                    <span className="block text-[0.85rem] font-normal text-caution">{k.summary.gone} of it is gone since</span>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-line">
            {rows.map(([what, say]) => (
              <tr key={what}>
                <th scope="row" className="p-2 text-left font-normal text-soft">
                  {what}
                </th>
                {kept.map((k) => (
                  <td key={k.plan.name} className="figures p-2">
                    {say(k.summary)}
                  </td>
                ))}
              </tr>
            ))}
            {products.map(([key, name]) => (
              <tr key={key}>
                <th scope="row" className="p-2 text-left font-normal">
                  {name}
                </th>
                {kept.map((k) => {
                  const p = k.summary.products.find((x) => x.build === key)
                  return (
                    <td key={k.plan.name} className="figures p-2">
                      {p ? (
                        <>
                          {format.mass(Math.round(p.gives_g / 10) * 10)}, {p.packs} packs
                          <span className="block text-soft">in {p.days} days</span>
                        </>
                      ) : (
                        '–'
                      )}
                    </td>
                  )
                })}
              </tr>
            ))}
            <tr className="no-print">
              <td />
              {kept.map((k) => (
                <td key={k.plan.name} className="p-2">
                  <div className="flex flex-wrap gap-2">
                    <button
                      type="button"
                      className="press"
                      disabled={record.isPending || toDo(k.plan.choices).length === 0}
                      onClick={() => carryOut(k.plan.choices)}
                    >
                      Carry out<span className="sr-only"> plan {k.plan.name}</span>
                    </button>
                    <Link to="/assign/shopping" search={{ plan: k.plan.name }} className="press">
                      Shopping list<span className="sr-only"> of plan {k.plan.name}</span>
                    </Link>
                    <button type="button" className="quiet" disabled={drop.isPending} onClick={() => drop.mutate(k.plan.name)}>
                      Let it go<span className="sr-only">: plan {k.plan.name}</span>
                    </button>
                  </div>
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  )
}

/** A plan in one line. */
export function SummaryLine({ summary }: { summary: Summary }) {
  const format = useFormat()
  const facts: [string, string][] = [
    [`${summary.packs}`, 'packs'],
    [format.mass(Math.round(summary.gives_g / 10) * 10), 'finished'],
    [`${summary.days}`, 'days until the last'],
    [format.money(summary.buy_cents), summary.unpriced > 0 ? `to buy, and ${summary.unpriced} without a price` : 'to buy'],
  ]
  return (
    <dl className="flex flex-wrap gap-x-6 gap-y-1">
      {facts.map(([n, what]) => (
        <div key={what} className="flex flex-col-reverse">
          <dt className="text-[0.9rem] text-soft">{what}</dt>
          <dd className="figures text-xl font-semibold">{n}</dd>
        </div>
      ))}
    </dl>
  )
}

const USES: Record<Schemas['PlaceUse'], string> = words.PlaceUse.label

const UNITS: Record<Schemas['PlaceMeasure'], string> = { hooks: '', litres: ' l', kilograms: ' kg' }

/** Half a hook is a hook. */
const rounded = (takes: number, measure: Schemas['PlaceMeasure']) => (measure === 'hooks' ? Math.ceil(takes - 1e-9) : takes)

/** What plans reckon with: taken now, taken by the plan, free. */
export function Places({ places, summary }: { places: Schemas['PlaceTaken'][]; summary: Summary }) {
  return (
    <ul className="grid gap-1.5">
      {places.map((place, i) => {
        const name = USES[place.what]
        const unit = UNITS[place.measure]
        const takes = summary.places[i] ?? 0
        const plan = rounded(takes, place.measure)
        const all = place.in_all
        const share = (n: number) => `${Math.min((n / Math.max(all ?? 1, 1e-9)) * 100, 100)}%`
        return (
          <li key={name} className="grid grid-cols-[4.5rem_minmax(0,1fr)] items-center gap-x-3">
            <span className="text-soft">{name}</span>
            {all == null ? (
              <span className="text-[0.95rem] text-soft">not on your equipment list, so not limited</span>
            ) : (
              <div>
                <div className="flex h-4 border border-edge bg-steel" aria-hidden>
                  <div className="bg-loss" style={{ width: share(place.taken) }} />
                  <div className="hatch bg-violet" style={{ width: share(plan) }} />
                </div>
                <p className="figures text-[0.9rem] text-soft">
                  {one(place.taken)}
                  {unit} taken now, {one(plan)}
                  {unit} by this plan, of {one(all)}
                  {unit}
                </p>
              </div>
            )}
          </li>
        )
      })}
    </ul>
  )
}
