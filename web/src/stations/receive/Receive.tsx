import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useCatalogue, useLot, useLots, useRecord } from '../../api/hooks'
import { AmountField, Choice, Select, TextField, Tick, WhenField } from '../../kit/Fields'
import { MainAction, Page } from '../../kit/Page'
import { Empty, Failed, Findings, Loading, Refused } from '../../kit/States'
import { PlainTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { knownWords } from '../words'

type Known = Schemas['KnownWeight']

const blank = {
  name: '', species: '', origin: undefined as Schemas['Origin'] | undefined, known: 'carcass' as Known,
  reading: '', cut: '', cost: '', skin_on: false,
  sex: undefined as Schemas['Sex'] | undefined, age: undefined as Schemas['AgeClass'] | undefined,
}

/** What came in: an animal, a share of one, a purchase. */
export function Receive() {
  const [arrived, setArrived] = useState<number>()
  return (
    <Page title="Receive" lead="What came in, and the one weight you know of it.">
      <div className="grid grid-cols-1 gap-6 lg:grid-cols-[3fr_2fr]">
        {arrived ? <Arrived id={arrived} onAnother={() => setArrived(undefined)} /> : <ReceiveForm onDone={setArrived} />}
        <Lots />
      </div>
    </Page>
  )
}

function ReceiveForm({ onDone }: { onDone: (lot: number) => void }) {
  const catalogue = useCatalogue()
  const record = useRecord()
  const [form, setForm] = useState(blank)
  const [when, setWhen] = useState('')
  const set = (change: Partial<typeof blank>) => setForm((f) => ({ ...f, ...change }))
  if (catalogue.isPending) return <Loading what="the species" />
  if (catalogue.isError) return <Failed error={catalogue.error} onRetry={() => catalogue.refetch()} />
  const species = catalogue.data.species.find((s) => s.key === form.species)
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const send = (keep_as_typed = false) => {
    const { cut, cost, ...rest } = form
    record.mutate(
      { acts: [{ act: 'received', ...rest, origin: form.origin ?? 'bought', cut: form.known === 'bought_cut' ? cut || null : null, cost: cost || null }], keep_as_typed, happened_at: when || undefined },
      { onSuccess: (written) => onDone(written.lots[0]!) },
    )
  }
  const kinds = (['live', 'field_dressed', 'carcass', 'bought_cut'] as const).filter((k) => k !== 'field_dressed' || !species || species.carcass_of_field_dressed)
  return (
    <form className="table-top grid gap-4 p-4" onSubmit={(e) => { e.preventDefault(); send() }}>
      <Choice label="Species" value={form.species || undefined} onChange={(v) => set({ species: v, cut: '', known: v !== form.species ? 'carcass' : form.known })} options={catalogue.data.species.map((s) => ({ value: s.key, label: s.name }))} error={wrong('species')} />
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField label="What you call it" value={form.name} onChange={(name) => set({ name })} hint="Such as half hog, or first doe." error={wrong('name')} />
        <TextField label="Cost" value={form.cost} onChange={(cost) => set({ cost })} hint="Leave empty if it cost nothing." inputMode="decimal" error={wrong('cost')} />
      </div>
      <Choice label="How it came" value={form.origin} onChange={(origin) => set({ origin })} options={[{ value: 'harvested', label: 'harvested' }, { value: 'raised', label: 'raised' }, { value: 'bought', label: 'bought' }]} error={wrong('origin')} />
      <Choice label="Which weight you know" value={form.known} onChange={(known) => set({ known })} options={kinds.map((k) => ({ value: k, label: knownWords[k] }))} error={wrong('known')} />
      {form.known === 'bought_cut' && species && (
        <Select label="The cut" value={form.cut} onChange={(cut) => set({ cut })} error={wrong('cut')}>
          <option value="">choose</option>
          {species.cut.map((c) => <option key={c.key} value={c.key}>{c.name}</option>)}
        </Select>
      )}
      <div data-scale>
        <AmountField big quantity="mass" label={`The ${knownWords[form.known]}`} value={form.reading} onChange={(reading) => set({ reading })} hint="Type it as you say it: 38.6 kg, or 85 lb 2 oz." error={wrong('reading')} />
      </div>
      {species?.asks.includes('skin') && <Tick label="Skin is on" checked={form.skin_on} onChange={(skin_on) => set({ skin_on })} />}
      {species?.asks.includes('sex') && <Choice label="Sex" value={form.sex} onChange={(sex) => set({ sex })} options={[{ value: 'female', label: 'female' }, { value: 'male', label: 'male' }, { value: 'castrated', label: 'castrated' }]} />}
      {species?.asks.includes('age') && <Choice label="Age" value={form.age} onChange={(age) => set({ age })} options={[{ value: 'young', label: 'young' }, { value: 'adult', label: 'grown' }, { value: 'old', label: 'old' }]} />}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      <Refused error={record.error} onKeep={() => send(true)} busy={record.isPending} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={record.isPending || !form.species || !form.origin}>
          {form.species && form.origin ? 'Write it down' : 'Choose species and how it came'}
        </button>
      </MainAction>
    </form>
  )
}

/** The species' cautions, shown once, with what they ask for. */
function Arrived({ id, onAnother }: { id: number; onAnother: () => void }) {
  const lot = useLot(id)
  const format = useFormat()
  if (lot.isPending) return <Loading what="what came in" />
  if (lot.isError) return <Failed error={lot.error} onRetry={() => lot.refetch()} />
  const { card, cautions, expectation } = lot.data
  return (
    <section className="table-top grid content-start gap-4 p-4" aria-label="What came in">
      <p className="text-soft">Write this on tape and say it aloud:</p>
      <p><span className="tag !min-h-16 !pr-6 !pl-10 text-4xl">{card.tag}</span></p>
      <p>{card.name}, <span className="figures">{format.mass(card.received_g)}</span> {knownWords[card.known]}.{expectation && <> Expect <span className="figures">{format.mass(expectation.lean_g.low)} to {format.mass(expectation.lean_g.high)}</span> of boneless lean.</>}</p>
      {cautions.length > 0 && <div><h2 className="mb-2">Before you cut {card.species_name}</h2><Findings list={cautions} /></div>}
      <MainAction>
        <Link to="/breakdown/$id" params={{ id: String(id) }} className="press press-main bench">Break it down</Link>
        <button type="button" className="press bench" onClick={onAnother}>Receive another</button>
      </MainAction>
    </section>
  )
}

function Lots() {
  const lots = useLots()
  const format = useFormat()
  if (lots.isPending) return <Loading what="what came before" />
  if (lots.isError) return <Failed error={lots.error} onRetry={() => lots.refetch()} />
  if (lots.data.length === 0) return <Empty title="Nothing has come in yet">Choose the species, type the weight you know, and give it a name.</Empty>
  return (
    <section aria-label="Came in before">
      <h2 className="mb-1.5">Came in before</h2>
      <ul className="table-top divide-y divide-line">
        {lots.data.map((lot) => (
          <li key={lot.id}>
            <Link to="/breakdown/$id" params={{ id: String(lot.id) }} className="grid grid-cols-[auto_1fr_auto] items-center gap-3 p-3 hover:bg-violet-wash">
              <PlainTag tag={lot.tag} />
              <span className="min-w-0">
                <span className="block truncate font-semibold">{lot.name}</span>
                <span className="block text-[0.95rem] text-soft">{format.date(lot.at)} · {lot.closed ? `${lot.open_pieces} of ${lot.pieces} pieces on their way` : 'being broken down'}</span>
              </span>
              <span className="figures">{format.mass(lot.received_g)}</span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
