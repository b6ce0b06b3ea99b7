import { ArrowDown, ArrowUp, X } from 'lucide-react'
import { useState } from 'react'
import { api, problemOf, type Schemas, unwrap } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useListChange } from '../../api/planning'
import { AmountField, Choice, DayField, Select, TextField } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { Empty, Failed, Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { Places, SummaryLine } from './Comparison'
import { choicesOf, useCarryOut, type useSuggest } from './useSuggest'

type WishAsk = Schemas['WishAsk']
type Amount = Schemas['WishAmountAsk']

/** A wish as it was asked, to be sent back with the others. */
const asAsk = ({ wish }: Schemas['WishView']): WishAsk => wish

/** What the household would like, the most important first, and how far the plan reaches. */
export function Wishes({ plan, suggest }: { plan: Schemas['PlanView']; suggest: ReturnType<typeof useSuggest> }) {
  const [adding, setAdding] = useState(plan.wishes.length === 0)
  const change = useListChange(async (wishes: WishAsk[]) =>
    unwrap(await api.PUT('/api/v1/wishes', { body: { version: plan.wishes_version, wishes } })),
  )
  const asks = plan.wishes.map(asAsk)
  const move = (i: number, by: number) => {
    const list = [...asks]
    const [wish] = list.splice(i, 1)
    list.splice(i + by, 0, wish!)
    change.mutate(list)
  }
  return (
    <section aria-label="Wishes" className="grid gap-4">
      {plan.wishes.length === 0 && (
        <Empty title="No wishes yet">
          Say what you would like to eat: so much a week until a day, two hams, as much dried muscle as there are hooks. Suggest
          finds out what the house can give.
        </Empty>
      )}
      {plan.wishes.length > 0 && (
        <ol className="table-top divide-y divide-line">
          {plan.wishes.map((w, i) => (
            <WishRow
              key={w.wish.id}
              view={w}
              outcome={suggest.found?.wishes.find((o) => o.wish === w.wish.id)}
              busy={change.isPending}
              onUp={i > 0 ? () => move(i, -1) : undefined}
              onDown={i < plan.wishes.length - 1 ? () => move(i, 1) : undefined}
              onDrop={() => change.mutate(asks.filter((a) => a.id !== w.wish.id))}
            />
          ))}
        </ol>
      )}
      {change.isError && !adding && <Refused error={change.error} />}
      {adding ? (
        <NewWish
          at={plan.wishes.length}
          error={change.error}
          busy={change.isPending}
          onCancel={plan.wishes.length > 0 ? () => setAdding(false) : undefined}
          onAdd={(wish) => change.mutate([...asks, wish], { onSuccess: () => setAdding(false) })}
        />
      ) : (
        <button
          type="button"
          className="press justify-self-start"
          onClick={() => {
            change.reset()
            setAdding(true)
          }}
        >
          Another wish
        </button>
      )}
      {plan.wishes.length > 0 && (
        <MainAction>
          <button
            type="button"
            className="press press-main bench"
            disabled={suggest.ask.isPending || plan.supply.length + plan.loose.length === 0}
            onClick={() => suggest.ask.mutate()}
          >
            {suggest.ask.isPending ? 'Looking …' : suggest.found ? 'Suggest again' : 'Suggest'}
          </button>
        </MainAction>
      )}
      {suggest.ask.isError && <Failed error={suggest.ask.error} onRetry={() => suggest.ask.mutate()} />}
      {suggest.found && <Outcome plan={plan} suggest={suggest} />}
    </section>
  )
}

function WishRow(props: {
  view: Schemas['WishView']
  outcome?: Schemas['WishOutcome']
  busy: boolean
  onUp?: () => void
  onDown?: () => void
  onDrop: () => void
}) {
  const { view, outcome, busy, onUp, onDown, onDrop } = props
  const format = useFormat()
  const amount = (v: number, inPieces: boolean) => (inPieces ? `${Math.round(v)}` : format.mass(Math.round(v / 10) * 10))
  const share = outcome && outcome.wanted > 0 ? Math.min(outcome.met / outcome.wanted, 1) : 0
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2 p-2.5">
      <div>
        <p>
          <strong>{view.name}</strong>
        </p>
        <p className="text-soft">
          {view.words}
          {view.wanted_g != null && view.wish.amount.as === 'rate' && (
            <span className="figures">, {format.mass(Math.round(view.wanted_g / 10) * 10)} in all</span>
          )}
        </p>
      </div>
      <div className="no-print flex">
        <button
          type="button"
          className="inline-flex size-11 items-center justify-center text-violet disabled:text-line"
          aria-label={`${view.name}: more important`}
          disabled={busy || !onUp}
          onClick={onUp}
        >
          <ArrowUp size={20} aria-hidden />
        </button>
        <button
          type="button"
          className="inline-flex size-11 items-center justify-center text-violet disabled:text-line"
          aria-label={`${view.name}: less important`}
          disabled={busy || !onDown}
          onClick={onDown}
        >
          <ArrowDown size={20} aria-hidden />
        </button>
        <button
          type="button"
          className="inline-flex size-11 items-center justify-center text-violet"
          aria-label={`Take ${view.name} off the list`}
          disabled={busy}
          onClick={onDrop}
        >
          <X size={20} aria-hidden />
        </button>
      </div>
      {outcome && (
        <div className="col-span-2">
          <div className="h-3 border border-edge bg-steel" aria-hidden>
            <div className={`h-full ${outcome.is_met ? 'bg-good' : 'hatch bg-caution'}`} style={{ width: `${share * 100}%` }} />
          </div>
          <p className="text-[0.95rem]">
            {outcome.is_met ? (
              <strong className="text-good">Met.</strong>
            ) : (
              <>
                <strong className="text-caution">Not met:</strong>{' '}
                <span className="figures">
                  {amount(outcome.met, outcome.in_pieces)} of {amount(outcome.wanted, outcome.in_pieces)}
                </span>
                {outcome.in_pieces && ' pieces'}. {outcome.why}
              </>
            )}
          </p>
          {outcome.purchase && (
            <p className="text-[0.95rem]">
              <strong>One more purchase:</strong> {outcome.purchase.words}
            </p>
          )}
        </div>
      )}
    </li>
  )
}

