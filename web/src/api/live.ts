import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { changed } from './keys'

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
    const open = () => {
      if (events) return
      events = new EventSource('/api/v1/events')
      events.onmessage = (message) => {
        const { what, lots } = JSON.parse(message.data) as { what: string; lots: number[] }
        if (what === 'ledger') void changed(client, lots)
        else void client.invalidateQueries()
      }
      events.onerror = () => {
        missedSome = true
      }
      events.onopen = () => {
        if (missedSome) void client.invalidateQueries()
        missedSome = false
      }
    }
    const close = () => {
      events?.close()
      events = undefined
      missedSome = true
    }
    const look = () => (document.visibilityState === 'visible' ? open() : close())
    look()
    document.addEventListener('visibilitychange', look)
    window.addEventListener('pagehide', close)
    window.addEventListener('pageshow', look)
    return () => {
      document.removeEventListener('visibilitychange', look)
      window.removeEventListener('pagehide', close)
      window.removeEventListener('pageshow', look)
      events?.close()
    }
  }, [client])
}
