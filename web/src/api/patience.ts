import { useSyncExternalStore } from 'react'

/** So often a busy server is asked again before that is told as a failure. */
const TRIES = 5

let waiting: { seconds: number; requests: number } = { seconds: 0, requests: 0 }
const listeners = new Set<() => void>()

function set(seconds: number, by: 1 | -1) {
  waiting = { seconds, requests: waiting.requests + by }
  listeners.forEach((tell) => tell())
}

/** Seconds until a busy server is asked again; none while nobody waits. */
export function useBusy(): number | undefined {
  const seen = useSyncExternalStore(
    (tell) => {
      listeners.add(tell)
      return () => listeners.delete(tell)
    },
    () => waiting,
  )
  return seen.requests > 0 ? seen.seconds : undefined
}

/** Asks, and asks again when the server says that it is busy and for how long. */
export async function patient(request: Request): Promise<Response> {
  for (let left = TRIES; ; left--) {
    const answer = await fetch(request.clone())
    const seconds = Number(answer.headers.get('retry-after'))
    if (answer.status !== 503 || !seconds || left === 0) return answer
    set(seconds, 1)
    await new Promise((done) => setTimeout(done, seconds * 1_000))
    set(seconds, -1)
  }
}
