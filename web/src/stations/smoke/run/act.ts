import { useState } from 'react'
import { problemOf, type Schemas } from '../../../api/client'
import { type Run, type RunAct, useRunActs } from '../../../api/runs'

/** One form's write into a run: what was refused or asked about it, and the way to keep it. */
export function useDoing(run: Run) {
  const write = useRunActs(run.id)
  const [last, setLast] = useState<{ body: Schemas['RunActsAsk']; done?: () => void }>()
  const send = (body: Schemas['RunActsAsk'], done?: () => void) => {
    setLast({ body, done })
    write.mutate(body, { onSuccess: done })
  }
  return {
    busy: write.isPending,
    error: write.error,
    wrong: (field: string) => (write.error ? problemOf(write.error).field(`acts[0].${field}`) : undefined),
    when: write.error ? problemOf(write.error).field('happened_at') : undefined,
    reset: write.reset,
    act: (acts: RunAct[], done?: () => void, happened_at?: string) => send({ acts, happened_at: happened_at || null }, done),
    keep: (at?: string) => last && send({ ...last.body, ...(at ? { happened_at: at } : { keep_as_typed: true }) }, last.done),
    because: (reason: string) => last && send({ ...last.body, reason, keep_as_typed: true }, last.done),
  }
}

export type Doing = ReturnType<typeof useDoing>
