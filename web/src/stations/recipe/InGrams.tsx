import { useNavigate } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import type { PieceCard } from '../../api/client'
import type { RecipeAnswer } from '../../api/recipe'
import { AsText } from '../../kit/AsText'
import { putBack, useDraft } from '../../kit/drafts'
import { useFormat } from '../../units'
import { blank, formOf, TABLE } from '../cure/draft'
import { grams } from './ReadLines'

interface Props {
  answer: RecipeAnswer
  /** The pieces it is for, where they wait for their dose. */
  pieces: PieceCard[]
  stale: boolean
}

/** The same in grams, for these pieces: to weigh out, to print, to start. */
export function InGrams({ answer, pieces, stale }: Props) {
  const format = useFormat()
  const { rewritten, rewritten_for_g: meat } = answer
  const tags = pieces.map((p) => p.tag).join(', ')
  const named = tags !== '' ? tags : meat != null ? format.mass(meat) : undefined
  return (
    <section aria-label="In grams" className="table-top grid gap-3 p-4">
      <h2>
        In grams{named && <> for {named}</>}
        {tags !== '' && meat != null && <span className="figures font-normal text-soft"> {format.mass(meat)}</span>}
      </h2>
      {rewritten.length === 0 ? (
        <p className="text-soft">Nothing of it has a weight yet.</p>
      ) : (
        <ul className={`divide-y divide-line border-y border-line ${stale ? 'opacity-60' : ''}`}>
          {rewritten.map((r) => (
            <li key={r.role + r.name} className="flex items-baseline justify-between gap-3 py-1.5">
              <span className="font-semibold">{r.role === 'curing_salt' || r.role === 'salt' ? r.ingredient : r.name}</span>
              <span className="figures text-2xl font-semibold">
                {grams(r.mass_g)}
                <span className="text-base font-normal"> g</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      {meat == null && rewritten.length > 0 && (
        <p className="text-soft">As the recipe has it: for how much meat that is, nobody said.</p>
      )}
      <Start answer={answer} pieces={pieces} stale={stale} />
      <button type="button" className="press no-print justify-self-start" onClick={() => window.print()}>
        <Printer size={18} aria-hidden /> Print it
      </button>
      <AsText text={answer.printed} file="recipe-in-grams.txt" />
    </section>
  )
}

/** On to the weigh-out, with the recipe's numbers in the place of the product's. */
function Start({ answer, pieces, stale }: Props) {
  const navigate = useNavigate()
  const typed = useDraft(formOf(pieces), blank, () => '')
  const { start } = answer
  const stops = answer.findings.some((f) => f.severity === 'stop')
  if (!start)
    return (
      <p className="text-soft">
        It cannot be started as it stands: {whyNot(answer)} Settle that, and the way to the scale is here.
      </p>
    )
  const [piece] = pieces
  const tags = pieces.map((p) => p.tag).join(', ')
  if (!piece) return <p className="text-soft">Choose a piece above that waits for its dose, and it can be started.</p>
  const go = () => {
    const isNamed = typeof start.cure === 'string'
    putBack(
      formOf(pieces),
      {
        ...blank,
        way: start.way,
        own: {
          cure: isNamed ? start.cure : '',
          made: isNamed ? undefined : start.cure,
          numbers: start.numbers,
          rows: start.additions.map((a) => ({ name: a.name, amount: a.amount, out: false, added: true })),
        },
      },
      `the dose of ${tags}`,
    )
    putBack(
      TABLE,
      pieces.map((p) => p.id),
      '',
    )
    void navigate({ to: '/cure', search: { piece: piece.id } })
  }
  return (
    <div className="no-print grid gap-1.5">
      {stops && (
        <p className="font-semibold text-stop">
          A stop stands against it: the weigh-out will say what lifts it, if anything does.
        </p>
      )}
      {start.left_out && start.left_out.length > 0 && (
        <p className="text-soft">Not in it, since it has no weight: {start.left_out.join(', ')}.</p>
      )}
      {typed.isTyped && <p className="text-caution">What was typed for {tags} at Cure is replaced.</p>}
      <button type="button" className="press press-main bench" disabled={stale} onClick={go}>
        Weigh it out for {tags}
      </button>
    </div>
  )
}

function whyNot(answer: RecipeAnswer): string {
  const has = (code: string) => answer.assumptions.some((a) => a.code === code) || answer.findings.some((f) => f.code === code)
  if (answer.method === 'unknown') return 'it names neither salt nor a cure.'
  if (has('two_cures')) return 'it has two curing salts.'
  if (has('celery_unknown')) return 'how much nitrite celery powder brings is not known.'
  if (has('cure_not_weighed') || has('identity_unclear')) return 'its curing salt is no dose yet.'
  if (has('pure_nitrite') || has('potassium_nitrate')) return 'a pure nitrite or nitrate is dosed by nobody here.'
  if (answer.meat_g == null) return 'for how much meat it is, is not known.'
  return 'something of it has no weight.'
}
