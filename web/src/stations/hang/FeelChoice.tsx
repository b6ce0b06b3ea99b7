import { useState } from 'react'
import { useCatalogue } from '../../api/catalogue'
import type { Hook } from '../../api/hang'
import { send } from '../../api/queue'
import { AT_HOOK } from './HookPanel'

/** How it feels: one touch, written down with it; what it leads to is said first where it leads to something. */
export function FeelChoice({ hook }: { hook: Hook }) {
  const grades = useCatalogue().data?.checks.find((c) => c.key === 'feel')?.grades ?? []
  const [said, setSaid] = useState<string>()
  const write = (grade: string) => {
    setSaid(grade)
    send(
      { to: 'entries', ask: { acts: [{ act: 'checked', piece: hook.id, check: 'feel', grade }] } },
      { words: `${hook.tag} feels ${grade}`, owner: AT_HOOK, piece: hook.id, typed: [] },
    )
  }
  const leads = grades.find((g) => g.key === said)?.leads_to
  return (
    <div role="group" aria-label={`How ${hook.tag} feels`}>
      <p className="mb-1 font-semibold">It feels</p>
      <div className="flex flex-wrap gap-1.5">
        {grades.map((g) => (
          <button key={g.key} type="button" className="press" onClick={() => write(g.key)}>
            {g.name}
          </button>
        ))}
      </div>
      {leads && (
        <p role="status" className="mt-1 text-soft">
          {leads}
        </p>
      )}
    </div>
  )
}
