import { isThere, NotYet } from '../../kit/Fetched'
import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { api, problemOf, type Schemas, unwrap } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { usePlan } from '../../api/planning'
import { useSettings } from '../../api/settings'
import { AmountField, Choice, Select, TextField, Tick } from '../../kit/Fields'
import { MainAction, Page } from '../../kit/Page'
import { Empty, Refused } from '../../kit/States'
import { estimate, percent, typedNumber, useFormat } from '../../units'

type Plan = Schemas['PlanView']
type BlendAsk = Schemas['BlendAsk']

/** Lean and fat to one block: how much of each, what to buy, how it lies in the pans; then grind it. */
export function Grind() {
  const plan = usePlan()
  if (!isThere(plan)) return <NotYet of={[plan]} what="trim and fat" page="Grind and blend" />
  return (
    <Page
      title="Grind and blend"
      lead="Lean game wants fat. Choose what goes in and how fat it is to be."
      side={
        <Link to="/assign" className="press no-print">
          Back to supply and wishes
        </Link>
      }
    >
      <Blend plan={plan.data} />
    </Page>
  )
}

/** Something on hand that can go into the grinder: `mass_g` of it grinds, off the bone. */
interface Source {
  key: string
  lot: number
  name: string
  whole_g?: number
  mass_g: number
  fat: number
  from: 'loose' | 'piece'
  piece?: number
  kind?: Schemas['Byproduct']
}

