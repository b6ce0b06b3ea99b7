import { useEffect, useRef, useState } from 'react'

/** A row of a list that stays where a finger met it. */
export interface Settled<T> {
  row: T
  /** It was done here, and is shown until the list is left. */
  isDone: boolean
  /** It is no longer among what is to do, for whatever reason. */
  isGone: boolean
}

/** So long a list stands still after the last tap (ms). */
const STILL_MS = 10_000

/**
 * A list that does not move under a finger: after a tap every row stays in its place, what is done is marked, and what is new
 * comes at the end, until the list is left or a moment has passed without a tap.
 */
export function useSettled<T, K extends string | number>(rows: T[], keyOf: (row: T) => K) {
  const [still, setStill] = useState<{ order: T[]; done: ReadonlySet<K> }>()
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const inside = useRef(false)
  useEffect(() => () => clearTimeout(timer.current), [])
  const loosen = () => {
    clearTimeout(timer.current)
    timer.current = setTimeout(() => (inside.current ? loosen() : setStill(undefined)), STILL_MS)
  }
  const mark = (keys: K[]) => {
    setStill((s) => ({ order: s?.order ?? rows, done: new Set([...(s?.done ?? []), ...keys]) }))
    loosen()
  }
  const unmark = (keys: K[]) =>
    setStill((s) => s && { order: s.order, done: new Set([...s.done].filter((k) => !keys.includes(k))) })
  const now = new Map(rows.map((r) => [keyOf(r), r]))
  const settled = still ? [...still.order, ...rows.filter((r) => !still.order.some((o) => keyOf(o) === keyOf(r)))] : rows
  return {
    rows: settled.map((row): Settled<T> => {
      const key = keyOf(row)
      return { row: now.get(key) ?? row, isDone: still?.done.has(key) ?? false, isGone: !now.has(key) }
    }),
    mark,
    unmark,
    isStill: still !== undefined,
    /** On the list itself: as long as a pointer is on it, nothing moves. */
    area: {
      onPointerEnter: () => {
        inside.current = true
      },
      onPointerLeave: () => {
        inside.current = false
      },
    },
  }
}
