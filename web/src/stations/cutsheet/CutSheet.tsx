import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useCutSheet } from '../../api/lots'
import { usePlan } from '../../api/planning'
import { useSettings } from '../../api/settings'
import { Choice, Select } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { PlainTag } from '../../kit/Tag'
import { estimate, useFormat } from '../../units'

type Sheet = Schemas['CutSheet']

/** How one animal is cut, on paper: for one's own table, or to hand to a butcher. */
export function CutSheet() {
  const { id } = useParams({ from: '/cutsheet/$id' })
  const search = useSearch({ from: '/cutsheet/$id' })
  const plan = 'plan' in search ? search.plan : undefined
  const sheet = useCutSheet(Number(id), plan)
  const plans = usePlan()
  const navigate = useNavigate()
  const [whose, setWhose] = useState<'table' | 'butcher'>('table')
  if (!isThere(sheet)) return <NotYet of={[sheet]} what="the cut sheet" page="Cut sheet" />
  const { name, tag } = sheet.data
  return (
    <Page title={whose === 'butcher' ? `To the butcher: ${name}` : `Cut sheet: ${name}`} side={<PlainTag tag={tag} />}>
      <div className="grid grid-cols-1 gap-4">
        <div className="no-print flex flex-wrap items-start gap-x-5 gap-y-2">
          <Choice
            label="For"
            value={whose}
            onChange={setWhose}
            options={[
              { value: 'table', label: 'your own table' },
              { value: 'butcher', label: 'a butcher' },
            ]}
          />
          <div className="w-64">
            <Select
              label="By"
              value={plan ?? ''}
              onChange={(v) => void navigate({ to: '/cutsheet/$id', params: { id }, search: v ? { plan: v } : {} })}
            >
              <option value="">what was given by hand</option>
              {plans.data?.kept.map((k) => (
                <option key={k.plan.name} value={k.plan.name}>
                  plan {k.plan.name}
                </option>
              ))}
            </Select>
          </div>
          <p className="flex gap-2 pt-7">
            <button type="button" className="press" onClick={() => window.print()}>
              <Printer size={18} aria-hidden /> Print it
            </button>
            <Link to="/breakdown/$id" params={{ id }} className="press">
              Break it down
            </Link>
          </p>
        </div>
        {whose === 'table' ? <OwnTable sheet={sheet.data} /> : <Butcher sheet={sheet.data} />}
      </div>
    </Page>
  )
}

function OwnTable({ sheet }: { sheet: Sheet }) {
  const format = useFormat()
  return (
    <div className="grid grid-cols-1 gap-4">
      <p>
        {sheet.species_name}, <span className="figures">{format.mass(sheet.received_g)}</span> came in.
      </p>
      <section aria-label="How it is cut">
        <h2 className="mb-1.5">How it is cut</h2>
        <dl className="table-top divide-y divide-line">
          {sheet.choices.map((c) => (
            <div key={c.choice} className="grid gap-x-4 p-2 sm:grid-cols-[14rem_1fr] print:grid-cols-[14rem_1fr]">
              <dt className="text-soft">{c.name}</dt>
              <dd>
                <strong>{c.option_name}</strong>
                {!c.settled && <span className="text-soft"> (usual, not settled)</span>}. {c.words}
              </dd>
            </div>
          ))}
        </dl>
      </section>
      <section aria-label="Cuts and what they become">
        <h2 className="mb-1.5">Cuts and what they become</h2>
        {sheet.lines.length === 0 ? (
          <Empty title="Nothing is left to cut">Every piece of it is dosed, packed or gone.</Empty>
        ) : (
          <table className="table-top w-full text-[0.95rem]">
            <thead>
              <tr className="border-b border-line text-left text-soft">
                <th scope="col" className="p-2 font-normal">
                  Cut
                </th>
                <th scope="col" className="p-2 text-right font-normal">
                  Should weigh
                </th>
                <th scope="col" className="hidden p-2 font-normal sm:table-cell print:table-cell">
                  Weighed
                </th>
                <th scope="col" className="p-2 font-normal">
                  Becomes
                </th>
              </tr>
            </thead>
            <tbody className="divide-y divide-line">
              {sheet.lines.map((l) => (
                <tr key={l.cut + (l.product ?? '')} className="align-top">
                  <th scope="row" className="p-2 text-left">
                    {l.count > 1 && `${l.count} × `}
                    {l.cut_name}
                  </th>
                  <td className="figures p-2 text-right whitespace-nowrap">{format.mass(estimate(l.mass_g))}</td>
                  <td className="hidden w-24 border-x border-line sm:table-cell print:table-cell" />
                  <td className="p-2">
                    {l.product ? <strong>{l.product}</strong> : <span className="text-soft">not said yet</span>}
                    <ul className="list-disc pl-5">
                      {l.table.map((w) => (
                        <li key={w}>{w}</li>
                      ))}
                    </ul>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <Mind words={sheet.mind} />
    </div>
  )
}

/** In a butcher's words, and nothing a butcher does not need. */
function Butcher({ sheet }: { sheet: Sheet }) {
  const format = useFormat()
  const settings = useSettings().data
  return (
    <div className="table-top grid gap-4 p-5 text-lg print:border-0 print:p-0 print:text-base">
      <p>
        {settings?.household.name}. Animal <strong>{sheet.tag}</strong>: {sheet.species_name},{' '}
        <span className="figures">{format.mass(sheet.received_g)}</span>. Please cut it like this:
      </p>
      <section aria-label="Cutting orders">
        <h2 className="mb-1">Cutting</h2>
        <ol className="grid list-decimal gap-1 pl-6">
          {sheet.choices.map((c) => (
            <li key={c.choice}>{c.order}</li>
          ))}
        </ol>
      </section>
      {sheet.lines.some((l) => l.product) && (
        <section aria-label="Cuts we cure ourselves">
          <h2 className="mb-1">Cuts we cure ourselves</h2>
          <ul className="grid list-disc gap-1 pl-6">
            {sheet.lines
              .filter((l) => l.product)
              .map((l) => (
                <li key={l.cut + l.product}>
                  {l.count > 1 && `${l.count} × `}
                  {l.order}
                </li>
              ))}
          </ul>
        </section>
      )}
      <section aria-label="Please keep">
        <h2 className="mb-1">Please keep</h2>
        <ul className="grid list-disc gap-1 pl-6">
          {sheet.keep.map((k) => (
            <li key={k}>{k}</li>
          ))}
        </ul>
      </section>
      <p className="border-t border-line pt-2 text-base">Please put no salt, cure or spice on anything. Thank you.</p>
    </div>
  )
}

function Mind({ words }: { words: string[] }) {
  if (words.length === 0) return null
  return (
    <section aria-label="What to mind">
      <h2 className="mb-1.5">What to mind</h2>
      <ul className="list-disc pl-5">
        {words.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
    </section>
  )
}
