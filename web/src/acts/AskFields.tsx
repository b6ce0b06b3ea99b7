import { Plus, Trash2 } from 'lucide-react'
import type { Schemas } from '../api/client'
import { AmountField, DayField, Select, TextField, Tick } from '../kit/Fields'

type Field = Schemas['Field']
type Value = string | number | boolean | null | undefined | Value[] | { [key: string]: Value }
export type Ask = { [key: string]: Value }

const isRecord = (value: Value): value is { [key: string]: Value } =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** What stands at a place such as `weighed.lines.0.reading`. */
export function at(ask: Value, place: string): Value {
  return place.split('.').reduce<Value>((here, key) => {
    if (Array.isArray(here)) return here[Number(key)]
    return isRecord(here) ? here[key] : undefined
  }, ask)
}

/** The same ask with something else at one place; everything else stays as it was. */
export function put(ask: Value, place: string, value: Value): Value {
  const [key, ...rest] = place.split('.')
  if (key === undefined || key === '') return value
  const inner = rest.length === 0 ? value : put(at(ask, key), rest.join('.'), value)
  if (Array.isArray(ask)) return ask.map((one, i) => (i === Number(key) ? inner : one))
  return { ...(isRecord(ask) ? ask : {}), [key]: inner }
}

/** `packs.1.reading` as the server names it in a refusal: `packs[1].reading`. */
export const asRefused = (place: string) => place.replace(/\.(\d+)/g, '[$1]')

interface FieldsProps {
  fields: Field[]
  ask: Ask
  onChange: (ask: Ask) => void
  wrong: (field: string) => string | undefined
}

/** The fields of an act, drawn from what the act itself says it asks. */
export function AskFields({ fields, ask, onChange, wrong }: FieldsProps) {
  const change = (place: string, value: Value) => onChange(put(ask, place, value) as Ask)
  const plain = fields.filter((f) => f.kind !== 'tick' && f.kind !== 'rows')
  const ticks = fields.filter((f) => f.kind === 'tick')
  return (
    <div className="grid gap-2">
      <div className="grid gap-x-4 sm:grid-cols-2">
        {plain.map((f) => (
          <OneField
            key={f.name}
            field={f}
            value={at(ask, f.name)}
            onChange={(v) => change(f.name, v)}
            error={wrong(asRefused(f.name))}
          />
        ))}
      </div>
      {fields
        .filter((f) => f.kind === 'rows')
        .map((f) => (
          <Rows key={f.name} field={f} ask={ask} onChange={change} wrong={wrong} />
        ))}
      {ticks.length > 0 && (
        <div className="flex flex-wrap gap-x-5">
          {ticks.map((f) => (
            <Tick key={f.name} label={f.label} checked={at(ask, f.name) === true} onChange={(v) => change(f.name, v)} />
          ))}
        </div>
      )}
    </div>
  )
}

interface OneFieldProps {
  field: Field
  value: Value
  onChange: (value: Value) => void
  error?: string
}

function OneField({ field, value, onChange, error }: OneFieldProps) {
  const text = value === null || value === undefined ? '' : String(value)
  const say = (typed: string) => onChange(field.optional && typed.trim() === '' ? null : typed)
  const common = { label: field.label, value: text, error, hint: field.hint ?? undefined }
  switch (field.kind) {
    case 'mass':
    case 'length':
    case 'temperature':
      return <AmountField {...common} quantity={field.kind} onChange={say} />
    case 'money':
    case 'share':
      return <TextField {...common} inputMode="decimal" onChange={say} />
    case 'count':
      return <TextField {...common} inputMode="numeric" onChange={say} />
    case 'day':
      return <DayField {...common} onChange={say} />
    case 'one_of':
      return (
        <Select {...common} onChange={say}>
          {field.optional && <option value="">not said</option>}
          {(field.options ?? []).map((o) => (
            <option key={o.value} value={o.value}>
              {o.label}
            </option>
          ))}
        </Select>
      )
    case 'text':
    case 'moment':
      return <TextField {...common} onChange={say} />
    case 'tick':
    case 'rows':
      return null
  }
}

/** A list whose rows have fields of their own; only its last row can be taken away, since rows keep their tags. */
function Rows({
  field,
  ask,
  onChange,
  wrong,
}: {
  field: Field
  ask: Ask
  onChange: (place: string, value: Value) => void
  wrong: (field: string) => string | undefined
}) {
  const found = at(ask, field.name)
  const rows = Array.isArray(found) ? found : []
  return (
    <fieldset className="border border-line p-2">
      <legend className="px-1 font-semibold">{field.label}</legend>
      {wrong(field.name) && <p className="font-semibold text-stop">{wrong(field.name)}</p>}
      {rows.map((_, i) => (
        <div key={i} className="mb-1 grid gap-x-4 border-b border-line sm:grid-cols-2">
          {(field.row ?? []).map((f) => {
            const place = `${field.name}.${i}.${f.name}`
            const labelled = { ...f, label: rows.length > 1 ? `${f.label}, ${i + 1}` : f.label }
            return (
              <OneField
                key={place}
                field={labelled}
                value={at(ask, place)}
                onChange={(v) => onChange(place, v)}
                error={wrong(asRefused(place))}
              />
            )
          })}
        </div>
      ))}
      <div className="flex flex-wrap gap-2">
        {field.empty_row != null && (
          <button type="button" className="quiet" onClick={() => onChange(field.name, [...rows, field.empty_row as Value])}>
            <Plus size={16} aria-hidden /> Add one
          </button>
        )}
        {rows.length > 0 && (
          <button type="button" className="quiet" onClick={() => onChange(field.name, rows.slice(0, -1))}>
            <Trash2 size={16} aria-hidden /> Take the last away
          </button>
        )}
      </div>
    </fieldset>
  )
}
