import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus, X } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { api, problemOf, type Schemas, unwrap } from '../../api/client'
import { TextField, Tick } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { typedNumber } from '../../units'

type Household = Schemas['Household']
type Equipment = Schemas['Equipment']

/** One thing of a kind, as typed. */
type Row = Record<string, string>

interface Kind {
  key: 'scales' | 'bags' | 'tubs' | 'pans' | 'fridge'
  title: string
  one: string
  fields: [name: string, label: string, hint?: string][]
}

/** What is listed by name, and with which numbers. */
const KINDS: Kind[] = [
  {
    key: 'scales',
    title: 'Scales',
    one: 'a scale',
    fields: [
      ['division_g', 'Steps by, g'],
      ['max_g', 'At most, g'],
    ],
  },
  {
    key: 'bags',
    title: 'Bags',
    one: 'a bag',
    fields: [
      ['width_mm', 'Width, mm'],
      ['length_mm', 'Length, mm'],
    ],
  },
  {
    key: 'tubs',
    title: 'Tubs and buckets',
    one: 'a tub or bucket',
    fields: [
      ['litres', 'Litres'],
      ['count', 'How many'],
    ],
  },
  {
    key: 'pans',
    title: 'Loaf pans',
    one: 'a pan',
    fields: [
      ['length_mm', 'Length, mm'],
      ['width_mm', 'Width, mm'],
      ['height_mm', 'Height, mm'],
      ['count', 'How many'],
    ],
  },
  { key: 'fridge', title: 'Fridge shelves for curing', one: 'a shelf', fields: [['litres', 'Litres']] },
]

const number = (text: string | undefined) => typedNumber(text ?? '') ?? 0

const blank: Equipment = {
  scales: [],
  slicer: null,
  bags: [],
  tubs: [],
  pans: [],
  fridge: [],
  smoker: null,
  chamber: null,
  oven: true,
  grinder: false,
  stuffer: false,
  thickness_limit_mm: 75,
}

const rowsOf = (list: object[]): Row[] =>
  list.map((item) => Object.fromEntries(Object.entries(item).map(([k, v]) => [k, String(v)])))

