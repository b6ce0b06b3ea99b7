import words from '../../api/words.json'
import { Plus, X } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useSettings, useSettle } from '../../api/settings'
import { Select, TextField, Tick } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { typedNumber } from '../../units'

type Household = Schemas['Household']
type Equipment = Schemas['Equipment']

/** One thing of a kind, as typed. */
type Row = Record<string, string>

interface Kind {
  key: string
  title: string
  one: string
  fields: [name: string, label: string, hint?: string][]
}

/** Tools that are listed by name, and with which numbers. */
const TOOLS: Kind[] = [
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
]

const MEASURES: Record<Schemas['PlaceMeasure'], string> = words.PlaceMeasure.label

const SIDES: Partial<Record<Schemas['PlaceAsk'], [name: string, label: string]>> = {
  length: ['length_mm', 'Length inside or of a shelf, mm'],
  width: ['width_mm', 'Width inside or of a shelf, mm'],
  height: ['height_mm', 'Height inside, mm'],
  shelves: ['shelves', 'Shelves'],
  lowest: ['lowest_c', 'Lowest it holds, °C'],
  zones: ['zones', 'Zones, such as left, right'],
}

const FUELS: [Schemas['Fuel'], string][] = [
  ['charcoal', 'charcoal'],
  ['wood', 'wood'],
  ['pellets', 'pellets for food'],
  ['gas', 'gas'],
  ['electric', 'electricity'],
]

const MATERIALS: [Schemas['Material'], string][] = [
  ['plastic', 'plastic for food'],
  ['glass', 'glass'],
  ['glazed', 'stoneware or enamel'],
  ['stainless', 'stainless steel'],
  ['reactive', 'aluminium, iron, copper, tin'],
  ['wood', 'wood'],
]

/** Places of one kind, drawn from what the kind asks. */
function kindOf(kind: Schemas['PlaceKind']): Kind {
  const sides = kind.asks.flatMap((ask) => SIDES[ask] ?? [])
  const pairs: [string, string][] = []
  for (let i = 0; i < sides.length; i += 2) pairs.push([sides[i]!, sides[i + 1]!])
  const sized = kind.uses.includes('press')
  return {
    key: kind.key,
    title: kind.title,
    one: `a ${kind.name}`,
    fields: [...(sized ? [] : [['holds', MEASURES[kind.measure]] as [string, string]]), ...pairs, ['count', 'How many']],
  }
}

const number = (text: string | undefined) => typedNumber(text ?? '') ?? 0

const blank: Equipment = {
  scales: [],
  slicer: null,
  bags: [],
  places: [],
  oven: true,
  grinder: false,
  stuffer: false,
  thickness_limit_mm: 75,
}

const rowsOf = (list: object[]): Row[] =>
  list.map((item) =>
    Object.fromEntries(Object.entries(item).flatMap(([k, v]) => (v === null || v === undefined ? [] : [[k, String(v)]]))),
  )

