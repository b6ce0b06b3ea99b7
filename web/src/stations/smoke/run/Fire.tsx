import { useState } from 'react'
import type { Schemas } from '../../../api/client'
import type { Run } from '../../../api/runs'
import { AmountField, Select, TextField } from '../../../kit/Fields'
import { Fold } from '../../../kit/Page'
import { useFormat } from '../../../units'
import { useDoing } from './act'
import { Refusal } from './Refusal'

const kinds: { value: Schemas['FireKind']; label: string }[] = [
  { value: 'chips', label: 'wood chips' },
  { value: 'chunks', label: 'chunks of wood' },
  { value: 'pellets', label: 'pellets for food' },
  { value: 'dust', label: 'dust' },
  { value: 'tube', label: 'smoke tube' },
  { value: 'logs', label: 'logs' },
  { value: 'liquid', label: 'liquid smoke' },
]

const sights: { value: Schemas['Sight']; label: string }[] = [
  { value: 'water_pan', label: 'Water pan filled' },
  { value: 'misted', label: 'Misted' },
  { value: 'swing', label: 'Fire swung' },
  { value: 'wind', label: 'Wind' },
  { value: 'cold', label: 'Cold outside' },
  { value: 'lid_open', label: 'Lid does not shut' },
  { value: 'lid_shut', label: 'Lid shuts' },
  { value: 'other', label: 'Something else' },
]

/** The smoke: what burns since when and until when; what was seen at the fire. */
export function Fire({ run }: { run: Run }) {
  const format = useFormat()
  const doing = useDoing(run)
  const burning = run.fires.filter((f) => !f.out)
  return (
    <section aria-label="Fire and smoke" className="table-top grid gap-2 p-3">
      <h2>Fire and smoke</h2>
      {run.fires.length === 0 && (
        <p className="text-soft">
          Nothing lit yet{run.wood_g > 0 && `; for this load about ${format.mass(run.wood_g)} of wood`}.
        </p>
      )}
      <ul className="figures grid gap-1">
        {run.fires.map((f) => (
          <li key={f.no} className="flex flex-wrap items-center gap-x-3">
            <span className={`grow ${f.out ? 'text-soft' : 'font-semibold'}`}>
              {f.said}, lit {format.clock(f.lit)}
              {f.out ? `, out ${format.clock(f.out)}` : f.should_end ? `, until about ${format.clock(f.should_end)}` : ''}
            </span>
            {!f.out && !run.ended && (
              <button
                type="button"
                className="press"
                disabled={doing.busy}
                onClick={() => doing.act([{ act: 'burnt_out', fire: f.no }])}
              >
                Burnt out
              </button>
            )}
          </li>
        ))}
      </ul>
      <Refusal doing={doing} />
      {!run.ended && (
        <>
          <Fold title={burning.length > 0 ? 'Light more' : 'Light it'}>
            <Light run={run} />
          </Fold>
          <Fold title="Seen or done at the fire">
            <Seen run={run} />
          </Fold>
        </>
      )}
    </section>
  )
}

function Light({ run }: { run: Run }) {
  const doing = useDoing(run)
  const [kind, setKind] = useState<Schemas['FireKind']>('chunks')
  const [wood, setWood] = useState('')
  const [grams, setGrams] = useState('')
  const [burns, setBurns] = useState('')
  return (
    <form
      aria-label="Light the smoke"
      className="grid gap-x-3 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        doing.act([{ act: 'lit', kind, wood, grams: grams || null, burns: burns || null }], () => {
          setWood('')
          setGrams('')
          setBurns('')
        })
      }}
    >
      <Select label="Kind" value={kind} onChange={(v) => setKind(v as Schemas['FireKind'])}>
        {kinds.map((k) => (
          <option key={k.value} value={k.value}>
            {k.label}
          </option>
        ))}
      </Select>
      <TextField
        label={kind === 'liquid' ? 'Which, by its label' : 'Which wood'}
        value={wood}
        onChange={setWood}
        error={doing.wrong('wood')}
        hint="beech, oak, apple, cherry; sold for food"
      />
      <AmountField label="How much" quantity="mass" value={grams} onChange={setGrams} error={doing.wrong('grams')} />
      <TextField
        label="Burns for hours"
        value={burns}
        onChange={setBurns}
        error={doing.wrong('burns')}
        hint="left empty: as its kind usually does"
      />
      <div className="sm:col-span-2">
        {!doing.wrong('wood') && !doing.wrong('grams') && !doing.wrong('burns') && <Refusal doing={doing} />}
        <button type="submit" className="press press-main bench" disabled={doing.busy}>
          Lit now
        </button>
      </div>
    </form>
  )
}

function Seen({ run }: { run: Run }) {
  const doing = useDoing(run)
  const [note, setNote] = useState('')
  return (
    <div className="grid gap-1">
      <TextField label="A word about it" value={note} onChange={setNote} error={doing.wrong('note')} />
      <div className="flex flex-wrap gap-1.5">
        {sights.map((s) => (
          <button
            key={s.value}
            type="button"
            className="press"
            disabled={doing.busy}
            onClick={() => doing.act([{ act: 'seen', what: s.value, note: note || null }], () => setNote(''))}
          >
            {s.label}
          </button>
        ))}
      </div>
    </div>
  )
}
