import { useState } from 'react'
import { type ActAsk, problemOf, type Schemas } from '../../api/client'
import { useCatalogue, useCorrect, useLot } from '../../api/hooks'
import { AmountField, Select, TextField, Tick, WhenField } from '../../kit/Fields'
import { Refused } from '../../kit/States'

type Happened = Schemas['Happened']
type Stored = Record<string, unknown>
interface Said {
  said: string
}

/** What can be put right in place, with the words it was typed in; the rest is undone and done anew. */
const FIELDS: Record<string, { name: string; label: string; quantity?: 'mass' | 'length' | 'temperature' }[]> = {
  received: [{ name: 'name', label: 'What you call it' }, { name: 'reading', label: 'Weight', quantity: 'mass' }, { name: 'cost', label: 'Cost' }],
  piece_weighed: [{ name: 'reading', label: 'Weight', quantity: 'mass' }, { name: 'thickness', label: 'Thickest place', quantity: 'length' }, { name: 'fat_cover', label: 'Fat cover', quantity: 'length' }],
  byproduct_weighed: [{ name: 'reading', label: 'Weight', quantity: 'mass' }],
  freezer_read: [{ name: 'inside', label: 'Inside the thickest piece', quantity: 'temperature' }, { name: 'thickness', label: 'How thick it is there', quantity: 'length' }],
  worked: [{ name: 'off', label: 'What came off weighs', quantity: 'mass' }, { name: 'reading', label: 'The piece weighed then', quantity: 'mass' }, { name: 'thickness', label: 'Thickest place', quantity: 'length' }, { name: 'fat_cover', label: 'Fat cover left', quantity: 'length' }],
  joined: [{ name: 'reading', label: 'Together they weigh', quantity: 'mass' }, { name: 'thickness', label: 'Thickest place', quantity: 'length' }],
  out_of_cure: [{ name: 'reading', label: 'Weight', quantity: 'mass' }],
  smoked: [{ name: 'reading', label: 'Weight', quantity: 'mass' }, { name: 'inside', label: 'Warmest inside', quantity: 'temperature' }],
  hung: [{ name: 'reading', label: 'On the scale', quantity: 'mass' }, { name: 'tare', label: 'Not meat', quantity: 'mass' }],
  weighed_in: [{ name: 'reading', label: 'On the scale', quantity: 'mass' }],
  taken_down: [{ name: 'reading', label: 'On the scale', quantity: 'mass' }],
  noted: [{ name: 'text', label: 'Note' }],
  dosed: [
    { name: 'cure_g_per_kg', label: 'Curing salt, g per kg (dry cure)' },
    { name: 'salt_g_per_kg', label: 'Salt in all, g per kg (dry cure)' },
    { name: 'nitrite_ppm', label: 'Nitrite, ppm (brine)' },
    { name: 'reason', label: 'Why, if it goes past a stop' },
  ],
  discarded: [{ name: 'reason', label: 'Why' }],
  packed: [{ name: 'packs', label: 'Packs, with commas between' }, { name: 'ends', label: 'Ends and crumbs', quantity: 'mass' }],
}

export const canCorrect = (entry: Happened) => entry.kind in FIELDS

const said = (value: unknown) => (value as Said | null | undefined)?.said ?? ''
const mm = (value: unknown) => (typeof value === 'number' ? `${value} mm` : '')

function typedBefore(act: Stored): Record<string, string> {
  const packs = (act.packs as { reading: Said }[] | undefined) ?? []
  return {
    reading: said(act.reading),
    tare: said(act.tare),
    ends: said(act.ends),
    thickness: mm(act.thickness_mm),
    inside: typeof act.inside_c === 'number' ? `${act.inside_c} C` : '',
    name: String(act.name ?? ''),
    text: String(act.text ?? ''),
    reason: String(act.reason ?? ''),
    cost: typeof act.price === 'string' ? act.price : typeof act.cost_cents === 'number' ? (act.cost_cents / 100).toFixed(2) : '',
    fat_cover: mm(act.fat_cover_mm),
    off: said((act.off as { reading: Said }[] | undefined)?.[0]?.reading),
    packs: packs.map((p) => p.reading.said).join(', '),
  }
}

