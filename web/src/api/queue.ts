import { type ActAsk, api, newKey, type Problem, ProblemError, problemOf, type Schemas, unwrap } from './client'
import { forget, keep, kept, keptNames, ledgerHere } from '../kit/device'
import { dropDraft, dropIfSame, putBackIfFree } from '../kit/drafts'
import { answered, unanswered, whenBack } from './reach'

export interface RecordAsk {
  acts: ActAsk[]
  happened_at?: string
  seen?: Schemas['SeenPiece'][]
  keep_as_typed?: boolean
}

/** Something to be written down. */
export type Errand =
  | { to: 'entries'; ask: RecordAsk }
  | { to: 'correction'; entry: number; ask: { act: ActAsk; happened_at?: string; keep_as_typed?: boolean } }
  | { to: 'undo'; ask: { entries: number[]; with_later?: boolean } }

export type Written = Schemas['Written']

/** One intention on its way to the ledger, under one key from the tap to the answer. */
export interface Sending {
  key: string
  ledger: string
  errand: Errand
  /** What it is, for a person who waits for it. */
  words: string
  /** Which form it came out of; that form shows what was asked about it. */
  owner: string
  /** What was typed, to be put back into the form if it is refused. */
  typed?: unknown
  piece?: number
  /** The draft that it used up, and that comes back if it is refused. */
  draft?: { of: string; value: unknown; words: string }
  /** When it was typed, by this device's clock (ms). */
  at: number
  state: 'waiting' | 'sending' | 'refused'
  problem?: Problem
  /** How often it was sent without an answer. */
  tries: number
}

/** An answer that has not come by then is asked for again, with the same key. */
const PATIENCE_MS = 8_000
/** A tab that has not signed its line for so long has died; another one takes it over. */
const DEAD_MS = 9_000
const SIGN_MS = 3_000

const tab = newKey()
const LINE = 'line.'

let line: Sending[] = []
let busy = false
let again: ReturnType<typeof setTimeout> | undefined
const listeners = new Set<() => void>()
const told = new Set<(sending: Sending, written: Written) => void>()
/** Entries that this page wrote itself: no other device did that. */
const own = new Set<number>()
/** The versions in which this page left pieces. */
const left = new Map<number, number>()

export const isOwn = (entry: number) => own.has(entry)

/** The version in which this page left a piece; 0 where it wrote nothing about it. */
export const leftAt = (piece: number) => left.get(piece) ?? 0

export const snapshot = () => line

export function subscribe(listener: () => void) {
  listeners.add(listener)
  return () => {
    listeners.delete(listener)
  }
}

/** Told of everything this page wrote. */
export function onWritten(listener: (sending: Sending, written: Written) => void) {
  told.add(listener)
  return () => {
    told.delete(listener)
  }
}

function sign(beat = Date.now()) {
  if (line.length > 0) keep(LINE + tab, JSON.stringify({ beat, line }))
  else forget(LINE + tab)
}

function become(next: Sending[]) {
  line = next
  sign()
  listeners.forEach((l) => l())
}

const change = (key: string, to: Partial<Sending>) => become(line.map((s) => (s.key === key ? { ...s, ...to } : s)))

/** Puts something in line; it is written in its turn, once, whatever happens on the way. */
export function send(errand: Errand, more: Pick<Sending, 'words' | 'owner' | 'typed' | 'piece' | 'draft'>): string {
  const key = newKey()
  if (more.draft) dropDraft(more.draft.of)
  become([...line, { ...more, key, errand, ledger: ledgerHere(), at: Date.now(), state: 'waiting', tries: 0 }])
  void pump()
  return key
}

/** Leaves something out that was refused, or was never sent. */
export const drop = (key: string) =>
  become(line.filter((s) => s.key !== key || s.state === 'sending' || (s.state === 'waiting' && s.tries > 0)))

/** Sends what was refused once more, changed by what the person answered; it is still the same intention. */
export function sendAgain(key: string, to: (errand: Errand) => Errand) {
  const found = line.find((s) => s.key === key)
  if (found?.state !== 'refused') return
  change(key, { errand: to(found.errand), state: 'waiting', problem: undefined })
  void pump()
}

/** A refusal of which nothing typed is the cause: the file, the room, the clock. */
export const isHeldUp = (problem: Problem) => problem.type.endsWith(':unwritable') || problem.type.endsWith(':clock')

