import { useNavigate } from '@tanstack/react-router'
import { useEffect, useRef, useSyncExternalStore } from 'react'
import { keep, kept } from '../kit/device'
import { scaleField } from '../kit/focus'
import { STATIONS } from './Rail'
import { useUndo } from './undo'

/** Letters as shortcuts, on this device; some who speak to their machine or tap with elbows switch them off. */
let letters = kept('letters') !== 'off'
const listeners = new Set<() => void>()

export function setLetters(on: boolean) {
  letters = on
  keep('letters', on ? 'on' : 'off')
  listeners.forEach((l) => l())
}

export const useLetters = () =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l)
      return () => {
        listeners.delete(l)
      }
    },
    () => letters,
  )

/** Every key that the page itself takes, in words. */
export const KEYS: { keys: string; words: string; isLetter: boolean }[] = [
  { keys: '0 … 9 , .', words: 'go into the scale’s field, wherever you are on a page that has one', isLetter: false },
  { keys: '1 … 9', words: 'on Today: what the button of the line with that number does', isLetter: false },
  { keys: 'Enter', words: 'writes down what the scale says; the next piece comes', isLetter: false },
  { keys: 'Ctrl ↓  Ctrl ↑', words: 'next piece, piece before, in a round', isLetter: false },
  { keys: 'g, then a digit', words: STATIONS.map((s) => `${s.key} ${s.label}`).join(', '), isLetter: true },
  { keys: 'u', words: 'takes back what was written last', isLetter: true },
  { keys: '/', words: 'finds by tag, cut, product, animal, date, note, or by weight and thickness', isLetter: true },
  { keys: '?', words: 'this list', isLetter: true },
]

/** After `g` a digit is waited for so long (ms). */
const CHORD_MS = 1_500

const isField = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.matches('input, select, textarea') || target.isContentEditable)

/** Keys outside of fields: numbers belong to the scale, letters are shortcuts. */
export function useShortcuts({ onFind, onKeys }: { onFind: () => void; onKeys: () => void }) {
  const navigate = useNavigate()
  const { takeBack } = useUndo()
  const on = useLetters()
  const chord = useRef(-Infinity)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isField(event.target)) return
      // A dialog has keys of its own.
      if (document.querySelector('[role=dialog]')) return
      const station = performance.now() - chord.current < CHORD_MS ? STATIONS.find((s) => s.key === event.key) : undefined
      chord.current = -Infinity
      if (station) {
        event.preventDefault()
        void navigate({ to: station.to })
      } else if (/^[0-9.,]$/.test(event.key)) {
        // The key itself then lands in the field that has the focus.
        scaleField()?.focus({ preventScroll: true })
      } else if (on) {
        if (event.key === 'g') chord.current = performance.now()
        else if (event.key === 'u') takeBack()
        else if (event.key === '/') onFind()
        else if (event.key === '?') onKeys()
        else return
        event.preventDefault()
      }
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [navigate, takeBack, on, onFind, onKeys])
}
