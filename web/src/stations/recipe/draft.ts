import { useEffect, useState } from 'react'
import type { RecipeAsk, Settled } from '../../api/recipe'
import type { Schemas } from '../../api/client'

/** A recipe that somebody brought, and what was settled of it, kept on this device. */
export interface Brought {
  text: string
  /** The pieces it is to be made for, by their numbers; none for a weight of its own. */
  pieces: number[]
  /** A weight of meat, as typed. */
  weight: string
  thickness: string
  measures: '' | Schemas['Measures']
  settled: Settled[]
}

export const nothing: Brought = { text: '', pieces: [], weight: '', thickness: '', measures: '', settled: [] }

/** As the server takes it. */
export function recipeAsk(
  brought: Brought,
  known: {
    meat?: number
    thickness?: number
    class?: Schemas['Class']
    ruleSet?: string
    measures?: Schemas['Measures'] | null
  },
): RecipeAsk {
  return {
    text: brought.text,
    meat_g: known.meat ?? null,
    thickness_mm: known.thickness ?? null,
    class: known.class ?? null,
    measures: brought.measures || null,
    household_measures: known.measures ?? 'us',
    ...(known.ruleSet && { rule_set: known.ruleSet }),
    settled: brought.settled,
  }
}

/** Of two answers to one question the later holds. */
export function settle(list: Settled[], one: Settled): Settled[] {
  const same = (s: Settled) => s.code === one.code && s.line_text === one.line_text && s.ingredient === one.ingredient
  const others = list.filter((s) => !same(s))
  return one.value === '' ? others : [...others, one]
}

/** So long nobody types before it is read (ms). */
const STILL_MS = 160

/** What is typed, once the fingers rest. */
export function useStill<T>(value: T): T {
  const [still, setStill] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), STILL_MS)
    return () => clearTimeout(timer)
  }, [value])
  return still
}
