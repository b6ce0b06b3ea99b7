import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { Select, TextField, Tick } from '../../kit/Fields'

/** A sugar, spice or liquid whose amount is typed, left out, or added. */
interface Row {
  name: string
  amount: string
  out: boolean
  added: boolean
  /** It goes on last, and is not in the bowl that is shared out. */
  last?: boolean
  /** What it weighed before and after, where it goes on by look. */
  jar?: Jar
}

/** What is typed to change the dose this time; empty means as the product says. */
export interface Typed {
  cure: string
  /** What a recipe's bag says that its cure is made of, where it is none of the catalogue's. */
  made?: Schemas['Composition']
  numbers: Record<string, string>
  rows: Row[]
  /** The jar of a blend that was put on by look. */
  jar?: Jar
  /** Which salt is in the cup. */
  saltKind?: string
}

/** A jar on the scale before something was taken out of it, and after. */
interface Jar {
  before: string
  after: string
}

export const asBuild: Typed = { cure: '', numbers: {}, rows: [] }

const isJar = (jar?: Jar) => jar !== undefined && (jar.before + jar.after).trim() !== ''

const isSaid = (row: Row) => row.out || row.amount.trim() !== '' || isJar(row.jar) || (row.added && row.name.trim() !== '')

/** As the server takes it: words as they were typed, and nothing for what was left empty. */
export function ownDose(typed: Typed): Schemas['OwnDose'] {
  const numbers = Object.entries(typed.numbers).filter(([, text]) => text.trim() !== '')
  return {
    ...Object.fromEntries(numbers),
    cure: (typed.cure || (typed.made ?? null)) as Schemas['OwnDose']['cure'],
    additions: typed.rows.filter(isSaid).map((r) => ({
      name: r.name,
      amount: r.out || isJar(r.jar) ? null : r.amount,
      jar: !r.out && isJar(r.jar) ? r.jar : null,
      last: r.last ?? null,
    })),
    jar: isJar(typed.jar) ? typed.jar : null,
    salt_kind: typed.saltKind || null,
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
  const isByVolume =
    sheet.fields.some((f) => f.unit === 'strength') || Object.values(typed.numbers).some((t) => /tsp|tbsp|cup|spoon/i.test(t))
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
          <option value="">{typed.made ? 'as the bag of the recipe says' : 'as the product says'}</option>
          {cures.map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </Select>
        {sheet.fields.map((f) =>
          f.unit === 'tick' ? (
            <Select
              key={f.name}
              label={f.label}
              value={typed.numbers[f.name] ?? ''}
              onChange={(text) => onChange({ ...typed, numbers: { ...typed.numbers, [f.name]: text } })}
              hint={f.hint}
              error={wrong(`own.${f.name}`)}
            >
              <option value="">as the product says: {f.build ?? 'no'}</option>
              <option value="yes">yes</option>
              <option value="no">no</option>
            </Select>
          ) : (
            <TextField
              key={f.name}
              label={f.label}
              value={typed.numbers[f.name] ?? ''}
              onChange={(text) => onChange({ ...typed, numbers: { ...typed.numbers, [f.name]: text } })}
              placeholder={f.build ?? undefined}
              hint={f.hint}
              error={wrong(`own.${f.name}`)}
            />
          ),
        )}
        {isByVolume && (
          <Select
            label="Which salt is in the cup"
            value={typed.saltKind ?? ''}
            onChange={(saltKind) => onChange({ ...typed, saltKind })}
            error={wrong('own.salt_kind')}
            hint="A cup of flaked salt weighs half as much as one of fine salt."
          >
            <option value="">fine table or canning salt</option>
            <option value="kosher_salt_dense">coarse salt, dense</option>
            <option value="kosher_salt_flaked">coarse salt, flaked</option>
            <option value="coarse_sea_salt">coarse sea salt</option>
          </Select>
        )}
      </div>
      {sheet.measured_in && <p className="text-soft">{sheet.measured_in} Settings say whose they are.</p>}
      {sheet.method === 'label_rate' && (
        <fieldset className="mt-1 grid gap-x-4 sm:grid-cols-2">
          <legend className="font-semibold">Put on by look? What is gone from the jar stuck</legend>
          <TextField
            label="The jar before"
            value={typed.jar?.before ?? ''}
            onChange={(before) => onChange({ ...typed, jar: { before, after: typed.jar?.after ?? '' } })}
            error={wrong('own.jar.before') ?? wrong('own.jar')}
          />
          <TextField
            label="The jar after"
            value={typed.jar?.after ?? ''}
            onChange={(after) => onChange({ ...typed, jar: { before: typed.jar?.before ?? '', after } })}
            error={wrong('own.jar.after')}
          />
        </fieldset>
      )}
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
                  hint={row.added ? 'Such as 3 g/kg, 40 pieces, or a pinch.' : undefined}
                  error={
                    isSaid(row) ? (wrong(`${at}.amount`) ?? wrong(`${at}.jar.before`) ?? wrong(`${at}.jar.after`)) : undefined
                  }
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
              {!row.out && (row.added || isJar(row.jar)) && (
                <details className="col-span-full" open={isJar(row.jar) || undefined}>
                  <summary className="quiet">Or by its jar, before and after</summary>
                  <div className="grid gap-x-4 sm:grid-cols-2">
                    <TextField
                      label={`${row.name || 'Its'} jar before`}
                      value={row.jar?.before ?? ''}
                      onChange={(before) => put(row, { jar: { before, after: row.jar?.after ?? '' } })}
                      error={isSaid(row) ? wrong(`${at}.jar.before`) : undefined}
                    />
                    <TextField
                      label={`${row.name || 'Its'} jar after`}
                      value={row.jar?.after ?? ''}
                      onChange={(after) => put(row, { jar: { before: row.jar?.before ?? '', after } })}
                      error={isSaid(row) ? wrong(`${at}.jar.after`) : undefined}
                      hint="What is gone went in; the salt in it counts."
                    />
                  </div>
                </details>
              )}
              {!row.out && row.amount.trim() !== '' && (
                <div className="col-span-full">
                  <Tick
                    label="It goes on last, weighed for each piece"
                    checked={row.last ?? false}
                    onChange={(last) => put(row, { last })}
                  />
                </div>
              )}
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
