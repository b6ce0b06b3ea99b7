import { useSyncExternalStore } from 'react'

/** Whether the program answers; what is typed waits on this device while it does not. */
let lost = false
const listeners = new Set<() => void>()
/** Told when the program answers again. */
const returned = new Set<() => void>()
let probing: ReturnType<typeof setTimeout> | undefined

/** How often somebody knocks while nobody answers. */
const KNOCK_MS = 1_500
/** A knock that is not answered by then was not heard. */
const PATIENCE_MS = 1_500

const tell = (now: boolean) => {
  if (lost === now) return
  lost = now
  listeners.forEach((l) => l())
}

export function answered() {
  clearTimeout(probing)
  probing = undefined
  const wasLost = lost
  tell(false)
  if (wasLost) returned.forEach((l) => l())
}

/** Something was not answered: knock until somebody does. */
export function unanswered() {
  tell(true)
  probing ??= setTimeout(knock, KNOCK_MS)
}

/** Asks whether anybody is there; says so when nobody is. */
export async function knock() {
  clearTimeout(probing)
  probing = undefined
  try {
    const answer = await fetch('/api/v1/settings', { cache: 'no-store', signal: AbortSignal.timeout(PATIENCE_MS) })
    if (answer.ok) return answered()
  } catch {
    // Not reached; said below.
  }
  unanswered()
}

export const whenBack = (listener: () => void) => {
  returned.add(listener)
  return () => {
    returned.delete(listener)
  }
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export const useLost = () => useSyncExternalStore(subscribe, () => lost)