/** The act as it was asked for, with what is typed now; what the form does not show stays as it was. */
function asked(entry: Happened, typed: Record<string, string>, traits: Traits): ActAsk {
  const act = entry.act as Stored
  const text = (name: string) => (typed[name]?.trim() ? typed[name] : null)
  const rate = (name: string) => (typed[name]?.trim() ? Number(typed[name].replace(',', '.')) || 0 : null)
  const piece = Number(act.piece)
  const reading = typed.reading ?? ''
  switch (entry.kind) {
    case 'dosed': {
      const own = { cure_g_per_kg: rate('cure_g_per_kg'), salt_g_per_kg: rate('salt_g_per_kg'), nitrite_ppm: rate('nitrite_ppm') }
      return { act: 'dosed', pieces: [piece], mixed: false, own, reason: text('reason') }
    }
    case 'received':
      return { act: 'received', ...cameAs(act), name: typed.name ?? '', reading, cost: text('cost') }
    case 'piece_weighed':
      return { act: 'piece_weighed', lot: entry.lot, ...traits, reading, thickness: text('thickness'), fat_cover: text('fat_cover') }
    case 'byproduct_weighed':
      return { act: 'byproduct_weighed', lot: entry.lot, piece: (act.piece as number | null) ?? null, kind: act.kind as Schemas['Byproduct'], reading }
    case 'freezer_read':
      return { act: 'freezer_read', lot: entry.lot, piece: (act.piece as number | null) ?? null, inside: typed.inside ?? '', thickness: text('thickness') }
    case 'worked': {
      const off = (act.off as { kind: Schemas['Byproduct']; reading: Said }[]).map((o, i) => ({ kind: o.kind, reading: i === 0 ? (typed.off ?? '') : o.reading.said }))
      return { act: 'worked', piece, work: act.work as Schemas['Work'], off: off.filter((o) => o.reading.trim() !== ''), reading: text('reading'), thickness: text('thickness'), fat_cover: text('fat_cover') }
    }
    case 'joined':
      return { act: 'joined', pieces: act.pieces as number[], way: act.way as Schemas['JoinWay'], reading: text('reading'), thickness: text('thickness') }
    case 'smoked':
      return { act: 'smoked', piece, reading, inside: text('inside') }
    case 'hung':
      return { act: 'hung', piece, reading, tare: typed.tare ?? '', loss_fraction: act.loss_fraction as number }
    case 'noted':
      return { act: 'noted', piece, text: typed.text ?? '' }
    case 'discarded':
      return { act: 'discarded', piece, reason: typed.reason ?? '' }
    case 'packed': {
      const old = (act.packs as { slices: number | null; place: string | null; allergens: string | null }[]) ?? []
      const packs = (typed.packs ?? '').split(/[,;]\s*/).filter((t) => t.trim()).map((r, i) => ({ reading: r, slices: old[i]?.slices ?? null, place: old[i]?.place ?? null, allergens: old[i]?.allergens ?? null }))
      return { act: 'packed', piece, packs, ends: text('ends'), finished: act.finished === true }
    }
    default:
      return { act: entry.kind as 'out_of_cure' | 'weighed_in' | 'taken_down', piece, reading }
  }
}

/** What was said when it came in, in the words of the asking. */
function cameAs(act: Stored): Schemas['ReceivedAsk'] {
  const b = (act.background ?? {}) as Schemas['Background']
  const frozen = act.frozen as Schemas['FrozenStock'] | null | undefined
  const price = typeof act.price === 'string' ? act.price : typeof act.cost_cents === 'number' ? (act.cost_cents / 100).toFixed(2) : null
  return {
    name: String(act.name), species: String(act.species), origin: act.origin as Schemas['Origin'], known: act.known as Schemas['KnownWeight'], reading: said(act.reading),
    portion: act.portion as Schemas['Portion'], count: (act.count as number | null) ?? null, cut: (act.cut as string | null) ?? null,
    cost: price, price_per: (act.price_per as Schemas['PricePer'] | undefined) ?? 'in_all', shipping: typeof act.shipping_cents === 'number' ? (act.shipping_cents / 100).toFixed(2) : null,
    together: (act.together as string | null) ?? null, skin_on: act.skin_on === true, sex: (act.sex as Schemas['Sex'] | null) ?? null, age: (act.age as Schemas['AgeClass'] | null) ?? null,
    fat_cover: mm(b.fat_cover_mm) || null, rested_days: b.rested_days ?? null, hung_days: b.hung_days ?? null, inside: typeof b.inside_c === 'number' ? `${b.inside_c} C` : null,
    inspected: b.inspected ?? null, withdrawal: b.withdrawal ?? null, frozen_on: frozen?.frozen_on ?? null, thaw_by: frozen?.thaw_by ?? null,
  }
}

