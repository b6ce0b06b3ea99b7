import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, type Schemas, unwrap } from './client'
import { ofAll } from './keys'
import { useSettings } from './settings'

export type Timer = Schemas['TimerView']

/** Timers that run or ring, with the server's clock to count them down by: they ring at the same moment everywhere. */
export function useTimers() {
  const pinned = useSettings().data?.clock_is_pinned ?? true
  const timers = useQuery({
    queryKey: ofAll('timers'),
    queryFn: async () => {
      const { now, timers } = unwrap(await api.GET('/api/v1/timers'))
      return { timers, ahead_ms: Date.parse(now) - Date.now(), fetched: Date.now() }
    },
  })
  const { timers: list = [], ahead_ms = 0, fetched = 0 } = timers.data ?? {}
  // A clock that stands still rings what rang when it was asked.
  const here = useTick(list.length > 0 && !pinned)
  return { list, now: ahead_ms + (pinned ? fetched : here) }
}

/** This device's clock, a second at a time while somebody counts. */
function useTick(isCounting: boolean): number {
  const [now, setNow] = useState(Date.now)
  useEffect(() => {
    if (!isCounting) return
    const timer = setInterval(() => setNow(Date.now()), 1_000)
    return () => clearInterval(timer)
  }, [isCounting])
  return now
}

/** Milliseconds until it rings; below zero it rings. */
export const left = (timer: Timer, now: number) => Date.parse(timer.ends) - now

/** Minutes since it began, rounded up: what one would write down of it. */
export const elapsed = (timer: Timer, now: number) => Math.max(1, Math.ceil((now - Date.parse(timer.began)) / 60_000 - 1e-3))

/** `1 h 05`, `12:31`, `0:09`. */
export function span(ms: number): string {
  const seconds = Math.floor(Math.abs(ms) / 1_000)
  const two = (n: number) => String(n).padStart(2, '0')
  const [h, m, s] = [Math.floor(seconds / 3_600), Math.floor(seconds / 60) % 60, seconds % 60]
  if (h >= 48) return `${Math.floor(h / 24)} days`
  return h > 0 ? `${h} h ${two(m)}` : `${m}:${two(s)}`
}
