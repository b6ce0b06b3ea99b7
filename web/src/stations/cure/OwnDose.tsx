import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { Select, TextField } from '../../kit/Fields'

/** A sugar, spice or liquid whose amount is typed, left out, or added. */
interface Row {
  name: string
  amount: string
  out: boolean
  added: boolean
}

/** What is typed to change the dose this time; empty means as the product says. */
export interface Typed {
  cure: string
  numbers: Record<string, string>
  rows: Row[]
}

export const asBuild: Typed = { cure: '', numbers: {}, rows: [] }

const isSaid = (row: Row) => row.out || row.amount.trim() !== '' || (row.added && row.name.trim() !== '')

/** As the server takes it: words as they were typed, and nothing for what was left empty. */
export function ownDose(typed: Typed): Schemas['OwnDose'] {
  const numbers = Object.entries(typed.numbers).filter(([, text]) => text.trim() !== '')
  return {
    ...Object.fromEntries(numbers),
    cure: (typed.cure || null) as Schemas['OwnDose']['cure'],
    additions: typed.rows.filter(isSaid).map((r) => ({ name: r.name, amount: r.out ? null : r.amount })),
  }
}

interface Props {
  sheet: Schemas['Sheet']
  typed: Typed
  onChange: (typed: Typed) => void
  wrong: (field: string) => string | undefined
}

/** The dose of this time: drawn from the numbers that the product's way of dosing goes by. */
export function OwnDose({ sheet, typed, onChange, wrong }: Props) {
  const cures = useCatalogue().data?.cures ?? []
  const [open, setOpen] = useState(false)
  const own = typed.rows
  const rows: Row[] = [
    ...sheet.additions.map((a) => own.find((r) => !r.added && r.name === a.name) ?? blank(a.name)),
    ...own.filter((r) => r.added),
  ]
  const place = (row: Row) => own.filter(isSaid).findIndex((r) => r.name === row.name && r.added === row.added)
  const put = (row: Row, change: Partial<Row>) => {
    const next = { ...row, ...change }
    const known = own.some((r) => r === row)
    onChange({ ...typed, rows: known ? own.map((r) => (r === row ? next : r)) : [...own, next] })
  }
  return (
    <details open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="quiet">Change the dose this time</summary>
      <div className="mt-2 grid gap-x-4 sm:grid-cols-2">
        <Select
          label="Which curing salt"
          value={typed.cure}
          onChange={(cure) => onChange({ ...typed, cure })}
          error={wrong('own.cure')}
          hint={cures.find((c) => c.key === typed.cure)?.words}
        >
          <option value="">as the product says</option>
          {cures.map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </Select>
        {sheet.fields.map((f) => (
          <TextField
            key={f.name}
            label={f.label}
            value={typed.numbers[f.name] ?? ''}
            onChange={(text) => onChange({ ...typed, numbers: { ...typed.numbers, [f.name]: text } })}
            placeholder={f.build ?? undefined}
            hint={f.hint}
            error={wrong(`own.${f.name}`)}
          />
        ))}
      </div>
      <fieldset className="mt-2 grid gap-1">
        <legend className="font-semibold">Sugar, spices and liquids, on a kilogram</legend>
        {rows.map((row, i) => {
          const usual = sheet.additions.find((a) => !row.added && a.name === row.name)
          const at = `own.additions[${place(row)}]`
          return (
            <div
              key={i}
              className={`grid items-start gap-2 ${row.added ? 'grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto]' : 'grid-cols-[minmax(0,1fr)_auto]'}`}
            >
              {row.added && (
                <TextField
                  label="What"
                  value={row.name}
                  onChange={(name) => put(row, { name })}
                  error={isSaid(row) ? wrong(`${at}.name`) : undefined}
                />
              )}
              {row.out ? (
                <p className="pt-8 text-soft">
                  <span className="line-through">{row.name}</span>, left out
                </p>
              ) : (
                <TextField
                  label={row.added ? 'How much' : `${row.name}, how much`}
                  value={row.amount}
                  onChange={(amount) => put(row, { amount })}
                  placeholder={usual?.build}
                  error={isSaid(row) ? wrong(`${at}.amount`) : undefined}
                />
              )}
              <button
                type="button"
                className="mt-7 inline-flex min-h-11 min-w-11 items-center justify-center text-violet"
                aria-label={row.out ? `Put ${row.name} back in` : `Leave ${row.name || 'it'} out`}
                onClick={() =>
                  row.added ? onChange({ ...typed, rows: own.filter((r) => r !== row) }) : put(row, { out: !row.out })
                }
              >
                {row.out ? <Plus aria-hidden /> : <X aria-hidden />}
              </button>
            </div>
          )
        })}
        <button
          type="button"
          className="quiet justify-self-start"
          onClick={() => onChange({ ...typed, rows: [...own, { ...blank(''), added: true }] })}
        >
          <Plus size={18} aria-hidden /> Add something
        </button>
      </fieldset>
    </details>
  )
}

const blank = (name: string): Row => ({ name, amount: '', out: false, added: false })