function Blend({ plan }: { plan: Plan }) {
  const catalogue = useCatalogue().data
  const settings = useSettings().data
  const format = useFormat()
  const products = catalogue?.builds.filter((b) => b.mix) ?? []
  const [product, setProduct] = useState('formed-loaf')
  const build = products.find((b) => b.key === product)
  const sources: Source[] = [
    ...plan.loose
      .filter((l) => l.builds.includes(product))
      .map((l) => ({
        key: l.key,
        lot: l.lot,
        name: `${l.name} of ${l.lot_tag}`,
        mass_g: l.mass_g,
        fat: l.fat_fraction,
        from: 'loose' as const,
        kind: l.kind,
      })),
    ...plan.supply
      .filter(
        (s) => s.piece != null && s.options.some((o) => o.build === product) && (s.assigned == null || s.assigned === product),
      )
      .map((s) => ({
        key: s.key,
        lot: s.lot,
        name: `${s.tag} ${s.cut_name}`,
        whole_g: s.mass_g,
        mass_g: s.options.find((o) => o.build === product)!.usable_g,
        fat: catalogue?.species.find((x) => x.key === s.species)?.cut.find((c) => c.key === s.cut)?.fat_fraction ?? 0.05,
        from: 'piece' as const,
        piece: s.piece!,
      })),
  ]
  const middle = build?.mix ? (build.mix.fat_fraction.low + build.mix.fat_fraction.high) / 2 : 0.28
  const lean = sources.filter((s) => s.fat < middle)
  const fat = sources.filter((s) => s.fat >= middle)
  const [chosen, setChosen] = useState<string[]>()
  const here = chosen ?? sources.filter((s) => s.from === 'loose').map((s) => s.key)
  const fatHere = fat.filter((s) => here.includes(s.key))
  const [typed, setTyped] = useState({
    by: 'target' as 'target' | 'ratio',
    target: '',
    ratio: '2',
    fatName: 'pork back fat',
    fatFat: '88',
    total: '',
    pan: '',
    pans: '',
  })
  const set = (change: Partial<typeof typed>) => setTyped((t) => ({ ...t, ...change }))
  const pans = (settings?.household.equipment?.places ?? []).filter((p) => p.kind === 'pan')
  const pan = build?.mix?.pans ? (pans.find((p) => p.name === typed.pan) ?? (typed.pan === '' ? pans[0] : undefined)) : undefined
  const kept = fatHere.reduce((sum, s) => sum + s.mass_g, 0)
  const target = typedNumber(typed.target)
  const total = typed.total.trim()
  const ask: BlendAsk = {
    lean: lean.filter((s) => here.includes(s.key)).map((s) => ({ name: s.name, fat_fraction: s.fat, mass_g: s.mass_g })),
    fat: { name: typed.fatName, fat_fraction: (typedNumber(typed.fatFat) ?? 88) / 100, mass_g: kept },
    target_fat_fraction: typed.by === 'target' ? (target == null ? middle : target / 100) : null,
    lean_per_fat: typed.by === 'ratio' ? typedNumber(typed.ratio) : null,
    total_g: null,
    pan: pan ? { length_mm: pan.length_mm ?? 0, width_mm: pan.width_mm ?? 0, height_mm: pan.height_mm ?? 0 } : null,
    pans: typedNumber(typed.pans),
  }
  const asked = useBlend(ask, total)
  if (sources.length === 0)
    return (
      <Empty title="Nothing to grind">
        Weigh trim or fat out of an animal, or leave a shoulder without another product: it stands here then.
      </Empty>
    )
  const amount = (s: Source) =>
    s.whole_g != null && s.whole_g - s.mass_g > 1
      ? `${format.mass(s.whole_g)}, about ${format.mass(estimate(s.mass_g))} off the bone`
      : format.mass(s.mass_g)
  const wrong = (field: string) => (asked.error ? problemOf(asked.error).field(field) : undefined)
  const toggle = (key: string, on: boolean) => setChosen(on ? [...here, key] : here.filter((k) => k !== key))
  return (
    <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-2">
      <section aria-label="What goes in" className="table-top grid gap-3 p-4">
        <Select
          label="To become"
          value={product}
          onChange={(v) => {
            setProduct(v)
            setChosen(undefined)
          }}
          hint={
            build?.mix &&
            `${percent(build.mix.fat_fraction.low, 0)} to ${percent(build.mix.fat_fraction.high, 0)} fat: ${build.mix.lean_words}, with ${build.mix.fat_words}.`
          }
        >
          {products.map((b) => (
            <option key={b.key} value={b.key}>
              {b.name}
            </option>
          ))}
        </Select>
        <div>
          <h2 className="mb-1">The lean part</h2>
          {lean.length === 0 && <p className="text-soft">No lean trim or piece is on hand for it.</p>}
          {lean.map((s) => (
            <Tick
              key={s.key}
              label={`${s.name}, ${amount(s)}, about ${percent(s.fat, 0)} fat`}
              checked={here.includes(s.key)}
              onChange={(on) => toggle(s.key, on)}
            />
          ))}
        </div>
        <div>
          <h2 className="mb-1">The fat part</h2>
          {fat.map((s) => (
            <Tick
              key={s.key}
              label={`${s.name}, ${amount(s)}, about ${percent(s.fat, 0)} fat`}
              checked={here.includes(s.key)}
              onChange={(on) => toggle(s.key, on)}
            />
          ))}
          <div className="grid gap-x-4 sm:grid-cols-2">
            <TextField label="Fat part" value={typed.fatName} onChange={(fatName) => set({ fatName })} />
            <TextField
              label="Its fat, %"
              value={typed.fatFat}
              onChange={(fatFat) => set({ fatFat })}
              inputMode="decimal"
              hint="Butt 27, belly 50, back fat 88."
              error={wrong('fat_fat_fraction')}
            />
          </div>
        </div>
        <Choice
          label="Decided by"
          value={typed.by}
          onChange={(by) => set({ by })}
          options={[
            { value: 'target', label: 'the fat wanted' },
            { value: 'ratio', label: 'a ratio' },
          ]}
        />
        <div className="grid gap-x-4 sm:grid-cols-2">
          {typed.by === 'target' ? (
            <TextField
              label="Fat in the block, %"
              value={typed.target}
              onChange={(v) => set({ target: v })}
              inputMode="decimal"
              hint={`Empty: ${(middle * 100).toFixed(1)}.`}
              error={wrong('target_fat_fraction')}
            />
          ) : (
            <TextField
              label="Parts of lean to one of fat"
              value={typed.ratio}
              onChange={(ratio) => set({ ratio })}
              inputMode="decimal"
              error={wrong('lean_per_fat') ?? wrong('target_fat_fraction')}
            />
          )}
          <AmountField
            quantity="mass"
            label="All of the block"
            value={typed.total}
            onChange={(v) => set({ total: v })}
            hint="Empty: as much as the lean makes."
            error={wrong('total_g')}
          />
          {build?.mix?.pans && pans.length > 0 && (
            <Select label="Pan" value={typed.pan || pans[0]!.name} onChange={(v) => set({ pan: v })}>
              {pans.map((p) => (
                <option key={p.name} value={p.name}>
                  {p.name}
                </option>
              ))}
            </Select>
          )}
          <TextField
            label="How many pans"
            value={typed.pans}
            onChange={(v) => set({ pans: v.replace(/\D/g, '') })}
            inputMode="numeric"
            hint="Empty: as many as it takes."
            error={wrong('pans')}
          />
        </div>
      </section>
      <div className="grid gap-5">
        {asked.isError && (
          <p role="alert" className="border-l-8 border-caution bg-caution-wash p-3">
            {problemOf(asked.error).message}
          </p>
        )}
        {asked.data && !asked.isError && <Answer answer={asked.data} fatName={typed.fatName} have={pan?.count} />}
        <GroundForm
          key={product}
          plan={plan}
          lean={lean.filter((s) => here.includes(s.key))}
          fat={fatHere}
          fatName={typed.fatName}
          fatFat={typed.fatFat}
          thickness={asked.data?.slab_mm ?? undefined}
        />
      </div>
    </div>
  )
}

