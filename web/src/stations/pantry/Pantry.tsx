import { isThere, NotYet } from '../../kit/Fetched'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { api, problemOf, type Schemas, unwrap } from '../../api/client'
import { useListChange, usePantry } from '../../api/planning'
import { AmountField, DayField, Select, TextField } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty, Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { stockWords } from '../words'

type Standing = Schemas['Standing']
type StockAsk = Schemas['StockAsk']
type Kind = Schemas['StockKind']

const inMetres = new Set<Kind>(['casing', 'net', 'string'])

const asAsk = ({ item }: Standing): StockAsk => ({
  id: item.id,
  name: item.name,
  kind: item.kind,
  amount: null,
  diameter: item.diameter_mm != null ? `${item.diameter_mm} mm` : null,
  opened_on: item.opened_on,
  good_until: item.good_until,
  price: item.price_cents != null ? (item.price_cents / 100).toFixed(2) : null,
})

/** What the household keeps: counted, used since, past its date. */
export function Pantry() {
  const pantry = usePantry()
  if (!isThere(pantry)) return <NotYet of={[pantry]} what="what is kept" page="Pantry" />
  return (
    <Page
      title="Pantry"
      lead="What is counted here comes off the shopping list. What doses use is taken off by itself; count again when in doubt."
    >
      <Shelves pantry={pantry.data} />
    </Page>
  )
}

function Shelves({ pantry }: { pantry: Schemas['PantryView'] }) {
  const format = useFormat()
  const [editing, setEditing] = useState<number | 'new'>()
  const change = useListChange(async ({ items, keep = false }: { items: StockAsk[]; keep?: boolean }) =>
    unwrap(await api.PUT('/api/v1/pantry', { body: { version: pantry.version, items, keep_as_typed: keep } })),
  )
  const put = (items: StockAsk[], onSuccess?: () => void) => change.mutate({ items }, { onSuccess })
  const keep = () => change.variables && change.mutate({ ...change.variables, keep: true }, { onSuccess: done })
  const asks = pantry.items.map(asAsk)
  const say = (n: number, kind: Kind) =>
    inMetres.has(kind)
      ? `${Math.round(n * 10) / 10} m`
      : kind === 'bag'
        ? `${Math.round(n)}`
        : format.mass(Math.round(n * 10) / 10)
  const done = () => setEditing(undefined)
  return (
    <div className="grid grid-cols-1 gap-4">
      {pantry.items.length === 0 && editing !== 'new' && (
        <Empty title="Nothing is counted yet">
          Put salt, sugar, cures, casings and bags on the shelf: a shopping list then asks only for what is missing.
        </Empty>
      )}
      {pantry.items.length > 0 && (
        <ul className="table-top divide-y divide-line">
          {pantry.items.map((s, i) => (
            <li key={s.item.id} className="p-2.5">
              {editing === i ? (
                <Item
                  at={i}
                  before={s}
                  error={change.error}
                  busy={change.isPending}
                  onCancel={done}
                  onKeep={keep}
                  onSave={(ask) =>
                    put(
                      asks.map((a, n) => (n === i ? { ...ask, id: a.id } : a)),
                      done,
                    )
                  }
                />
              ) : (
                <div className="flex flex-wrap items-center justify-between gap-x-4">
                  <div className="min-w-0">
                    <p>
                      <strong>{s.item.name}</strong>{' '}
                      <span className="text-soft">
                        {stockWords[s.item.kind] !== s.item.name && stockWords[s.item.kind]}
                        {s.item.diameter_mm != null
                          ? `, ${format.length(s.item.diameter_mm)} across`
                          : s.item.kind === 'casing' && ', of unknown width'}
                        {s.item.kind === 'salt' &&
                          (s.item.plain == null
                            ? ', plain or not: nobody looked'
                            : s.item.plain
                              ? ', plain'
                              : ', with additives')}
                      </span>
                    </p>
                    <p className="text-[0.95rem] text-soft">
                      counted {format.date(s.item.counted_at)}
                      {s.used > 0 && `, ${say(s.used, s.item.kind)} used since`}
                      {s.item.opened_on && `, opened ${s.item.opened_on}`}
                      {s.item.good_until &&
                        (s.past ? (
                          <strong className="text-stop">, past its date {s.item.good_until}</strong>
                        ) : (
                          `, good until ${s.item.good_until}`
                        ))}
                      {s.item.price_cents != null &&
                        `, ${format.money(s.item.price_cents)} a ${inMetres.has(s.item.kind) ? 'metre' : s.item.kind === 'bag' ? 'piece' : 'kilogram'}`}
                    </p>
                  </div>
                  <p className="flex items-center">
                    <span className={`figures text-lg font-semibold ${s.past ? 'line-through' : ''}`}>
                      {say(s.item.amount - s.used, s.item.kind)}
                    </span>
                    <button
                      type="button"
                      className="quiet"
                      onClick={() => {
                        change.reset()
                        setEditing(i)
                      }}
                    >
                      Count<span className="sr-only"> {s.item.name}</span>
                    </button>
                    <button
                      type="button"
                      className="inline-flex size-11 items-center justify-center text-violet"
                      aria-label={`Take ${s.item.name} off the shelf`}
                      disabled={change.isPending}
                      onClick={() => put(asks.filter((_, n) => n !== i))}
                    >
                      <X size={20} aria-hidden />
                    </button>
                  </p>
                </div>
              )}
            </li>
          ))}
        </ul>
      )}
      {editing === undefined && change.isError && <Refused error={change.error} onKeep={keep} busy={change.isPending} />}
      {editing === 'new' ? (
        <div className="table-top p-3">
          <Item
            at={pantry.items.length}
            error={change.error}
            busy={change.isPending}
            onCancel={done}
            onKeep={keep}
            onSave={(ask) => put([...asks, ask], done)}
          />
        </div>
      ) : (
        <button
          type="button"
          className="press justify-self-start"
          onClick={() => {
            change.reset()
            setEditing('new')
          }}
        >
          <Plus size={18} aria-hidden /> Add to the shelf
        </button>
      )}
      <p className="max-w-prose border-l-8 border-caution bg-caution-wash px-3 py-2">
        <strong className="text-caution">Caution.</strong> Keep curing salt coloured, labelled and locked away from children,
        never in a shaker.
      </p>
    </div>
  )
}

