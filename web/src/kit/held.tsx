import { Link } from '@tanstack/react-router'
import { useEffect, useRef, useState } from 'react'
import type { PieceCard } from '../api/client'
import { useLine } from '../api/entries'
import { usePiece } from '../api/pieces'
import { isOwn, leftAt, type Sending } from '../api/queue'
import { dropDraft, giveUpLeftovers, newestDraft, useDraft } from './drafts'

/** What changed within so short a time before Enter was not read by anybody (ms). */
const UNREAD_MS = 700

interface State {
  id?: number
  card?: PieceCard
  /** Another device changed it since this version. */
  news?: { since: number }
}

interface Ask<T> {
  /** Names the form: drafts are kept under it. */
  form: string
  pieces: PieceCard[]
  /** The piece that the address asks for. */
  first?: number
  /** What nobody has typed anything into yet. */
  blank: T
  words: (typed: T) => string
  /** True where a piece is still here after it was written. */
  stays?: boolean
}

export interface Held<T> {
  piece?: PieceCard
  /** The piece that is held although it is no longer among those here. */
  goneId?: number
  news?: { since: number }
  index: number
  /** How many there are to do, the one that is held among them. */
  count: number
  typed: T
  set: (next: T | ((now: T) => T)) => void
  isTyped: boolean
  /** The draft, for a write that uses it up. */
  asUsed: { of: string; value: unknown; words: string }
  /** The version that the person has seen. */
  seen: () => { piece: number; version: number }[]
  hold: (id: number) => void
  go: (step: number) => void
  /** After Enter: what was typed is on its way, the next piece comes to hand. */
  advance: () => void
  /** What was typed is on its way; there is more to type for the same piece. */
  used: () => void
  /** Lets go of a piece that is gone, with what was typed for it. */
  letGo: () => void
}

/** Whether this page has written a piece, or is about to: the list that is shown may not know of it yet. */
export const isOnItsWay = (line: Sending[], form: string, id: number, version?: number) =>
  line.some((s) => s.owner === form && s.state !== 'refused' && aboutPieces(s).includes(id)) ||
  (version !== undefined && leftAt(id) > version)

/** The pieces that something on its way is about. */
export const aboutPieces = ({ errand, piece }: Sending): number[] =>
  errand.to === 'entries' && errand.ask.seen?.length ? errand.ask.seen.map((s) => s.piece) : piece === undefined ? [] : [piece]

/** Holds on to one piece of a list, whatever other devices do to the list, and to what is typed for it. */
export function useHeld<T>({ form, pieces, first, blank, words, stays = false }: Ask<T>): Held<T> {
  const line = useLine()
  const [start] = useState(
    () =>
      first ??
      newestDraft(
        `${form}.`,
        pieces.map((p) => p.id),
      ) ??
      pieces[0]?.id,
  )
  const [state, setState] = useState<State>({ id: start })
  const [asked, setAsked] = useState(first)
  const found = pieces.find((p) => p.id === state.id)
  const isPending = (id: number, version = pieces.find((p) => p.id === id)?.version) => isOnItsWay(line, form, id, version)

  // The address asks for another one.
  if (asked !== first) {
    setAsked(first)
    if (first !== undefined) setState({ id: first })
  } else if (state.id === undefined || (!found && state.card && isPending(state.id, state.card.version))) {
    // Nothing is at hand, or what was is on its way out.
    const next = pieces.find((p) => !isPending(p.id))
    if (next?.id !== state.id && (next || !state.card)) setState({ id: next?.id, card: next })
  } else if (found && found !== state.card) {
    const since = state.card?.version
    const isNews = since !== undefined && found.version !== since && !isOwn(found.version) && !isPending(found.id)
    setState({
      id: found.id,
      card: found,
      news: isNews ? { since: state.news?.since ?? since } : state.news,
    })
  }

  const id = state.id
  const draft = useDraft(`${form}.${id ?? 'none'}`, blank, (typed) => `${state.card?.tag ?? ''} ${words(typed)}`.trim())
  const toldAt = useRef(-Infinity)
  const news = found?.version
  useEffect(() => {
    toldAt.current = performance.now()
  }, [news])
  const mine = useRef(id)
  useEffect(() => {
    mine.current = id
  })
  const here = pieces.map((p) => p.id).join()
  useEffect(() => {
    const stay = [...here.split(',').map(Number), mine.current ?? 0]
    giveUpLeftovers(`${form}.`, stay)
  }, [form, here])

  const hold = (next: number) => setState({ id: next, card: pieces.find((p) => p.id === next) })
  const index = Math.max(
    0,
    pieces.findIndex((p) => p.id === id),
  )
  const isGone = id !== undefined && !found && !isPending(id, state.card?.version)
  return {
    piece: state.card?.id === id ? (found ?? state.card) : found,
    goneId: isGone ? id : undefined,
    news: state.news,
    index,
    count: pieces.length + (isGone ? 1 : 0),
    typed: draft.value,
    set: draft.set,
    isTyped: draft.isTyped,
    asUsed: draft.asUsed,
    seen: () => {
      if (!state.card) return []
      const unread = state.news && performance.now() - toldAt.current < UNREAD_MS
      return [{ piece: state.card.id, version: unread ? state.news!.since : state.card.version }]
    },
    hold,
    go: (step) => {
      const next = pieces[(index + step + pieces.length) % pieces.length]
      if (next) hold(next.id)
    },
    used: draft.clear,
    advance: () => {
      draft.clear()
      const later = [...pieces.slice(index + 1), ...pieces.slice(0, index)]
      const next = later.find((p) => !isPending(p.id)) ?? (stays ? (later[0] ?? found) : undefined)
      setState({ id: next?.id, card: next })
    },
    letGo: () => {
      if (id !== undefined) dropDraft(`${form}.${id}`)
      const next = pieces[Math.min(index, pieces.length - 1)]
      setState({ id: next?.id, card: next })
    },
  }
}

/** Says what another device did to the piece at hand; the form stays with it. */
export function Elsewhere<T>({ held, typed }: { held: Held<T>; typed?: string }) {
  const id = held.goneId ?? held.piece?.id
  if (id === undefined || (!held.news && held.goneId === undefined)) return null
  return (
    <Happened
      id={id}
      since={held.news?.since ?? held.piece?.version}
      gone={held.goneId !== undefined}
      typed={typed}
      held={held}
    />
  )
}

function Happened<T>(props: { id: number; since?: number; gone: boolean; typed?: string; held: Held<T> }) {
  const { id, since, gone, typed, held } = props
  const view = usePiece(id).data
  const tag = view?.card.tag ?? held.piece?.tag ?? 'This piece'
  const news = (view?.timeline ?? []).filter((e) => since !== undefined && e.entry > since && !isOwn(e.entry))
  return (
    <div role="alert" className="border-l-8 border-caution bg-caution-wash p-3">
      <p className="font-semibold">{gone ? `${tag} is no longer here.` : `${tag} changed on another device.`}</p>
      <ul>
        {news.slice(0, 3).map((e) => (
          <li key={e.entry}>
            {e.what}
            {e.detail && <span className="figures">: {e.detail}</span>}
          </li>
        ))}
      </ul>
      {gone && typed && (
        <p className="mt-1">
          What you typed for it, <strong className="figures">{typed}</strong>, is not written.
        </p>
      )}
      {gone && (
        <p className="mt-2 flex flex-wrap gap-2">
          <button type="button" className="press press-main" onClick={held.letGo}>
            Let go of {tag}
          </button>
          <Link to="/pieces/$id" params={{ id: String(id) }} className="press">
            Its page
          </Link>
        </p>
      )}
    </div>
  )
}