/** The blend as the core works it out; all of the block may be typed in any unit. */
function useBlend(ask: BlendAsk, total: string) {
  return useQuery({
    queryKey: ['blend', ask, total],
    enabled: ask.lean.length > 0,
    retry: false,
    placeholderData: (before) => before,
    queryFn: async () => {
      const read =
        total === '' ? null : unwrap(await api.POST('/api/v1/units/read', { body: { quantity: 'mass', text: total } })).value
      return unwrap(await api.POST('/api/v1/blend', { body: { ...ask, total_g: read } }))
    },
  })
}

function Answer({ answer, fatName, have }: { answer: Schemas['BlendAnswer']; fatName: string; have?: number }) {
  const format = useFormat()
  const g = (v: number) => format.mass(Math.round(v))
  return (
    <section aria-label="The blend" className="table-top grid gap-2 p-4">
      <h2>The blend</h2>
      <ul className="divide-y divide-line border-y border-line">
        {(
          [
            ['lean', answer.lean_g],
            [fatName, answer.fat_part_g],
          ] as const
        ).map(([name, v]) => (
          <li key={name} className="flex items-baseline justify-between gap-3 py-1">
            <span className="text-lg font-semibold">{name}</span>
            <span className="figures text-3xl font-semibold">{g(v)}</span>
          </li>
        ))}
      </ul>
      <div className="flex h-6 border border-edge" aria-hidden>
        <div className="bg-meat" style={{ width: `${(answer.lean_g / answer.total_g) * 100}%` }} />
        <div className="grow bg-fat" />
      </div>
      <p>
        <span className="figures">{g(answer.total_g)}</span> in all,{' '}
        <span className="figures">{percent(answer.fat_fraction)}</span> fat
        {answer.lean_per_fat != null && <>, {answer.lean_per_fat.toFixed(2)} parts of lean to one of fat</>}.
      </p>
      {answer.buy_fat_g > 0.5 && (
        <p>
          <strong>To buy:</strong> <span className="figures">{g(answer.buy_fat_g)}</span> of {fatName}.
        </p>
      )}
      {answer.buy_lean_g > 0.5 && (
        <p>
          <strong>To buy or find:</strong> <span className="figures">{g(answer.buy_lean_g)}</span> of lean.
        </p>
      )}
      {answer.pans != null && answer.pan_g != null && (
        <p>
          <span className="figures">{answer.pans}</span> {answer.pans === 1 ? 'pan' : 'pans'} of{' '}
          <span className="figures">{g(answer.pan_g)}</span>
          {answer.slab_mm != null && (
            <>
              , standing <span className="figures">{format.length(Math.round(answer.slab_mm))}</span> high
            </>
          )}
          .
          {have != null && answer.pans > have && (
            <strong className="text-caution"> You have {have}: do it in two goes, or take less.</strong>
          )}
        </p>
      )}
    </section>
  )
}

