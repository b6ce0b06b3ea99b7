import { useMutation } from '@tanstack/react-query'
import { api, type Schemas, unwrap } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useListChange } from '../../api/planning'

export type Suggestion = Schemas['Suggestion']

/** Asks for the best plan, keeps it under a name, or carries it out. */
export function useSuggest(plan: Schemas['PlanView']) {
  const ask = useMutation({ mutationFn: async () => unwrap(await api.POST('/api/v1/plan/suggest')) })
  const keep = useListChange(async (kept: Schemas['KeptPlan']) =>
    unwrap(await api.POST('/api/v1/plan/keep', { body: { version: plan.plans_version, plan: kept } })),
  )
  return { ask, keep, found: ask.data }
}

/** Carries a plan out: each piece that is cut already is given its product; cuts follow once cut. */
export function useCarryOut(plan: Schemas['PlanView']) {
  const record = useRecord()
  const toDo = (choices: Record<string, string>) =>
    plan.supply
      .filter((s) => s.piece != null && choices[s.key] && choices[s.key] !== s.assigned)
      .map((s) => ({ act: 'assigned' as const, piece: s.piece!, build: choices[s.key]! }))
  return {
    record,
    toDo,
    carryOut: (choices: Record<string, string>) => record.mutate({ acts: toDo(choices) }),
  }
}

export const choicesOf = (found: Suggestion): Record<string, string> =>
  Object.fromEntries(found.choices.map((c) => [c.key, c.build]))
