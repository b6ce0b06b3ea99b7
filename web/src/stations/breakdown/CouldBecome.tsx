import { isThere, NotYet } from '../../kit/Fetched'
import { Link } from '@tanstack/react-router'
import { useSuits } from '../../api/catalogue'
import { Fold } from '../../kit/Page'
import { toolWords } from '../words'

/** What a cut could become, before the knife goes in: best first, each with its reason. */
export function CouldBecome({ species, cut, name }: { species: string; cut: string; name: string }) {
  return (
    <Fold title={`What ${name} could become`}>
      <Could species={species} cut={cut} />
    </Fold>
  )
}

function Could({ species, cut }: { species: string; cut: string }) {
  const suits = useSuits(species, cut)
  if (!isThere(suits)) return <NotYet of={[suits]} what="what suits it" />
  const could = suits.data.filter((s) => s.score > 0 && !s.ending)
  if (could.length === 0) return <p className="text-soft">No cured product is made of it: fresh, stock or the grinder.</p>
  return (
    <ul className="divide-y divide-line">
      {could.map((s) => (
        <li key={s.build} className="py-1.5">
          <Link to="/library/$build" params={{ build: s.build }} className="font-semibold underline underline-offset-3">
            {s.name}
          </Link>
          {s.score === 2 && (
            <span className="ml-2 border border-violet px-1.5 text-[0.85rem] font-medium text-violet">classic</span>
          )}
          <span className="block text-[0.95rem] text-soft">
            {s.reasons[0]}
            {s.first.length > 0 && ` First: ${s.first.join(', ')}.`}
            {s.lacks.length > 0 && ` It takes ${s.lacks.map((t) => toolWords[t]).join(', ')}.`}
          </span>
        </li>
      ))}
    </ul>
  )
}
