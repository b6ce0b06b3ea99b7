import { isThere, NotYet } from '../../kit/Fetched'
import { X } from 'lucide-react'
import { type ActAsk, problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { useDraft } from '../../kit/drafts'
import { AmountField, Choice, DayField, Select, TextField, Tick, WhenField } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { Refused } from '../../kit/States'
import { knownWords, portionWords, pricePerWords } from '../words'

type ReceivedAsk = Schemas['ReceivedAsk']
type Species = Schemas['Species']

/** What is typed about one animal or purchase; empty text means nothing was said. */
const blank = {
  name: '',
  species: '',
  origin: undefined as Schemas['Origin'] | undefined,
  known: 'carcass' as Schemas['KnownWeight'],
  portion: 'whole' as Schemas['Portion'],
  reading: '',
  cut: '',
  count: '',
  cost: '',
  price_per: 'in_all' as Schemas['PricePer'],
  skin_on: false,
  bone: undefined as 'in' | 'out' | undefined,
  sex: undefined as Schemas['Sex'] | undefined,
  age: undefined as Schemas['AgeClass'] | undefined,
  fat_cover: '',
  rested_days: '',
  hung_days: '',
  inside: '',
  inspected: undefined as 'yes' | 'no' | undefined,
  withdrawal: '',
  frozen_on: '',
  thaw_by: '',
}
type Typed = typeof blank

/** The whole form, as it is kept on this device until it is written. */
const blankForm = { typed: blank, when: '', more: [] as Typed[], together: { name: '', shipping: '' } }
type FormTyped = typeof blankForm

const isBought = (typed: Typed) => typed.portion === 'primal' || typed.portion === 'case'

/** What the next line of a purchase has in common with the last. */
const carriedOver = ({ species, portion, known, origin, inspected }: Typed) => ({ species, portion, known, origin, inspected })

function asked(typed: Typed): ReceivedAsk {
  const text = (value: string) => (value.trim() === '' ? null : value)
  const bought = isBought(typed)
  return {
    name: typed.name,
    species: typed.species,
    origin: typed.origin ?? 'bought',
    reading: typed.reading,
    portion: typed.portion,
    known: bought ? 'bought_cut' : typed.known,
    cut: bought ? text(typed.cut) : null,
    count: typed.portion === 'case' ? text(typed.count) : null,
    cost: text(typed.cost),
    price_per: typed.price_per,
    shipping: null,
    together: null,
    skin_on: typed.skin_on,
    bone_in: bought && typed.bone ? typed.bone === 'in' : null,
    sex: typed.sex ?? null,
    age: typed.age ?? null,
    fat_cover: text(typed.fat_cover),
    rested_days: text(typed.rested_days),
    hung_days: text(typed.hung_days),
    inside: text(typed.inside),
    inspected: typed.inspected === undefined ? null : typed.inspected === 'yes',
    withdrawal: text(typed.withdrawal),
    frozen_on: text(typed.frozen_on),
    thaw_by: text(typed.thaw_by),
  }
}

/** One animal, a share of one, a purchase; or several under one name. */
export function ReceiveForm({ onDone }: { onDone: (lots: number[]) => void }) {
  const catalogue = useCatalogue()
  const record = useRecord()
  const draft = useDraft('received', blankForm, (form) => form.typed.name)
  const { typed, when, more, together } = draft.value
  const setForm = (change: Partial<FormTyped>) => draft.set((f) => ({ ...f, ...change }))
  const set = (change: Partial<Typed>) => draft.set((f) => ({ ...f, typed: { ...f.typed, ...change } }))
  if (!isThere(catalogue)) return <NotYet of={[catalogue]} what="the species" />
  const species = catalogue.data.species.find((s) => s.key === typed.species)
  const several = more.length > 0
  const wrong = (field: string) => {
    if (!record.error) return undefined
    const problem = problemOf(record.error)
    return problem.field(field) ?? problem.field(`lots[${more.length}].${field}`)
  }
  const send = () => {
    const act: ActAsk = several
      ? {
          act: 'purchased',
          name: together.name,
          shipping: together.shipping || null,
          lots: [...more, typed].map(asked),
        }
      : { act: 'received', ...asked(typed), shipping: together.shipping || null }
    record.mutate(
      { acts: [act], happened_at: when || undefined },
      {
        draft: draft.asUsed,
        onSuccess: (written) => onDone(written.lots),
      },
    )
  }
  const ready = typed.species && typed.origin && typed.reading.trim() !== ''
  return (
    <form
      className="table-top grid gap-4 p-4"
      aria-label="What came in"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      {several && (
        <Together
          list={more}
          together={together}
          onChange={(together) => setForm({ together })}
          onDrop={(i) => setForm({ more: more.filter((_, n) => n !== i) })}
          wrong={wrong}
          speciesOf={(key) => catalogue.data.species.find((s) => s.key === key)}
        />
      )}
      <Choice
        label="Species"
        value={typed.species || undefined}
        onChange={(v) => set({ species: v, cut: '', known: v !== typed.species ? 'carcass' : typed.known })}
        options={catalogue.data.species.map((s) => ({ value: s.key, label: s.name }))}
        error={wrong('species')}
      />
      <Choice
        label="How much of it"
        value={typed.portion}
        onChange={(portion) => set({ portion })}
        options={(['whole', 'half', 'quarter', 'primal', 'case'] as const).map((p) => ({
          value: p,
          label: portionWords[p],
        }))}
        error={wrong('portion')}
      />
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="What you call it"
          value={typed.name}
          onChange={(name) => set({ name })}
          hint="Such as half hog, or first doe."
          error={wrong('name')}
        />
        {isBought(typed) && species && (
          <Select label="The cut" value={typed.cut} onChange={(cut) => set({ cut })} error={wrong('cut')}>
            <option value="">choose</option>
            {species.cut.map((c) => (
              <option key={c.key} value={c.key}>
                {c.name}
              </option>
            ))}
          </Select>
        )}
        {typed.portion === 'case' && (
          <TextField
            label="How many in the case"
            value={typed.count}
            onChange={(count) => set({ count })}
            inputMode="numeric"
            hint="Such as 6."
            error={wrong('count')}
          />
        )}
      </div>
      <Choice
        label="How it came"
        value={typed.origin}
        onChange={(origin) => set({ origin })}
        options={[
          { value: 'harvested', label: 'harvested' },
          { value: 'raised', label: 'raised' },
          { value: 'bought', label: 'bought' },
        ]}
        error={wrong('origin')}
      />
      <Weight typed={typed} species={species} set={set} wrong={wrong} />
      <Price
        typed={typed}
        set={set}
        shipping={several ? undefined : together.shipping}
        onShipping={(shipping) => setForm({ together: { ...together, shipping } })}
        wrong={wrong}
      />
      {species?.asks.includes('skin') && (
        <Tick label="Skin is on" checked={typed.skin_on} onChange={(skin_on) => set({ skin_on })} />
      )}
      {isBought(typed) && typed.cut && (
        <Choice
          label="Bone"
          value={typed.bone}
          onChange={(bone) => set({ bone })}
          options={[
            { value: 'in', label: 'bone in' },
            { value: 'out', label: 'boneless' },
          ]}
        />
      )}
      <Background typed={typed} species={species} set={set} wrong={wrong} />
      <WhenField value={when} onChange={(when) => setForm({ when })} error={wrong('happened_at')} />
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={record.isPending || !ready}>
          {!typed.species || !typed.origin
            ? 'Choose species and how it came'
            : several
              ? `Write down all ${more.length + 1}`
              : 'Write it down'}
        </button>
        <button
          type="button"
          className="press bench"
          disabled={!ready}
          onClick={() => setForm({ more: [...more, typed], typed: { ...blank, ...carriedOver(typed) } })}
        >
          Something else came with it
        </button>
      </MainAction>
    </form>
  )
}

type Part = {
  typed: Typed
  set: (change: Partial<Typed>) => void
  wrong: (field: string) => string | undefined
}

function Weight({ typed, species, set, wrong }: Part & { species?: Species }) {
  const kinds = (['live', 'field_dressed', 'carcass'] as const).filter(
    (k) => k !== 'field_dressed' || !species || species.carcass_of_field_dressed,
  )
  const bought = isBought(typed)
  const label = typed.portion === 'case' ? 'The case weighs' : bought ? 'It weighs' : `The ${knownWords[typed.known]}`
  return (
    <>
      {!bought && (
        <Choice
          label="Which weight you know"
          value={typed.known}
          onChange={(known) => set({ known })}
          options={kinds.map((k) => ({ value: k, label: knownWords[k] }))}
          error={wrong('known')}
        />
      )}
      <div data-scale>
        <AmountField
          big
          quantity="mass"
          label={label}
          value={typed.reading}
          onChange={(reading) => set({ reading })}
          hint="Type it as you say it: 38.6 kg, or 85 lb 2 oz."
          error={wrong('reading')}
        />
      </div>
    </>
  )
}

function Price({ typed, set, wrong, shipping, onShipping }: Part & { shipping?: string; onShipping: (v: string) => void }) {
  const per = (['in_all', 'kilogram', 'pound', 'piece'] as const).filter((p) => p !== 'piece' || typed.portion === 'case')
  return (
    <div className="grid gap-x-4 sm:grid-cols-3">
      <TextField
        label="Cost"
        value={typed.cost}
        onChange={(cost) => set({ cost })}
        hint="Leave empty if it cost nothing."
        inputMode="decimal"
        error={wrong('cost')}
      />
      <Select label="That is" value={typed.price_per} onChange={(v) => set({ price_per: v as Typed['price_per'] })}>
        {per.map((p) => (
          <option key={p} value={p}>
            {pricePerWords[p]}
          </option>
        ))}
      </Select>
      {shipping !== undefined && (
        <TextField
          label="Shipping"
          value={shipping}
          onChange={onShipping}
          hint="Its way here, if it was paid."
          inputMode="decimal"
          error={wrong('shipping')}
        />
      )}
    </div>
  )
}

/** What decides later and is easily forgotten; closed until somebody wants it. */
function Background({ typed, species, set, wrong }: Part & { species?: Species }) {
  return (
    <details>
      <summary className="quiet">What decides later: sex and age, fat, rest, chill, stamp, freezer</summary>
      <div className="mt-2 grid gap-3">
        {species?.asks.includes('sex') && (
          <Choice
            label="Sex"
            value={typed.sex}
            onChange={(sex) => set({ sex })}
            options={[
              { value: 'female', label: 'female' },
              { value: 'male', label: 'male' },
              { value: 'castrated', label: 'castrated' },
            ]}
          />
        )}
        {species?.asks.includes('age') && (
          <Choice
            label="Age"
            value={typed.age}
            onChange={(age) => set({ age })}
            options={[
              { value: 'young', label: 'young' },
              { value: 'adult', label: 'grown' },
              { value: 'old', label: 'old' },
            ]}
          />
        )}
        <Choice
          label="Stamp"
          value={typed.inspected}
          onChange={(inspected) => set({ inspected })}
          options={[
            { value: 'yes', label: 'inspected, stamped' },
            { value: 'no', label: 'own kill, no stamp' },
          ]}
        />
        <div className="grid gap-x-4 sm:grid-cols-2">
          <AmountField
            quantity="length"
            label="Fat cover over the loin"
            value={typed.fat_cover}
            onChange={(fat_cover) => set({ fat_cover })}
            error={wrong('fat_cover')}
            hint="Such as 12 mm."
          />
          <AmountField
            quantity="temperature"
            label="How warm it was inside"
            value={typed.inside}
            onChange={(inside) => set({ inside })}
            error={wrong('inside')}
            hint="Such as 3 C."
          />
          <TextField
            label="Days it rested"
            value={typed.rested_days}
            onChange={(rested_days) => set({ rested_days })}
            inputMode="numeric"
          />
          <TextField
            label="Days it hung cold"
            value={typed.hung_days}
            onChange={(hung_days) => set({ hung_days })}
            inputMode="numeric"
          />
          <TextField
            label="Medicines and their waiting time"
            value={typed.withdrawal}
            onChange={(withdrawal) => set({ withdrawal })}
            hint="If it was raised: which, and when the waiting ended."
          />
        </div>
        <div className="grid gap-x-4 sm:grid-cols-2">
          <DayField
            label="Frozen on"
            value={typed.frozen_on}
            onChange={(frozen_on) => set({ frozen_on })}
            hint="For stock bought ahead."
            error={wrong('frozen_on')}
          />
          <DayField
            label="Thaw and use by"
            value={typed.thaw_by}
            onChange={(thaw_by) => set({ thaw_by })}
            error={wrong('thaw_by')}
          />
        </div>
      </div>
    </details>
  )
}

/** What else came under the same name, until all of it is written down together. */
function Together(props: {
  list: Typed[]
  together: { name: string; shipping: string }
  onChange: (t: { name: string; shipping: string }) => void
  onDrop: (i: number) => void
  wrong: (field: string) => string | undefined
  speciesOf: (key: string) => Species | undefined
}) {
  const { list, together, onChange, onDrop, wrong, speciesOf } = props
  return (
    <section aria-label="Came together" className="grid gap-2 border-l-4 border-violet pl-3">
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="The purchase is called"
          value={together.name}
          onChange={(name) => onChange({ ...together, name })}
          hint="Such as autumn hog and two goats."
        />
        <TextField
          label="Shipping in all"
          value={together.shipping}
          onChange={(shipping) => onChange({ ...together, shipping })}
          inputMode="decimal"
          hint="Shared out by weight."
          error={wrong('shipping')}
        />
      </div>
      <ul className="grid gap-1">
        {list.map((t, i) => (
          <li key={i} className="flex items-center justify-between gap-3 border-t border-line">
            <span>
              <strong>{t.name || 'no name yet'}</strong>, {t.reading} of {speciesOf(t.species)?.name}
              {wrong(`lots[${i}].reading`) && (
                <span className="block font-semibold text-stop">{wrong(`lots[${i}].reading`)}</span>
              )}
            </span>
            <button
              type="button"
              className="inline-flex size-11 items-center justify-center text-violet"
              aria-label={`Take ${t.name || 'it'} off the list`}
              onClick={() => onDrop(i)}
            >
              <X aria-hidden />
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
