import type { Schemas } from '../../api/client'
import { asBuild, ownDose, type Typed as OwnTyped } from './OwnDose'
import type { Ticks } from './ticks'

/** The weigh-out among the forms of this device. */
export const FORM = 'dosed'

/** Which pieces lie on the table of the weigh-out. */
export const TABLE = 'dose-table'

/** What is typed for pieces that are weighed out together is kept under this. */
export const formOf = (pieces: { id: number }[]) => `${FORM}.${pieces.map((p) => p.id).join('-')}`

/** A dish as it is measured inside. */
export type DishTyped = Schemas['DishAsk']

export const noDish: DishTyped = { length: '', width: '', height: '', salt_kind: '' }

/** How the pieces of a weigh-out lie together. */
export type Lying = 'alone' | 'together' | 'otherwise'

/** What is typed and ticked for the pieces that are weighed out together. */
export interface Typed {
  mixed: boolean
  own: OwnTyped
  ticks: Ticks
  reason: string
  when: string
  place: string
  /** The way of the product; empty for its own. */
  way: string
  /** The product by whose dose one mix goes over several products. */
  recipe: string
  /** How they lie; empty as is usual for the way. */
  lying: Lying | ''
  /** The vessel of each piece, where they lie otherwise. */
  vesselOf: Record<string, string>
  /** What vessels are called, and what was poured into them by eye. */
  names: Record<string, string>
  poured: Record<string, string>
  byEye: boolean
  layers: string
  /** How each container is closed. */
  closed: Record<string, string>
  /** The inside of each dish that salt fills. */
  dishes: Record<string, DishTyped>
  school: string
  days: string
  hours: string
  zones: string
  zonesWhy: string
  turning: string
  brineTemperature: string
  brineClear: boolean
}

export const blank: Typed = {
  mixed: false,
  own: asBuild,
  ticks: {},
  reason: '',
  when: '',
  place: '',
  way: '',
  recipe: '',
  lying: '',
  vesselOf: {},
  names: {},
  poured: {},
  byEye: false,
  layers: '',
  closed: {},
  dishes: {},
  school: '',
  days: '',
  hours: '',
  zones: '',
  zonesWhy: '',
  turning: '',
  brineTemperature: '',
  brineClear: false,
}

/** The pieces of each vessel, under the word by which its name and its pour are kept. */
export function vesselsOf(typed: Typed, pieces: number[]): { key: string; pieces: number[] }[] {
  if (typed.lying === '' && pieces.length === 1) return [{ key: '1', pieces }]
  if (typed.lying === 'together') return [{ key: '1', pieces }]
  if (typed.lying === 'alone') return pieces.map((p, i) => ({ key: String(i + 1), pieces: [p] }))
  if (typed.lying !== 'otherwise') return []
  const all = new Map<string, number[]>()
  pieces.forEach((p, i) => {
    const key = typed.vesselOf[p] ?? String(i + 1)
    all.set(key, [...(all.get(key) ?? []), p])
  })
  return [...all].map(([key, pieces]) => ({ key, pieces })).sort((a, b) => a.key.localeCompare(b.key))
}

const said = (text: string) => (text.trim() === '' ? null : text)

/** A bare number among pours is so many parts; anything with a unit is what was poured. */
const pour = (text: string) => (/^\s*\d+([.,/]\d+)?\s*$/.test(text) ? { parts: parts(text) } : { poured: said(text) })

function parts(text: string) {
  const [top, bottom] = text.replace(',', '.').split('/').map(Number)
  return bottom ? top! / bottom : top!
}

/** As the server takes it: words as they were typed, and nothing for what was left empty. */
export function sheetAsk(typed: Typed, pieces: number[]): Schemas['SheetAsk'] {
  const vessels = vesselsOf(typed, pieces)
  const layers = said(typed.layers)
  const one = vessels.length === 1
  return {
    pieces,
    mixed: typed.mixed,
    own: ownDose(typed.own),
    way: said(typed.way),
    recipe: said(typed.recipe),
    vessels: vessels.map((v) => ({
      pieces: v.pieces,
      name: said(typed.names[v.key] ?? ''),
      place: one ? said(typed.place) : null,
      layers: one ? layers : null,
      inside: typed.dishes?.[v.key] ?? null,
      closed: (typed.closed?.[v.key] || null) as Schemas['VesselAsk']['closed'],
      ...(typed.byEye && vessels.length > 1 ? pour(typed.poured[v.key] ?? '1') : {}),
    })),
    school: said(typed.school),
    days: said(typed.days),
    hours: said(typed.hours),
    zones: typed.zones.split(/[;+]| and /).filter((z) => z.trim() !== ''),
    zones_why: said(typed.zonesWhy),
    turning: (typed.turning || null) as Schemas['SheetAsk']['turning'],
    brine_temperature: said(typed.brineTemperature),
    brine_clear: typed.brineClear ? true : null,
  }
}
