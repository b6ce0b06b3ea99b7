import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { changed, ofAll } from './keys'
import { answered, knock, whenBack } from './reach'

/** It says something every other second; knock when it has not for so long. */
const SILENCE_MS = 2_500
/** Probes that speak many times a second are asked for no oftener than this. */
const PROBES_MS = 2_000
/** When there was no room to listen, so long until it asks again. */
const TURNED_AWAY_MS = 5_000

/**
 * Asks again for what changed on another device.
 *
 * Only while the page is looked at: a browser allows few connections to one server, and every
 * open event stream holds one.
 */
export function useLive() {
  const client = useQueryClient()
  useEffect(() => {
    let events: EventSource | undefined
    let missedSome = false
    let silence: ReturnType<typeof setTimeout> | undefined
    let turnedAway: ReturnType<typeof setTimeout> | undefined
    // A program that stands still says nothing; a dead one hangs up.
    const listen = () => {
      clearTimeout(silence)
      silence = setTimeout(() => void knock(), SILENCE_MS)
    }
    let asks: ReturnType<typeof setTimeout> | undefined
    let askedAt = 0
    const probesSaid = () => {
      if (asks) return
      asks = setTimeout(
        () => {
          asks = undefined
          askedAt = Date.now()
          void client.invalidateQueries({ queryKey: ofAll('runs') })
        },
        Math.max(0, askedAt + PROBES_MS - Date.now()),
      )
    }
    const open = () => {
      if (events) return
      events = new EventSource('/api/v1/events')
      listen()
      events.addEventListener('beat', listen)
      events.onmessage = (message) => {
        const { what, lots } = JSON.parse(message.data) as { what: string; lots: number[] }
        if (what === 'ledger') void changed(client, lots)
        else if (what === 'runs') void client.invalidateQueries({ queryKey: ofAll('runs') })
        else if (what === 'probes') probesSaid()
        else void client.invalidateQueries()
      }
      events.onerror = () => {
        missedSome = true
        void knock()
        // Turned away, since many listen: asks for everything now and then, and whether there is room.
        if (events?.readyState !== EventSource.CLOSED) return
        clearTimeout(silence)
        events = undefined
        turnedAway = setTimeout(() => {
          void client.invalidateQueries()
          look()
        }, TURNED_AWAY_MS)
      }
      events.onopen = () => {
        answered()
        if (missedSome) void client.invalidateQueries()
        missedSome = false
      }
    }
    const close = () => {
      clearTimeout(silence)
      clearTimeout(turnedAway)
      events?.close()
      events = undefined
      missedSome = true
    }
    const look = () => (document.visibilityState === 'visible' ? open() : close())
    look()
    document.addEventListener('visibilitychange', look)
    window.addEventListener('pagehide', close)
    window.addEventListener('pageshow', look)
    const stop = whenBack(() => void client.invalidateQueries())
    return () => {
      stop()
      clearTimeout(silence)
      clearTimeout(turnedAway)
      clearTimeout(asks)
      document.removeEventListener('visibilitychange', look)
      window.removeEventListener('pagehide', close)
      window.removeEventListener('pageshow', look)
      events?.close()
    }
  }, [client])
}