/** What could not be written for want of a file, of room or of the right time goes on its way again. */
export function sendUnwritten() {
  const isWaiting = (s: Sending) => s.state === 'refused' && s.problem !== undefined && isHeldUp(s.problem)
  if (!line.some(isWaiting)) return
  become(line.map((s) => (isWaiting(s) ? { ...s, state: 'waiting', problem: undefined } : s)))
  void pump()
}

/** Later things in line were typed by somebody who knew of this. */
function catchUp(written: Written) {
  written.entries.forEach((e) => own.add(e))
  const versions = new Map(written.versions.map((v) => [v.piece, v.version]))
  versions.forEach((version, piece) => left.set(piece, Math.max(version, leftAt(piece))))
  line = line.map((s) => {
    if (s.errand.to !== 'entries' || !s.errand.ask.seen) return s
    const seen = s.errand.ask.seen.map((p) => ({ ...p, version: Math.max(p.version, versions.get(p.piece) ?? 0) }))
    return { ...s, errand: { ...s.errand, ask: { ...s.errand.ask, seen } } }
  })
}

async function ask({ errand, key, ledger, at }: Sending): Promise<Written> {
  const header = { 'Idempotency-Key': key }
  const common = { headers: { Ledger: ledger }, signal: AbortSignal.timeout(PATIENCE_MS) }
  switch (errand.to) {
    case 'entries': {
      const waited = Math.max(0, (Date.now() - at) / 1000)
      const body = {
        keep_as_typed: false,
        seen: [],
        ...errand.ask,
        // What is sent at once happened now, by the server's clock.
        ...(waited > 1 ? { waited_s: waited } : {}),
      }
      return unwrap(await api.POST('/api/v1/entries', { body, params: { header }, ...common }))
    }
    case 'correction':
      return unwrap(
        await api.POST('/api/v1/entries/{id}/correction', {
          body: { keep_as_typed: false, ...errand.ask },
          params: { header, path: { id: errand.entry } },
          ...common,
        }),
      )
    case 'undo':
      return unwrap(await api.POST('/api/v1/undo', { body: { with_later: false, ...errand.ask }, params: { header }, ...common }))
  }
}

/** No answer, or one of somebody who stands before the program and cannot reach it. */
const isUnanswered = (error: unknown) =>
  !(error instanceof ProblemError) || [0, 429, 502, 503, 504].includes(error.problem.status)

/** Writes what is in line, one after another, in order. */
async function pump() {
  if (busy) return
  busy = true
  clearTimeout(again)
  try {
    for (let next = first(); next; next = first()) {
      const { key } = next
      change(key, { state: 'sending' })
      try {
        const written = await ask(next)
        answered()
        catchUp(written)
        if (next.draft) dropIfSame(next.draft)
        become(line.filter((s) => s.key !== key))
        told.forEach((tell) => tell(next!, written))
      } catch (error) {
        if (isUnanswered(error)) {
          change(key, { state: 'waiting', tries: next.tries + 1 })
          unanswered()
          again = setTimeout(() => void pump(), Math.min(4_000, 500 * 2 ** next.tries))
          return
        }
        answered()
        if (next.draft) putBackIfFree(next.draft)
        change(key, { state: 'refused', problem: problemOf(error).problem })
      }
    }
  } finally {
    busy = false
  }
}

const first = () => line.find((s) => s.state === 'waiting')

/** Takes over what a closed or dead tab of this device left in line. */
function adopt() {
  const found = keptNames(LINE)
    .filter((name) => name !== LINE + tab)
    .flatMap((name) => {
      const { beat, line: theirs } = JSON.parse(kept(name) ?? '{"beat":0,"line":[]}') as { beat: number; line: Sending[] }
      if (Date.now() - beat < DEAD_MS) return []
      forget(name)
      return theirs
    })
  const known = new Set(line.map((s) => s.key))
  const news = found
    .filter((s) => !known.has(s.key))
    .map((s): Sending => (s.state === 'sending' ? { ...s, state: 'waiting' } : s))
  if (news.length === 0) return
  become([...news, ...line].sort((a, b) => a.at - b.at))
  void pump()
}

/** Begins to work the line of this device; called once. */
export function openLine() {
  adopt()
  setInterval(() => {
    sign()
    adopt()
  }, SIGN_MS)
  window.addEventListener('pagehide', () => sign(0))
  window.addEventListener('pageshow', () => sign())
  window.addEventListener('online', () => void pump())
  whenBack(() => void pump())
}
