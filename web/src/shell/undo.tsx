import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react'
import type { Problem } from '../api/client'
import { useLine, usePresence } from '../api/entries'
import { drop, onWritten, send, sendAgain, snapshot, type Written } from '../api/queue'

/** A write of this page that still holds, or the undoing of one. */
interface Line {
  said: string
  entries: number[]
}

interface Undo {
  /** What was written or undone last, for as long as it is shown. */
  said?: string
  /** The last write can be taken back. */
  canUndo: boolean
  /** What was undone can be done again. */
  canRedo: boolean
  /** It was undone already once: the next one is one more. */
  undoneBefore: boolean
  /** Why the last undoing was refused. */
  problem?: Problem
  takeBack: () => void
  doAgain: () => void
  withLater: () => void
  close: () => void
  /** Keeps the line while somebody is at it. */
  hold: (on: boolean) => void
}

/** So many writes can be taken back from here one after another; older ones from their history. */
const DEEPEST = 100
/** How long the line is shown when nobody is at it (ms). */
const SHOWN_MS = 15_000
/** The line of undoing among the forms. */
const OWNER = 'undo'

const idle: Undo = {
  canUndo: false,
  canRedo: false,
  undoneBefore: false,
  takeBack: () => {},
  doAgain: () => {},
  withLater: () => {},
  close: () => {},
  hold: () => {},
}
const Context = createContext<Undo>(idle)

export const useUndo = () => useContext(Context)

const lineOf = (written: Written): Line => ({ said: written.said, entries: written.entries })

/** Keeps what was written at hand, and takes it back in one tap, one write after another. */
export function UndoProvider({ children }: { children: ReactNode }) {
  // The newest last; what was undone moves over, so that it can be done again.
  const [done, setDone] = useState<Line[]>([])
  const [undone, setUndone] = useState<Line[]>([])
  const [said, setSaid] = useState<string>()
  const held = useRef(false)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  usePresence(OWNER)
  const show = useCallback((words: string) => {
    setSaid(words)
    const later = () => {
      clearTimeout(timer.current)
      timer.current = setTimeout(() => (held.current ? later() : setSaid(undefined)), SHOWN_MS)
    }
    later()
  }, [])
  useEffect(
    () =>
      onWritten((sending, written) => {
        const line = lineOf(written)
        if (sending.owner !== OWNER) {
          setDone((list) => [...list.slice(1 - DEEPEST), line])
          setUndone([])
        } else if (sending.typed === 'again') {
          setUndone((list) => list.slice(0, -1))
          setDone((list) => [...list, line])
        } else {
          setDone((list) => list.slice(0, -1))
          setUndone((list) => [...list, line])
        }
        show(written.said)
      }),
    [show],
  )
  const line = useLine()
  const mine = line.find((s) => s.owner === OWNER)
  const last = done.at(-1)
  const lastUndone = undone.at(-1)
  const value = useMemo((): Undo => {
    const free = mine === undefined || mine.state === 'refused'
    const start = (of: Line, way: 'back' | 'again') => {
      if (!free) return
      if (mine) drop(mine.key)
      send({ to: 'undo', ask: { entries: of.entries } }, { words: `undo: ${of.said}`, owner: OWNER, typed: way })
    }
    return {
      said,
      canUndo: last !== undefined,
      canRedo: lastUndone !== undefined,
      undoneBefore: lastUndone !== undefined,
      problem: mine?.state === 'refused' ? mine.problem : undefined,
      takeBack: () => {
        // What is still in line was done last; it comes off before anything is taken back.
        const waiting = snapshot().filter((s) => s.owner !== OWNER && s.state !== 'refused')
        const unsent = waiting.at(-1)
        if (unsent?.state === 'waiting' && unsent.tries === 0) {
          drop(unsent.key)
          show(`taken out of the line: ${unsent.words}`)
        } else if (unsent) show(`still on its way, and not to be undone before it is written: ${unsent.words}`)
        else if (last) start(last, 'back')
        else show('nothing to undo from here; older things are undone in their history')
      },
      doAgain: () => lastUndone && start(lastUndone, 'again'),
      withLater: () => mine && sendAgain(mine.key, (e) => (e.to === 'undo' ? { ...e, ask: { ...e.ask, with_later: true } } : e)),
      close: () => {
        if (mine?.state === 'refused') drop(mine.key)
        setSaid(undefined)
      },
      hold: (on) => {
        held.current = on
      },
    }
  }, [said, last, lastUndone, mine, show])
  return <Context value={value}>{children}</Context>
}
