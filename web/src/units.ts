import { useSettings } from './api/settings'
import type { Schemas } from './api/client'

type Units = Schemas['Units']

const GRAMS_PER_OUNCE = 28.349523125
const MM_PER_INCH = 25.4

function trimmed(value: number, places: number): string {
  const text = value.toFixed(places)
  const short = text.includes('.') ? text.replace(/0+$/, '').replace(/\.$/, '') : text
  return short === '-0' ? '0' : short
}

/** A weight as the household writes it. */
export function mass(grams: number, unit: Units['mass']): string {
  if (unit === 'metric') {
    const size = Math.abs(grams)
    if (size >= 1000) return `${trimmed(grams / 1000, 3)} kg`
    return `${trimmed(grams, size < 10 ? 2 : 1)} g`
  }
  const tenths = Math.round((Math.abs(grams) / GRAMS_PER_OUNCE) * 10)
  const [pounds, rest] = [Math.floor(tenths / 160), tenths % 160]
  const sign = grams < 0 && tenths > 0 ? '-' : ''
  if (pounds === 0) return `${sign}${trimmed(rest / 10, 1)} oz`
  return rest === 0 ? `${sign}${pounds} lb` : `${sign}${pounds} lb ${trimmed(rest / 10, 1)} oz`
}

const ML_PER_QUART = 946.352946

/** Water as it is poured: a gram is a millilitre. */
export function volume(grams: number, unit: Units['mass']): string {
  if (unit === 'metric') return grams >= 1000 ? `${trimmed(grams / 1000, 2)} l` : `${trimmed(grams, 0)} ml`
  const quarts = grams / ML_PER_QUART
  if (quarts >= 4) return `${trimmed(quarts / 4, 2)} gal`
  if (quarts >= 1) return `${trimmed(quarts, 2)} qt`
  const cups = trimmed(quarts * 4, 1)
  return `${cups} ${cups === '1' ? 'cup' : 'cups'}`
}

/** What is expected is not a weighing: it shows no digits that nobody can promise. */
export const estimate = (grams: number) => (grams >= 2_000 ? Math.round(grams / 100) * 100 : Math.round(grams / 10) * 10)

export function length(mm: number, unit: Units['length']): string {
  return unit === 'mm' ? `${trimmed(mm, 1)} mm` : `${trimmed(mm / MM_PER_INCH, 2)} in`
}

export function heat(celsius: number, unit: Units['heat']): string {
  return unit === 'celsius' ? `${trimmed(celsius, 1)} °C` : `${trimmed(celsius * 1.8 + 32, 0)} °F`
}

/** What was said, where it names its unit; a bare number meant something only to who typed it. */
export const asSaid = (said: string | null | undefined, shown: string) => (said && /[a-z"″]/i.test(said) ? said : shown)

/** A plain number as typed, with a point or a comma; null where there is none. */
export function typedNumber(text: string): number | null {
  const value = Number(text.trim().replace(',', '.'))
  return text.trim() !== '' && Number.isFinite(value) ? value : null
}

export const percent = (share: number, places = 1) => `${trimmed(share * 100, places)} %`

export const money = (cents: number, currency: string) => `${currency} ${(cents / 100).toFixed(2)}`

/** Decimals a scale's division can show. */
export function decimals(division: number): number {
  for (let places = 0; places < 6; places++) {
    const scaled = division * 10 ** places
    if (Math.abs(scaled - Math.round(scaled)) < 1e-9) return places
  }
  return 6
}

/** A span of days in the household's calendar, in words. */
export function dayWords(date: string, today: string): string {
  const days = Math.round((Date.parse(date) - Date.parse(today)) / 86_400_000)
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  if (days === -1) return 'yesterday'
  if (days < 0) return `${-days} days ago`
  return days < 7 ? `in ${days} days, ${weekday(date)}` : weekday(date)
}

/** A calendar day with its weekday. */
function weekday(date: string): string {
  return new Date(date).toLocaleDateString('en', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  })
}

/** Formatting in the household's units, clock and currency. */
export function useFormat() {
  const settings = useSettings().data
  const units: Units = settings?.household.units ?? { mass: 'metric', length: 'mm', heat: 'celsius' }
  const zone = settings?.household.time_zone ?? 'UTC'
  const other = units.mass === 'metric' ? 'imperial' : 'metric'
  return {
    units,
    today: settings?.today ?? '',
    fineDivision: settings?.household.scales.fine_division_g ?? 1,
    mass: (grams: number) => mass(grams, units.mass),
    massOther: (grams: number) => mass(grams, other),
    volume: (grams: number) => volume(grams, units.mass),
    length: (mm: number) => length(mm, units.length),
    heat: (celsius: number) => heat(celsius, units.heat),
    money: (cents: number) => money(cents, settings?.household.currency ?? '$'),
    until: (date: string) => weekday(date),
    /** A day of the last week by its weekday alone. */
    short: (date: string) =>
      settings && Math.abs(Date.parse(settings.today) - Date.parse(date)) < 6.5 * 86_400_000
        ? weekday(date).slice(0, 3)
        : weekday(date),
    day: (date: string) => (settings ? dayWords(date, settings.today) : date),
    /** The day of a moment, with its month. */
    dayOf: (at: string) => new Date(at).toLocaleDateString('en', { timeZone: zone, day: 'numeric', month: 'short' }),
    moment: (at: string) =>
      new Date(at).toLocaleString('en', {
        timeZone: zone,
        day: 'numeric',
        month: 'short',
        hour: '2-digit',
        minute: '2-digit',
        hour12: false,
      }),
    /** The time of day alone. */
    clock: (at: string) =>
      new Date(at).toLocaleTimeString('en', { timeZone: zone, hour: '2-digit', minute: '2-digit', hour12: false }),
    date: (at: string) =>
      new Date(at).toLocaleDateString('en', {
        timeZone: zone,
        day: 'numeric',
        month: 'short',
        year: 'numeric',
      }),
  }
}