interface Traits {
  cut: string
  skin_on: boolean
  bone_in: boolean
  fat_cap: boolean
}

/** Puts what really happened in the place of an entry. */
export function Correction({ entry, onDone }: { entry: Happened; onDone: () => void }) {
  const act = entry.act as Stored
  const [typed, setTyped] = useState(() => typedBefore(act))
  const [traits, setTraits] = useState<Traits>({ cut: String(act.cut ?? ''), skin_on: act.skin_on === true, bone_in: act.bone_in === true, fat_cap: act.fat_cap === true })
  const [when, setWhen] = useState('')
  const correct = useCorrect()
  const wrong = (field: string) => {
    const problem = correct.error ? problemOf(correct.error) : undefined
    return problem?.field(field) ?? (field === 'packs' ? problem?.problem.errors?.find((e) => e.field.startsWith('packs'))?.message : undefined)
  }
  const send = (keep_as_typed = false) => correct.mutate({ entry: entry.entry, act: asked(entry, typed, traits), keep_as_typed, happened_at: when || undefined }, { onSuccess: onDone })
  return (
    <form className="mt-2 grid gap-2 border-l-8 border-violet bg-violet-wash p-3" aria-label={`Correct ${entry.what}`} onSubmit={(e) => { e.preventDefault(); send() }}>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {(FIELDS[entry.kind] ?? []).map((f) =>
          f.quantity ? (
            <AmountField key={f.name} quantity={f.quantity} label={f.label} value={typed[f.name] ?? ''} onChange={(v) => setTyped((t) => ({ ...t, [f.name]: v }))} error={wrong(f.name)} />
          ) : (
            <TextField key={f.name} label={f.label} value={typed[f.name] ?? ''} onChange={(v) => setTyped((t) => ({ ...t, [f.name]: v }))} error={wrong(f.name)} />
          ),
        )}
      </div>
      {entry.kind === 'dosed' && <p className="text-[0.95rem] text-soft">What is left empty is as the build says, for the piece’s green weight.</p>}
      {entry.kind === 'piece_weighed' && <TraitFields lot={entry.lot} traits={traits} onChange={setTraits} />}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      <Refused error={correct.error} onKeep={() => send(true)} busy={correct.isPending} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={correct.isPending}>Put it right</button>
        <button type="button" className="press" onClick={onDone}>Leave it</button>
      </div>
    </form>
  )
}

function TraitFields({ lot, traits, onChange }: { lot: number; traits: Traits; onChange: (t: Traits) => void }) {
  const species = useLot(lot).data?.card.species
  const cuts = useCatalogue().data?.species.find((s) => s.key === species)?.cut ?? []
  return (
    <div>
      <Select label="Cut" value={traits.cut} onChange={(cut) => onChange({ ...traits, cut })}>
        {cuts.map((c) => <option key={c.key} value={c.key}>{c.name}</option>)}
      </Select>
      <div className="flex flex-wrap gap-x-5">
        <Tick label="Skin on" checked={traits.skin_on} onChange={(skin_on) => onChange({ ...traits, skin_on })} />
        <Tick label="Bone in" checked={traits.bone_in} onChange={(bone_in) => onChange({ ...traits, bone_in })} />
        <Tick label="Fat on one side" checked={traits.fat_cap} onChange={(fat_cap) => onChange({ ...traits, fat_cap })} />
      </div>
    </div>
  )
}