/** What stands in the house: what does not fit is noticed, what is missing is said. */
export function EquipmentForm({ household }: { household: Household }) {
  const before = household.equipment ?? blank
  const kinds = useCatalogue().data?.place_kinds ?? []
  const listed = [...TOOLS, ...kinds.map(kindOf)]
  const [tools, setTools] = useState<Record<string, Row[]>>(() => ({
    scales: rowsOf(before.scales ?? []),
    bags: rowsOf(before.bags ?? []),
  }))
  const [places, setPlaces] = useState<Row[]>(() => rowsOf(before.places ?? []))
  const rows = (key: string) => tools[key] ?? places.filter((p) => p.kind === key)
  const [slicer, setSlicer] = useState<Row | undefined>(before.slicer ? rowsOf([before.slicer])[0] : undefined)
  const [has, setHas] = useState({
    oven: before.oven ?? true,
    grinder: before.grinder ?? false,
    stuffer: before.stuffer ?? false,
  })
  const [limit, setLimit] = useState(String(before.thickness_limit_mm ?? 75))
  const save = useSettle()
  const practice = useSettings().data?.practice ?? false
  const wrong = (field: string) => (save.error ? problemOf(save.error).field(`equipment.${field}`) : undefined)
  const put = (key: string, list: Row[]) =>
    key in tools
      ? setTools((all) => ({ ...all, [key]: list }))
      : setPlaces((all) => [...all.filter((p) => p.kind !== key), ...list])
  /** As the server names a row in a refusal: places stand in one list whatever their kind. */
  const at = (key: string, row: Row, i: number) => (key in tools ? `${key}[${i}]` : `places[${places.indexOf(row)}]`)
  const typed = (): Equipment => ({
    scales: (tools.scales ?? []).map((r) => ({
      name: r.name ?? '',
      division_g: number(r.division_g),
      max_g: number(r.max_g),
    })),
    bags: (tools.bags ?? []).map((r) => ({
      name: r.name ?? '',
      width_mm: number(r.width_mm),
      length_mm: number(r.length_mm),
      vacuum: r.vacuum === 'true',
    })),
    places: places.map((r) => ({
      id: number(r.id),
      kind: r.kind ?? '',
      name: r.name ?? '',
      count: Math.round(number(r.count)),
      holds: number(r.holds),
      length_mm: typedNumber(r.length_mm ?? ''),
      width_mm: typedNumber(r.width_mm ?? ''),
      height_mm: typedNumber(r.height_mm ?? ''),
      shelves: r.shelves ? Math.round(number(r.shelves)) : null,
      material: (r.material || null) as Schemas['Material'] | null,
      lid: r.lid === undefined ? null : r.lid === 'true',
      stands_in: r.stands_in ? number(r.stands_in) : null,
      sensor: r.sensor?.trim() || null,
      zones: (r.zones ?? '').split(',').flatMap((z) => (z.trim() === '' ? [] : [z.trim()])),
      lowest_c: typedNumber(r.lowest_c ?? ''),
      fuel: (r.fuel || null) as Schemas['Fuel'] | null,
    })),
    slicer: slicer ? { width_mm: number(slicer.width_mm), height_mm: number(slicer.height_mm) } : null,
    ...has,
    thickness_limit_mm: number(limit),
  })
  const one = (
    name: string,
    value: Row | undefined,
    set: (row: Row | undefined) => void,
    fields: [string, string, string?][],
    place: string,
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
              error={wrong(`${place}.${key}`)}
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
        // New places come back with their numbers, which pieces are put in them by.
        save.mutate(
          { ...household, equipment: typed() },
          { onSuccess: (kept) => setPlaces(rowsOf(kept.equipment?.places ?? [])) },
        )
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
      {listed.map((kind) => (
        <Group key={kind.key} title={kind.title}>
          {rows(kind.key).map((row, i) => (
            <div key={i} className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2 border-t border-line pt-2">
              <div className="grid gap-x-3 sm:grid-cols-3">
                <TextField
                  label="Name"
                  error={wrong(`${at(kind.key, row, i)}.name`)}
                  value={row.name ?? ''}
                  onChange={(name) =>
                    put(
                      kind.key,
                      rows(kind.key).map((r, n) => (n === i ? { ...r, name } : r)),
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
                        rows(kind.key).map((r, n) => (n === i ? { ...r, [key]: v } : r)),
                      )
                    }
                    inputMode="decimal"
                    hint={hint}
                    error={wrong(`${at(kind.key, row, i)}.${key}`)}
                  />
                ))}
                {kinds.some((k) => k.key === kind.key && k.asks.includes('material')) && (
                  <Select
                    label="Made of"
                    value={row.material ?? ''}
                    onChange={(material) =>
                      put(
                        kind.key,
                        rows(kind.key).map((r, n) => (n === i ? { ...r, material } : r)),
                      )
                    }
                  >
                    <option value="">not said</option>
                    {MATERIALS.map(([key, words]) => (
                      <option key={key} value={key}>
                        {words}
                      </option>
                    ))}
                  </Select>
                )}
                {kinds.some((k) => k.key === kind.key && k.asks.includes('fuel')) && (
                  <Select
                    label="Heated by"
                    value={row.fuel ?? ''}
                    onChange={(fuel) =>
                      put(
                        kind.key,
                        rows(kind.key).map((r, n) => (n === i ? { ...r, fuel } : r)),
                      )
                    }
                  >
                    <option value="">not said</option>
                    {FUELS.map(([key, words]) => (
                      <option key={key} value={key}>
                        {words}
                      </option>
                    ))}
                  </Select>
                )}
                {kinds.some((k) => k.key === kind.key && k.asks.includes('lid')) && (
                  <Tick
                    label="with a lid"
                    checked={row.lid === 'true'}
                    onChange={(on) =>
                      put(
                        kind.key,
                        rows(kind.key).map((r, n) => (n === i ? { ...r, lid: String(on) } : r)),
                      )
                    }
                  />
                )}
                {kinds.some(
                  (k) =>
                    k.key === kind.key &&
                    ['cold', 'hang', 'smoke', 'cook'].some((u) => k.uses.includes(u as Schemas['PlaceUse'])),
                ) && (
                  <TextField
                    label="Thermometer, address and port"
                    value={row.sensor ?? ''}
                    onChange={(sensor) =>
                      put(
                        kind.key,
                        rows(kind.key).map((r, n) => (n === i ? { ...r, sensor } : r)),
                      )
                    }
                    hint={
                      practice
                        ? 'Such as 127.0.0.1:8480; “practice” is the one that comes with practice.'
                        : 'Such as 127.0.0.1:8480; empty where there is none.'
                    }
                    error={wrong(`${at(kind.key, row, i)}.sensor`)}
                  />
                )}
                {kinds.some((k) => k.key === kind.key && k.uses.includes('brine')) && (
                  <Select
                    label="Stands in"
                    value={row.stands_in ?? ''}
                    onChange={(stands_in) =>
                      put(
                        kind.key,
                        rows(kind.key).map((r, n) => (n === i ? { ...r, stands_in } : r)),
                      )
                    }
                    error={wrong(`${at(kind.key, row, i)}.stands_in`)}
                  >
                    <option value="">not said</option>
                    {places
                      .filter((p) => p.id && kinds.some((k) => k.key === p.kind && k.uses.includes('cold')))
                      .map((p) => (
                        <option key={p.id} value={p.id}>
                          {p.name}
                        </option>
                      ))}
                  </Select>
                )}
                {kind.key === 'bags' && (
                  <Tick
                    label="for vacuum"
                    checked={row.vacuum === 'true'}
                    onChange={(on) =>
                      put(
                        'bags',
                        rows('bags').map((r, n) => (n === i ? { ...r, vacuum: String(on) } : r)),
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
                    rows(kind.key).filter((_, n) => n !== i),
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
            onClick={() => put(kind.key, [...rows(kind.key), { count: '1', vacuum: 'true', kind: kind.key }])}
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
