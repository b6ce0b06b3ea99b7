import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from 'react'
import { forget, keep, kept, keptNames, ledgerHere } from './device'

/** What was typed and not written yet, kept on this device under the name of what it is for. */
interface Draft {
  value: unknown
  /** In words, for saying what was dropped. */
  words: string
  at: number
}

const held = new Map<string, Draft | undefined>()
const listeners = new Set<() => void>()

const nameOf = (of: string) => `draft.${ledgerHere()}.${of}`

function read(of: string): Draft | undefined {
  const name = nameOf(of)
  if (!held.has(name)) {
    const text = kept(name)
    held.set(name, text === undefined ? undefined : (JSON.parse(text) as Draft))
  }
  return held.get(name)
}

function write(of: string, draft: Draft | undefined) {
  const name = nameOf(of)
  held.set(name, draft)
  if (draft) keep(name, JSON.stringify(draft))
  else forget(name)
  listeners.forEach((l) => l())
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Puts back into a form what could not be written. */
export const putBack = (of: string, value: unknown, words: string) => write(of, { value, words, at: Date.now() })

/** The same, unless something else was typed there since. */
export function putBackIfFree({ of, value, words }: { of: string; value: unknown; words: string }) {
  if (!read(of)) putBack(of, value, words)
}

export const dropDraft = (of: string) => write(of, undefined)

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** What a draft holds; a field that its form has learnt since is blank. */
function valueOf<T>(draft: Draft | undefined, blank: T): T {
  if (!draft) return blank
  const isFields = typeof blank === 'object' && blank !== null && !Array.isArray(blank)
  return isFields ? { ...blank, ...(draft.value as T) } : (draft.value as T)
}

/** Drops a draft that was written, unless something else was typed there since. */
export function dropIfSame({ of, value }: { of: string; value: unknown }) {
  const draft = read(of)
  if (draft && same(draft.value, value)) dropDraft(of)
}

/**
 * What is being typed, as a state that outlives the page: a reload, another station, a closed tab. `of` names what it is for (a
 * piece at a station), so that it never shows up elsewhere.
 */
export function useDraft<T>(of: string, blank: T, words: (value: T) => string) {
  const draft = useSyncExternalStore(subscribe, () => read(of))
  const value = useMemo(() => valueOf(draft, blank), [draft, blank])
  const latest = useRef({ of, blank, words })
  useEffect(() => {
    latest.current = { of, blank, words }
  })
  const set = useCallback((next: T | ((now: T) => T)) => {
    const { of, blank, words } = latest.current
    const now = valueOf(read(of), blank)
    const value = typeof next === 'function' ? (next as (now: T) => T)(now) : next
    write(of, same(value, blank) ? undefined : { value, words: words(value), at: Date.now() })
  }, [])
  const clear = useCallback(() => dropDraft(latest.current.of), [])
  /** For a write that uses it up. */
  const asUsed = { of, value, words: words(value) }
  return { value, set, clear, asUsed, isTyped: draft !== undefined }
}

/** Of several things the one that was typed for last, if any was. */
export function newestDraft(of: string, ids: number[]): number | undefined {
  const found = ids.flatMap((id) => {
    const draft = read(of + id)
    return draft ? [{ id, at: draft.at }] : []
  })
  return found.sort((a, b) => b.at - a.at)[0]?.id
}

/** What was taken off this device unwritten, in words, until somebody has seen it. */
let dropped: string[] = []

const tellDropped = (next: string[]) => {
  dropped = next
  listeners.forEach((l) => l())
}

export const useDropped = () => useSyncExternalStore(subscribe, () => dropped)

export const seenDropped = () => tellDropped([])

/** Takes a draft off this device, and says so. */
export function giveUp(of: string) {
  const words = read(of)?.words
  if (words === undefined) return
  dropDraft(of)
  if (words !== '') tellDropped([...dropped, words])
}

/** Gives up what was typed for things that are no longer here. */
export function giveUpLeftovers(of: string, here: number[]) {
  const prefix = nameOf(of)
  keptNames(prefix)
    .map((name) => name.slice(prefix.length))
    .filter((id) => !here.includes(Number(id)))
    .forEach((id) => giveUp(of + id))
}

// Another tab of this device types into the same drafts.
window.addEventListener('storage', (e) => {
  const name = e.key?.replace(/^manifest\./, '')
  if (!name?.startsWith('draft.')) return
  held.delete(name)
  listeners.forEach((l) => l())
})