/** What stands in the house: what does not fit is noticed, what is missing is said. */
export function EquipmentForm({ household }: { household: Household }) {
  const client = useQueryClient()
  const before = household.equipment ?? blank
  const [rows, setRows] = useState<Record<Kind['key'], Row[]>>(() => ({
    scales: rowsOf(before.scales ?? []),
    bags: rowsOf(before.bags ?? []),
    tubs: rowsOf(before.tubs ?? []),
    pans: rowsOf(before.pans ?? []),
    fridge: rowsOf(before.fridge ?? []),
  }))
  const [slicer, setSlicer] = useState<Row | undefined>(before.slicer ? rowsOf([before.slicer])[0] : undefined)
  const [smoker, setSmoker] = useState<Row | undefined>(before.smoker ? rowsOf([before.smoker])[0] : undefined)
  const [chamber, setChamber] = useState<Row | undefined>(before.chamber ? rowsOf([before.chamber])[0] : undefined)
  const [has, setHas] = useState({
    oven: before.oven ?? true,
    grinder: before.grinder ?? false,
    stuffer: before.stuffer ?? false,
  })
  const [limit, setLimit] = useState(String(before.thickness_limit_mm ?? 75))
  const save = useMutation({
    mutationFn: async (equipment: Equipment) => unwrap(await api.PUT('/api/v1/settings', { body: { ...household, equipment } })),
    onSuccess: () => client.invalidateQueries(),
  })
  const wrong = (field: string) => (save.error ? problemOf(save.error).field(`equipment.${field}`) : undefined)
  const put = (key: Kind['key'], list: Row[]) => setRows((r) => ({ ...r, [key]: list }))
  const typed = (): Equipment => ({
    scales: rows.scales.map((r) => ({
      name: r.name ?? '',
      division_g: number(r.division_g),
      max_g: number(r.max_g),
    })),
    bags: rows.bags.map((r) => ({
      name: r.name ?? '',
      width_mm: number(r.width_mm),
      length_mm: number(r.length_mm),
      vacuum: r.vacuum === 'true',
    })),
    tubs: rows.tubs.map((r) => ({
      name: r.name ?? '',
      litres: number(r.litres),
      count: Math.round(number(r.count)),
    })),
    pans: rows.pans.map((r) => ({
      name: r.name ?? '',
      length_mm: number(r.length_mm),
      width_mm: number(r.width_mm),
      height_mm: number(r.height_mm),
      count: Math.round(number(r.count)),
    })),
    fridge: rows.fridge.map((r) => ({ name: r.name ?? '', litres: number(r.litres) })),
    slicer: slicer ? { width_mm: number(slicer.width_mm), height_mm: number(slicer.height_mm) } : null,
    smoker: smoker
      ? {
          shelves: Math.round(number(smoker.shelves)),
          shelf_length_mm: number(smoker.shelf_length_mm),
          shelf_width_mm: number(smoker.shelf_width_mm),
          max_kg: number(smoker.max_kg),
        }
      : null,
    chamber: chamber ? { hooks: Math.round(number(chamber.hooks)), drop_mm: number(chamber.drop_mm) } : null,
    ...has,
    thickness_limit_mm: number(limit),
  })
  const one = (
    name: string,
    value: Row | undefined,
    set: (row: Row | undefined) => void,
    fields: [string, string, string?][],
    at: string,
    there: string,
  ) => (
    <Group title={name}>
      <Tick label={there} checked={value !== undefined} onChange={(on) => set(on ? {} : undefined)} />
      {value && (
        <div className="grid gap-x-4 sm:grid-cols-2 lg:grid-cols-4">
          {fields.map(([key, label, hint]) => (
            <TextField
              key={key}
              label={label}
              value={value[key] ?? ''}
              onChange={(v) => set({ ...value, [key]: v })}
              inputMode="decimal"
              hint={hint}
              error={wrong(`${at}.${key}`)}
            />
          ))}
        </div>
      )}
    </Group>
  )
  return (
    <form
      aria-label="Equipment"
      className="table-top grid max-w-3xl gap-4 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        save.mutate(typed())
      }}
    >
      <div>
        <h2>Equipment</h2>
        <p className="text-soft">
          {household.equipment
            ? 'What does not fit is noticed; what a product needs and you lack is said.'
            : 'Nothing is listed yet, so nothing is limited. List what you have, and slabs, bags, tubs and hooks are reckoned with.'}
        </p>
      </div>
      {KINDS.map((kind) => (
        <Group key={kind.key} title={kind.title}>
          {rows[kind.key].map((row, i) => (
            <div key={i} className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2 border-t border-line pt-2">
              <div className="grid gap-x-3 sm:grid-cols-3">
                <TextField
                  label="Name"
                  value={row.name ?? ''}
                  onChange={(name) =>
                    put(
                      kind.key,
                      rows[kind.key].map((r, n) => (n === i ? { ...r, name } : r)),
                    )
                  }
                />
                {kind.fields.map(([key, label, hint]) => (
                  <TextField
                    key={key}
                    label={label}
                    value={row[key] ?? ''}
                    onChange={(v) =>
                      put(
                        kind.key,
                        rows[kind.key].map((r, n) => (n === i ? { ...r, [key]: v } : r)),
                      )
                    }
                    inputMode="decimal"
                    hint={hint}
                    error={wrong(`${kind.key}[${i}].${key}`)}
                  />
                ))}
                {kind.key === 'bags' && (
                  <Tick
                    label="for vacuum"
                    checked={row.vacuum === 'true'}
                    onChange={(on) =>
                      put(
                        'bags',
                        rows.bags.map((r, n) => (n === i ? { ...r, vacuum: String(on) } : r)),
                      )
                    }
                  />
                )}
              </div>
              <button
                type="button"
                className="mt-7 inline-flex size-11 items-center justify-center text-violet"
                aria-label={`Take ${row.name || kind.one} off the list`}
                onClick={() =>
                  put(
                    kind.key,
                    rows[kind.key].filter((_, n) => n !== i),
                  )
                }
              >
                <X size={20} aria-hidden />
              </button>
            </div>
          ))}
          <button
            type="button"
            className="quiet justify-self-start"
            onClick={() => put(kind.key, [...rows[kind.key], { count: '1', vacuum: 'true' }])}
          >
            <Plus size={18} aria-hidden /> Add {kind.one}
          </button>
        </Group>
      ))}
      {one(
        'Slicer',
        slicer,
        setSlicer,
        [
          ['width_mm', 'Slices up to, mm'],
          ['height_mm', 'Opening high, mm'],
        ],
        'slicer',
        'There is a slicer',
      )}
      {one(
        'Smoker',
        smoker,
        setSmoker,
        [
          ['shelves', 'Shelves'],
          ['shelf_length_mm', 'A shelf is long, mm'],
          ['shelf_width_mm', 'and wide, mm'],
          ['max_kg', 'At most, kg'],
        ],
        'smoker',
        'There is a smoker',
      )}
      {one(
        'Drying place',
        chamber,
        setChamber,
        [
          ['hooks', 'Hooks'],
          ['drop_mm', 'A piece hangs up to, mm'],
        ],
        'chamber',
        'There is a drying place',
      )}
      <Group title="And besides">
        <div className="flex flex-wrap gap-x-6">
          <Tick label="An oven" checked={has.oven} onChange={(oven) => setHas((h) => ({ ...h, oven }))} />
          <Tick label="A grinder" checked={has.grinder} onChange={(grinder) => setHas((h) => ({ ...h, grinder }))} />
          <Tick label="A stuffer" checked={has.stuffer} onChange={(stuffer) => setHas((h) => ({ ...h, stuffer }))} />
        </div>
        <div className="max-w-64">
          <TextField
            label="Thickest slab, mm"
            value={limit}
            onChange={setLimit}
            inputMode="decimal"
            hint="Thicker pieces are cut first; usual are 50 to 80."
            error={wrong('thickness_limit_mm')}
          />
        </div>
      </Group>
      <Refused error={save.error} />
      <div className="flex flex-wrap items-center gap-3">
        <button type="submit" className="press press-main bench" disabled={save.isPending}>
          Keep this list
        </button>
        {save.isSuccess && (
          <p role="status" className="font-semibold text-good">
            Kept.
          </p>
        )}
      </div>
    </form>
  )
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="grid gap-2">
      <legend className="mb-1 font-bold">{title}</legend>
      {children}
    </fieldset>
  )
}