/** What really went in and what came out; the rest stayed in grinder, mixer and bowl. */
function GroundForm({
  plan,
  lean,
  fat,
  fatName,
  fatFat,
  thickness,
}: {
  plan: Plan
  lean: Source[]
  fat: Source[]
  fatName: string
  fatFat: string
  thickness?: number
}) {
  const record = useRecord()
  const format = useFormat()
  const species = useCatalogue().data?.species ?? []
  const [typed, setTyped] = useState<Record<string, string>>({})
  const [out, setOut] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  if (lean.length === 0) return null
  const most = lean.reduce((a, b) => (b.mass_g > a.mass_g ? b : a))
  const loose = [...lean, ...fat].filter((s) => s.from === 'loose')
  const whole = [...lean, ...fat].filter((s) => s.from === 'piece')
  const pieces = whole.filter((s) => s.lot === most.lot)
  const elsewhere = whole.filter((s) => s.lot !== most.lot)
  const sources: Schemas['GroundFromAsk'][] = [
    ...pieces.map((s) => ({ from: 'piece' as const, piece: s.piece! })),
    ...loose
      .filter((s) => typed[s.key]?.trim())
      .map((s) => ({ from: 'kept' as const, lot: s.lot, kind: s.kind!, reading: typed[s.key]! })),
    ...(typed.bought?.trim()
      ? [
          {
            from: 'added' as const,
            name: fatName,
            reading: typed.bought,
            species: typed.species || null,
            fat: fatFat.trim() ? `${fatFat.trim().replace('%', '')} %` : null,
          },
        ]
      : []),
  ]
  const tag = plan.loose.find((l) => l.lot === most.lot)?.lot_tag ?? most.name.split('-')[0]
  const send = () =>
    record.mutate(
      {
        acts: [
          {
            act: 'ground',
            lot: most.lot,
            sources,
            reading: out,
            thickness: thickness ? `${Math.round(thickness)} mm` : null,
          },
        ],
      },
      {
        onSuccess: () => {
          setTyped({})
          setOut('')
        },
      },
    )
  return (
    <form
      aria-label="Grind it"
      className="table-top grid gap-2 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <h2>Grind it</h2>
      <p className="text-soft">
        Weigh what goes in and what comes out. The block is written down under {tag}; what stays in the machine is a named loss.
      </p>
      {pieces.map((s) => (
        <p key={s.key}>
          <strong>{s.name}</strong>, all of it
        </p>
      ))}
      {elsewhere.length > 0 && (
        <p className="border-l-8 border-caution bg-caution-wash px-3 py-2">
          Whole pieces of another animal are kept apart: {elsewhere.map((s) => s.name).join(', ')}. Trim them first, and add the
          trim.
        </p>
      )}
      {loose.map((s, i) => (
        <AmountField
          key={s.key}
          quantity="mass"
          label={`${s.name}, weighed in`}
          value={typed[s.key] ?? ''}
          onChange={(v) => setTyped((t) => ({ ...t, [s.key]: v }))}
          error={wrong(`sources[${pieces.length + i}].reading`)}
          hint={`${format.mass(s.mass_g)} on hand.`}
        />
      ))}
      <AmountField
        quantity="mass"
        label={`${fatName}, bought`}
        value={typed.bought ?? ''}
        onChange={(v) => setTyped((t) => ({ ...t, bought: v }))}
      />
      {typed.bought?.trim() && (
        <Select
          label="Of which animal"
          value={typed.species ?? ''}
          onChange={(v) => setTyped((t) => ({ ...t, species: v }))}
          error={wrong(`sources[${sources.length - 1}].species`)}
          hint="It decides how warm the block is cooked, and what its label names."
        >
          <option value="">as its name says</option>
          {species.map((s) => (
            <option key={s.key} value={s.key}>
              {s.name}
            </option>
          ))}
          <option value="none">no meat at all</option>
        </Select>
      )}
      <AmountField
        big
        quantity="mass"
        label="The block weighs"
        value={out}
        onChange={setOut}
        error={wrong('reading')}
        hint="Out of the mixer, before any cure."
      />
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <MainAction>
        <button
          type="submit"
          className="press press-main bench"
          disabled={record.isPending || sources.length === 0 || out.trim() === ''}
        >
          Write the block down
        </button>
      </MainAction>
    </form>
  )
}
