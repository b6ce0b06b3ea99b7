import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { type ActAsk, api, newKey, ProblemError, unwrap } from './client'
import { changed } from './keys'
import {
  drop,
  type Errand,
  onWritten,
  type RecordAsk,
  send,
  type Sending,
  sendAgain,
  snapshot,
  subscribe,
  type Written,
} from './queue'

export type { RecordAsk } from './queue'

/** An entry as it can be put right: looked up anew each time, since others may have put it right too. */
export const useAskedAgain = (entry: number) =>
  useQuery({
    queryKey: ['ledger', 'entry', entry, 'ask'],
    refetchOnWindowFocus: false,
    queryFn: async () => unwrap(await api.GET('/api/v1/entries/{id}/ask', { params: { path: { id: entry } } })),
  })

/** Everything on its way to the ledger. */
export const useLine = () => useSyncExternalStore(subscribe, snapshot)

/** Asks again for what this page wrote; mounted once. */
export function useWrittenHere() {
  const client = useQueryClient()
  useEffect(() => onWritten((_, written) => void changed(client, written.lots)), [client])
}

/** The acts that take a reason for going past a block, as the server's own description of them says. */
type Reasoned = Exclude<Extract<ActAsk, { reason?: string | null }>['act'], 'discarded'>

/** All of them: one that is forgotten here, or that takes none, does not compile. */
const reasoned: Record<Reasoned, true> = {
  assigned: true,
  dosed: true,
  topped_up: true,
  injected: true,
  out_of_cure: true,
  smoked: true,
  hung: true,
  packed: true,
  pack_moved: true,
  hold_answered: true,
}

const withReason = (act: ActAsk, reason: string) => (act.act in reasoned ? ({ ...act, reason } as ActAsk) : act)

/** The same intention, with what was asked about kept as it was typed; `at` is the second of two hours of one name. */
export const kept = (errand: Errand, at?: string): Errand => {
  const more = at ? { happened_at: at } : { keep_as_typed: true }
  switch (errand.to) {
    case 'entries':
      return { ...errand, ask: { ...errand.ask, ...more } }
    case 'correction':
      return { ...errand, ask: { ...errand.ask, ...more } }
    case 'undo':
      return errand
  }
}

/** The same intention, with a reason for going past a stop. */
export const because =
  (reason: string) =>
  (errand: Errand): Errand => {
    switch (errand.to) {
      case 'entries':
        return { ...errand, ask: { ...errand.ask, acts: errand.ask.acts.map((act) => withReason(act, reason)) } }
      case 'correction':
        return { ...errand, ask: { ...errand.ask, act: withReason(errand.ask.act, reason) } }
      case 'undo':
        return errand
    }
  }

/** Acts in a few words, while nobody else has words for them yet. */
export function actsInWords(acts: ActAsk[]): string {
  const [act] = acts
  if (!act) return 'nothing'
  const reading = 'reading' in act && typeof act.reading === 'string' ? ` ${act.reading}` : ''
  const more = acts.length > 1 ? ` and ${acts.length - 1} more` : ''
  return `${act.act.replaceAll('_', ' ')}${reading}${more}`
}

/** Forms that are on the screen, and so show themselves what was asked about what they sent. */
const present = new Map<string, number>()
const gone = new Set<() => void>()

export function usePresence(owner: string) {
  useEffect(() => {
    present.set(owner, (present.get(owner) ?? 0) + 1)
    gone.forEach((l) => l())
    return () => {
      present.set(owner, (present.get(owner) ?? 1) - 1)
      gone.forEach((l) => l())
    }
  }, [owner])
}

const watchPresence = (listener: () => void) => {
  gone.add(listener)
  return () => gone.delete(listener)
}

const presentNow = () => [...present].flatMap(([owner, n]) => (n > 0 ? [owner] : [])).join(' ')

/** What was refused or asked about, and has no form on the screen that says so. */
export function useLeftOver(): Sending[] {
  const line = useLine()
  const here = useSyncExternalStore(watchPresence, presentNow)
  return useMemo(() => {
    const owners = new Set(here.split(' '))
    return line.filter((s) => s.state === 'refused' && !owners.has(s.owner))
  }, [line, here])
}

interface Options {
  onSuccess?: (written: Written) => void
  /** What it is, for a person who waits for it. */
  words?: string
  /** The draft that it uses up. */
  draft?: Sending['draft']
}

/** One thing of a form on its way to the ledger, with what was refused or asked about it. */
function useErrand() {
  // A page that was loaded anew is another form.
  const [owner] = useState(() => `form-${newKey()}`)
  usePresence(owner)
  const [key, setKey] = useState<string>()
  const line = useLine()
  const mine = line.find((s) => s.key === key)
  const done = useRef<{ key?: string; onSuccess?: (written: Written) => void }>({})
  useEffect(
    () =>
      onWritten((sending, written) => {
        if (sending.key === done.current.key) done.current.onSuccess?.(written)
      }),
    [],
  )
  const put = (errand: Errand, words: string, options?: Options) => {
    // What was typed instead takes the place of what was refused.
    if (mine?.state === 'refused') drop(mine.key)
    const sent = send(errand, { words: options?.words ?? words, owner, draft: options?.draft })
    done.current = { key: sent, onSuccess: options?.onSuccess }
    setKey(sent)
  }
  const again = (change: (errand: Errand) => Errand) => {
    if (key) sendAgain(key, change)
  }
  const problem = mine?.state === 'refused' ? mine.problem : undefined
  const error = useMemo(() => (problem ? new ProblemError(problem) : null), [problem])
  return {
    put,
    isPending: mine !== undefined && mine.state !== 'refused',
    isError: error !== null,
    error,
    reset: () => {
      if (mine?.state === 'refused') drop(mine.key)
    },
    again,
    keep: (at?: string) => again((e) => kept(e, at)),
    because: (reason: string) => again(because(reason)),
  }
}

/** Writes down what was done. What was asked about is answered by `keep`, and a stop by `because`: both repeat the very act
 * that was asked about, whatever was typed since. */
export function useRecord() {
  const errand = useErrand()
  return {
    ...errand,
    mutate: (ask: RecordAsk, options?: Options) => errand.put({ to: 'entries', ask }, actsInWords(ask.acts), options),
  }
}

/** Puts what really happened in the place of an entry. */
export function useCorrect() {
  const errand = useErrand()
  return {
    ...errand,
    mutate: (
      { entry, ...ask }: { entry: number; act: ActAsk; happened_at?: string; keep_as_typed?: boolean },
      options?: Options,
    ) => errand.put({ to: 'correction', entry, ask }, `put right: ${actsInWords([ask.act])}`, options),
  }
}

/** Takes one entry back, from its place in a history. */
export function useTakeBack() {
  const errand = useErrand()
  return {
    ...errand,
    /** Takes back with it what stands in the way. */
    withLater: () => errand.again((e) => (e.to === 'undo' ? { ...e, ask: { ...e.ask, with_later: true } } : e)),
    mutate: ({ id, with_later = false }: { id: number; with_later?: boolean }, options?: Options) =>
      errand.put({ to: 'undo', ask: { entries: [id], with_later } }, 'an undoing', options),
  }
}