function Item({
  at,
  before,
  error,
  busy,
  onSave,
  onKeep,
  onCancel,
}: {
  at: number
  before?: Standing
  error: unknown
  busy: boolean
  onSave: (ask: StockAsk) => void
  onKeep: () => void
  onCancel: () => void
}) {
  const start = before ? asAsk(before) : undefined
  const [typed, setTyped] = useState({
    name: start?.name ?? '',
    kind: (start?.kind ?? 'spice') as Kind,
    amount: '',
    diameter: start?.diameter ?? '',
    opened_on: start?.opened_on ?? '',
    good_until: start?.good_until ?? '',
    price: start?.price ?? '',
    plain: before?.item.plain == null ? '' : before.item.plain ? 'yes' : 'no',
  })
  const set = (change: Partial<typeof typed>) => setTyped((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (error ? problemOf(error).field(`items[${at}].${field}`) : undefined)
  const grams = !inMetres.has(typed.kind) && typed.kind !== 'bag'
  const unit = grams ? 'a kilogram' : typed.kind === 'bag' ? 'a piece' : 'a metre'
  const text = (v: string) => (v.trim() === '' ? null : v)
  const amount = {
    label: before ? 'There is now' : 'How much there is',
    value: typed.amount,
    onChange: (v: string) => set({ amount: v }),
    error: wrong('amount'),
  }
  return (
    <form
      aria-label={before ? `Count ${before.item.name}` : 'Add to the shelf'}
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        onSave({
          name: typed.name,
          kind: typed.kind,
          amount: text(typed.amount),
          diameter: text(typed.diameter),
          opened_on: text(typed.opened_on),
          good_until: text(typed.good_until),
          price: text(typed.price),
          plain: typed.plain === '' ? null : typed.plain === 'yes',
        })
      }}
    >
      <div className="grid gap-x-4 sm:grid-cols-3">
        <TextField
          label="What"
          value={typed.name}
          onChange={(name) => set({ name })}
          hint="The same word as in a dose."
          error={wrong('name')}
        />
        <Select label="Kind" value={typed.kind} onChange={(v) => set({ kind: v as Kind })}>
          {(Object.keys(stockWords) as Kind[]).map((k) => (
            <option key={k} value={k}>
              {stockWords[k]}
            </option>
          ))}
        </Select>
        {grams ? (
          <AmountField quantity="mass" {...amount} hint={before && 'Empty: as it was counted.'} />
        ) : (
          <TextField {...amount} inputMode="decimal" hint={typed.kind === 'bag' ? 'Pieces.' : 'Metres.'} />
        )}
        {typed.kind === 'salt' && (
          <Select
            label="What else is in it"
            value={typed.plain}
            onChange={(plain) => set({ plain })}
            hint="Read the small print of the jar."
          >
            <option value="">nobody looked</option>
            <option value="yes">nothing: plain salt</option>
            <option value="no">iodine, or something against caking</option>
          </Select>
        )}
        {(typed.kind === 'casing' || typed.kind === 'net') && (
          <AmountField
            quantity="length"
            label="Diameter"
            value={typed.diameter}
            onChange={(diameter) => set({ diameter })}
            error={wrong('diameter')}
            hint="Empty for a sheet."
          />
        )}
        <TextField
          label={`Price, ${unit}`}
          value={typed.price}
          onChange={(price) => set({ price })}
          inputMode="decimal"
          error={wrong('price')}
        />
        <DayField label="Opened on" value={typed.opened_on} onChange={(opened_on) => set({ opened_on })} />
        <DayField label="Good until" value={typed.good_until} onChange={(good_until) => set({ good_until })} />
      </div>
      <Refused error={error} onKeep={onKeep} busy={busy} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={busy || typed.name.trim() === ''}>
          Put it on the shelf
        </button>
        <button type="button" className="press" onClick={onCancel}>
          Not now
        </button>
      </div>
    </form>
  )
}
