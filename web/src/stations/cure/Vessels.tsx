import type { PieceCard, Schemas } from '../../api/client'
import { AmountField, Select, TextField, Tick } from '../../kit/Fields'
import { decimals, useFormat } from '../../units'
import { type DishTyped, type Lying, noDish, type Typed, vesselsOf } from './draft'

interface Props {
  sheet: Schemas['Sheet']
  pieces: PieceCard[]
  typed: Typed
  onType: (change: Partial<Typed>) => void
  wrong: (field: string) => string | undefined
}

const lyings: [Lying, string][] = [
  ['together', 'all in one'],
  ['alone', 'each by itself'],
  ['otherwise', 'otherwise'],
]

const closedWays: [NonNullable<Schemas['VesselAsk']['closed']>, string][] = [
  ['sealed', 'sealed tight'],
  ['sealed_with_air', 'sealed, air left in'],
  ['open', 'open or loosely covered'],
  ['held_down', 'meat held down under its liquid'],
]

/** How the pieces lie: each vessel holds one dose, checked on all that lies in it. */
export function Vessels({ sheet, pieces, typed, onType, wrong }: Props) {
  const ids = pieces.map((p) => p.id)
  const vessels = vesselsOf(typed, ids)
  const usual: Lying = sheet.in_brine ? 'together' : 'alone'
  const lying = typed.lying || usual
  const isMany = pieces.length > 1
  const isShared = sheet.in_brine || sheet.mixed
  const tag = (id: number) => pieces.find((p) => p.id === id)?.tag
  // Without nitrite nothing is closed off from the air.
  const holdsNitrite = sheet.pieces.some((p) => p.nitrite.nominal > 0)
  return (
    <fieldset className="grid gap-2">
      <legend className="font-semibold">What it lies in</legend>
      {isMany && (
        <div className="flex flex-wrap gap-1.5" role="group" aria-label="How they lie">
          {lyings.map(([key, words]) => (
            <button
              key={key}
              type="button"
              aria-pressed={lying === key}
              onClick={() => onType({ lying: key })}
              className={`min-h-11 border-2 px-2.5 ${lying === key ? 'border-violet bg-violet-wash' : 'border-line bg-table'}`}
            >
              {words}
            </button>
          ))}
        </div>
      )}
      {lying === 'otherwise' && (
        <div className="grid gap-x-4 sm:grid-cols-2">
          {pieces.map((p, i) => (
            <Select
              key={p.id}
              label={`${p.tag} lies in`}
              value={typed.vesselOf[p.id] ?? String(i + 1)}
              onChange={(to) => onType({ vesselOf: { ...typed.vesselOf, [p.id]: to } })}
            >
              {pieces.map((_, n) => (
                <option key={n} value={String(n + 1)}>
                  vessel {n + 1}
                </option>
              ))}
            </Select>
          ))}
        </div>
      )}
      {vessels.map((v, i) => (
        <div key={v.key} className="grid gap-x-4 sm:grid-cols-2">
          <TextField
            label={vessels.length > 1 ? `Vessel of ${v.pieces.map(tag).join(', ')}` : 'What it is called'}
            value={typed.names[v.key] ?? ''}
            onChange={(name) => onType({ names: { ...typed.names, [v.key]: name } })}
            placeholder={sheet.in_brine ? 'white bucket' : holdsNitrite ? 'bag' : 'dish'}
            error={wrong(`vessels[${i}].pieces`) ?? wrong(`vessels[${i}].name`)}
          />
          <Select
            label="How it is closed"
            value={typed.closed?.[v.key] ?? ''}
            onChange={(to) => onType({ closed: { ...typed.closed, [v.key]: to } })}
          >
            <option value="">not said</option>
            {closedWays.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </Select>
          {sheet.method === 'salt_box' && (
            <DishFields
              dish={typed.dishes?.[v.key] ?? noDish}
              onChange={(dish) => onType({ dishes: { ...typed.dishes, [v.key]: dish } })}
              wrong={(side) => wrong(`vessels[${i}].inside.${side}`)}
            />
          )}
          {typed.byEye && vessels.length > 1 && (
            <TextField
              label="Poured into it"
              value={typed.poured[v.key] ?? '1'}
              onChange={(text) => onType({ poured: { ...typed.poured, [v.key]: text } })}
              hint="300 g or 1.5 l; a bare number is so many parts."
              error={wrong(`vessels[${i}].poured`) ?? wrong(`vessels[${i}].parts`)}
            />
          )}
        </div>
      ))}
      {wrong('vessels') && <p className="font-semibold text-stop">{wrong('vessels')}</p>}
      {isShared && vessels.length > 1 && (
        <Tick label="I poured it by eye, not by weight" checked={typed.byEye} onChange={(byEye) => onType({ byEye })} />
      )}
      {lying === 'together' && isMany && (
        <TextField
          label="Layers in it"
          value={typed.layers}
          onChange={(layers) => onType({ layers, lying: 'together' })}
          inputMode="numeric"
          placeholder="1"
          error={wrong('vessels[0].layers')}
        />
      )}
      {sheet.in_brine && (
        <div className="grid items-end gap-x-4 sm:grid-cols-2">
          <TextField
            label="How cold the brine is"
            value={typed.brineTemperature}
            onChange={(brineTemperature) => onType({ brineTemperature })}
            hint="4 °C (39 °F) or colder before the meat goes in."
            error={wrong('brine_temperature')}
          />
          <Tick
            label="Stirred until clear, nothing on the bottom"
            checked={typed.brineClear}
            onChange={(brineClear) => onType({ brineClear })}
          />
        </div>
      )}
    </fieldset>
  )
}

/** This dish, measured inside: so much salt fills it around the meat. */
function DishFields(props: {
  dish: DishTyped
  onChange: (dish: DishTyped) => void
  wrong: (side: string) => string | undefined
}) {
  const { dish, onChange, wrong } = props
  const side = (name: 'length' | 'width' | 'height', label: string, hint?: string) => (
    <AmountField
      quantity="length"
      label={label}
      value={dish[name]}
      onChange={(text) => onChange({ ...dish, [name]: text })}
      error={wrong(name)}
      hint={hint}
    />
  )
  return (
    <details className="sm:col-span-2">
      <summary className="quiet">Salt for this dish, by its size</summary>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {side('length', 'Inside, how long')}
        {side('width', 'How wide')}
        {side('height', 'How high the salt stands', 'A finger over the meat.')}
        <Select
          label="Which salt"
          value={dish.salt_kind ?? ''}
          onChange={(salt_kind) => onChange({ ...dish, salt_kind })}
          hint="A litre of coarse salt weighs less."
        >
          <option value="">fine</option>
          <option value="coarse_sea_salt">coarse sea salt</option>
          <option value="kosher_salt_dense">coarse, dense</option>
          <option value="kosher_salt_flaked">coarse, flaked</option>
        </Select>
      </div>
    </details>
  )
}

/** What each vessel holds: its pieces drawn as blocks of their thickness, its brine, and its share of what was mixed. */
export function Shares({ sheet }: { sheet: Schemas['Sheet'] }) {
  const format = useFormat()
  const shown = sheet.vessels.filter((v) => v.pieces.length > 1 || v.portion_g != null || sheet.in_brine)
  if (shown.length === 0) return null
  const tags = (v: Schemas['VesselSheet']) =>
    sheet.pieces
      .filter((p) => v.pieces.includes(p.piece))
      .map((p) => p.tag)
      .join(', ')
  return (
    <div>
      <h3>{sheet.vessels.length > 1 ? 'What goes into each' : 'What it lies in'}</h3>
      <ul className="divide-y divide-line border-y border-line">
        {shown.map((v) => (
          <li key={v.pieces.join()} className="grid grid-cols-[7rem_1fr_auto] items-center gap-3 py-1.5">
            <Drawing sheet={sheet} vessel={v} />
            <div className="min-w-0">
              <p className="font-semibold">{v.name ?? tags(v)}</p>
              <p className="text-[0.95rem] text-soft">
                {v.name && <>{tags(v)} · </>}
                <span className="figures">{format.mass(v.meat_g)}</span> of meat
                {sheet.in_brine && (
                  <>
                    , <span className="figures">{v.litres.toFixed(1)} l</span> with its brine
                  </>
                )}
                {v.by_eye && (
                  <>
                    {' '}
                    · got <span className="figures font-semibold">{v.nitrite.nominal.toFixed(0)} ppm</span> nitrite
                    {v.salt && (
                      <>
                        {' '}
                        and <span className="figures font-semibold">{v.salt.nominal.toFixed(0)} g/kg</span> of salt
                      </>
                    )}
                  </>
                )}
                {v.cover_g != null && (
                  <>
                    {' '}
                    · <span className="figures">{format.mass(v.cover_g)}</span> of water would fill it
                  </>
                )}
              </p>
            </div>
            {v.portion_g != null && (
              <p className="figures text-3xl font-semibold">
                {v.portion_g >= 1000 ? (v.portion_g / 1000).toFixed(3) : v.portion_g.toFixed(decimals(format.fineDivision))}
                <span className="text-lg font-normal"> {v.portion_g >= 1000 ? 'kg' : 'g'}</span>
              </p>
            )}
          </li>
        ))}
      </ul>
      {!sheet.in_brine && <p className="text-soft">Put a tray under every bag: one of them always leaks.</p>}
    </div>
  )
}

const WIDE = 100
const HIGH = 56

/** A tub, bag or dish with its pieces as blocks: as wide as their weight, as high as they are thick. */
function Drawing({ sheet, vessel }: { sheet: Schemas['Sheet']; vessel: Schemas['VesselSheet'] }) {
  const inside = sheet.pieces.filter((p) => vessel.pieces.includes(p.piece))
  const thickest = Math.max(...sheet.pieces.map((p) => p.thickness_mm ?? 30), 1)
  const meat = inside.reduce((sum, p) => sum + p.meat_g, 0)
  const brine = Math.max(0, vessel.litres * 1000 - meat / 1.05)
  const level = sheet.in_brine ? HIGH * Math.min(0.92, 0.35 + (0.55 * brine) / (brine + meat)) : 0
  const widths = inside.map((p) => ((WIDE - 12) * p.meat_g) / meat)
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH + 4}`}
      className="w-full"
      role="img"
      aria-label={`${inside.map((p) => p.tag).join(', ')} ${sheet.in_brine ? 'under brine' : 'together'}`}
    >
      {sheet.in_brine && <rect x={3} y={HIGH - level} width={WIDE - 6} height={level} fill="var(--color-violet-wash)" />}
      {inside.map((p, i) => {
        const height = Math.max(6, ((p.thickness_mm ?? 30) / thickest) * HIGH * 0.55)
        return (
          <rect
            key={p.piece}
            x={6 + widths.slice(0, i).reduce((sum, w) => sum + w, 0)}
            y={HIGH - 2 - height}
            width={Math.max(2, (widths[i] ?? 0) - 2)}
            height={height}
            fill="var(--color-table)"
            stroke="var(--color-violet)"
            strokeWidth={1.5}
          />
        )
      })}
      <path d={`M2 2 L4 ${HIGH} H${WIDE - 4} L${WIDE - 2} 2`} fill="none" stroke="var(--color-ink)" strokeWidth={2} />
    </svg>
  )
}
