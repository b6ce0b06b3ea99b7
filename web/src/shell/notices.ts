import { useEffect, useRef, useSyncExternalStore } from 'react'
import { keep, kept } from '../kit/device'

/** Whether this device shows a notice when something rings and nobody looks at the page. */
let on = kept('notices') === 'on'
const listeners = new Set<() => void>()

export function setNotices(to: boolean) {
  on = to
  keep('notices', to ? 'on' : 'off')
  listeners.forEach((l) => l())
}

export const useNotices = () =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l)
      return () => {
        listeners.delete(l)
      }
    },
    () => on,
  )

/** Asks the browser for notices: `granted`, or why it shows none. */
export async function notices(): Promise<string> {
  const rings = 'What rings is heard here while this page is open and was touched once.'
  if (typeof Notification === 'undefined' || !window.isSecureContext)
    return `This browser shows no notices of a page opened under a plain address. ${rings}`
  if (Notification.permission === 'denied') return `Notices of this page are switched off in the browser. ${rings}`
  const answer = await Notification.requestPermission()
  return answer === 'granted' ? 'granted' : `The browser shows none. ${rings}`
}

/** Shows a notice once for everything that begins to ring while nobody looks. */
export function useNoticed(words: string | undefined) {
  const isOn = useNotices()
  const last = useRef<string>(undefined)
  useEffect(() => {
    if (words === last.current) return
    last.current = words
    if (!words || !isOn || document.visibilityState === 'visible') return
    if (typeof Notification === 'undefined' || Notification.permission !== 'granted') return
    const notice = new Notification('Build Manifest', { body: words, tag: 'rings' })
    notice.onclick = () => window.focus()
  }, [words, isOn])
}