const KINDS = [
  { value: 'rate', label: 'so much a week' },
  { value: 'mass', label: 'so much in all' },
  { value: 'pieces', label: 'so many pieces' },
  { value: 'all_hooks', label: 'all hooks' },
] as const

function NewWish({
  at,
  error,
  busy,
  onAdd,
  onCancel,
}: {
  at: number
  error: unknown
  busy: boolean
  onAdd: (wish: WishAsk) => void
  onCancel?: () => void
}) {
  const catalogue = useCatalogue().data
  const [typed, setTyped] = useState({
    build: '',
    kind: 'rate' as (typeof KINDS)[number]['value'],
    amount: '',
    until: '',
    n: '',
    species: '',
  })
  const set = (change: Partial<typeof typed>) => setTyped((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (error ? problemOf(error).field(`wishes[${at}].${field}`) : undefined)
  const build = catalogue?.builds.find((b) => b.key === typed.build)
  const ground = build?.form === 'ground'
  const kinds = KINDS.filter(
    (k) =>
      (k.value !== 'all_hooks' || ((build?.step ?? []).some((s) => s.kind === 'hang') && !ground)) &&
      (k.value !== 'pieces' || !ground),
  )
  const kind = kinds.some((k) => k.value === typed.kind) ? typed.kind : 'rate'
  const amount: Amount =
    kind === 'rate'
      ? { as: 'rate', a_week: typed.amount, until: typed.until }
      : kind === 'mass'
        ? { as: 'mass', amount: typed.amount }
        : kind === 'pieces'
          ? { as: 'pieces', n: Number(typed.n) || 0 }
          : { as: 'all_hooks' }
  const families = [...new Set(catalogue?.builds.filter((b) => !b.ending).map((b) => b.family))]
  const ready =
    typed.build !== '' &&
    (kind === 'all_hooks' ||
      ((kind === 'pieces' ? typed.n !== '' : typed.amount.trim() !== '') && (kind !== 'rate' || typed.until !== '')))
  return (
    <form
      className="table-top grid gap-2 p-3"
      aria-label="A wish"
      onSubmit={(e) => {
        e.preventDefault()
        onAdd({ build: typed.build, amount, species: typed.species || null })
      }}
    >
      <Select label="What you would like" value={typed.build} onChange={(v) => set({ build: v })} error={wrong('build')}>
        <option value="">choose a product</option>
        {families.map((f) => (
          <optgroup key={f} label={f}>
            {catalogue?.builds
              .filter((b) => b.family === f)
              .map((b) => (
                <option key={b.key} value={b.key}>
                  {b.name}
                </option>
              ))}
          </optgroup>
        ))}
      </Select>
      <Choice
        label="How much"
        value={kind}
        onChange={(v) => set({ kind: v })}
        options={kinds.map((k) => ({ value: k.value, label: k.label }))}
      />
      <div className="grid gap-x-4 sm:grid-cols-2">
        {(kind === 'rate' || kind === 'mass') && (
          <AmountField
            quantity="mass"
            label={kind === 'rate' ? 'A week' : 'In all'}
            value={typed.amount}
            onChange={(v) => set({ amount: v })}
            hint="Finished, as it is eaten: 300 g."
            error={wrong('amount')}
          />
        )}
        {kind === 'pieces' && (
          <TextField
            label="How many pieces"
            value={typed.n}
            onChange={(v) => set({ n: v.replace(/\D/g, '') })}
            inputMode="numeric"
            error={wrong('amount')}
          />
        )}
        {kind === 'rate' && (
          <DayField
            label="Until"
            value={typed.until}
            onChange={(until) => set({ until })}
            hint="The last day it should reach to."
            error={wrong('until')}
          />
        )}
        {kind === 'all_hooks' && wrong('amount') && <p className="font-semibold text-stop">{wrong('amount')}</p>}
        <Select label="Of" value={typed.species} onChange={(v) => set({ species: v })}>
          <option value="">any species</option>
          {catalogue?.species.map((s) => (
            <option key={s.key} value={s.key}>
              {s.name}
            </option>
          ))}
        </Select>
      </div>
      <Refused error={error} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={busy || !ready}>
          Put it on the list
        </button>
        {onCancel && (
          <button type="button" className="press" onClick={onCancel}>
            Not now
          </button>
        )}
      </div>
    </form>
  )
}

/** What a suggestion comes to, and what can be done with it. */
function Outcome({ plan, suggest }: { plan: Schemas['PlanView']; suggest: ReturnType<typeof useSuggest> }) {
  const found = suggest.found!
  const format = useFormat()
  const { record, toDo, carryOut } = useCarryOut(plan)
  const [name, setName] = useState(() => String.fromCharCode(65 + (plan.kept.length % 26)))
  const choices = choicesOf(found)
  const acts = toDo(choices)
  const builds = useCatalogue().data?.builds
  return (
    <section aria-label="The suggestion" className="table-top grid gap-3 p-4">
      <div>
        <h2>The suggestion</h2>
        <p className="text-soft">
          {found.proved
            ? 'No plan meets these wishes better.'
            : 'The best plan found in the time there was; it is never worse than filling the wishes one after another.'}
        </p>
      </div>
      <SummaryLine summary={found.summary} />
      {found.blocks.map((b) => (
        <p key={b.build} className="border-l-4 border-violet pl-3">
          <strong>{builds?.find((x) => x.key === b.build)?.name}:</strong> a block of{' '}
          <span className="figures">{format.mass(Math.round(b.block_g / 10) * 10)}</span> at {Math.round(b.fat_fraction * 100)} %
          fat
          {b.bought_fat_g >= 1 && (
            <>
              , with <span className="figures">{format.mass(Math.ceil(b.bought_fat_g / 10) * 10)}</span> of pork back fat to buy
            </>
          )}
          .
        </p>
      ))}
      <Places places={plan.places} summary={found.summary} />
      {found.free.length > 0 && (
        <p className="text-soft">
          {found.free.length} {found.free.length === 1 ? 'piece or cut stays' : 'pieces and cuts stay'} free for other wishes.
        </p>
      )}
      <Refused error={suggest.keep.error ?? record.error} />
      <div className="flex flex-wrap items-end gap-2">
        <button
          type="button"
          className="press press-main"
          disabled={record.isPending || acts.length === 0}
          onClick={() => carryOut(choices)}
        >
          {acts.length === 0
            ? 'Every piece has it already'
            : `Give ${acts.length} ${acts.length === 1 ? 'piece its' : 'pieces their'} product`}
        </button>
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault()
            suggest.keep.mutate({ name, choices, blocks: found.blocks })
          }}
        >
          <label className="block w-20">
            <span className="block text-[0.9rem] text-soft">Plan</span>
            <input className="field !min-h-11" value={name} onChange={(e) => setName(e.target.value)} maxLength={40} />
          </label>
          <button type="submit" className="press" disabled={suggest.keep.isPending || name.trim() === ''}>
            Keep it to compare
          </button>
        </form>
      </div>
    </section>
  )
}
