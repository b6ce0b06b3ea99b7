import words from '../api/words.json'
import { CircleCheck, Flame, OctagonX } from 'lucide-react'
import type { Schemas } from '../api/client'
import { useFormat } from '../units'

type Verdict = Schemas['VerdictView']

/** How each word looks: an icon, words and a frame, so that colour alone never says it. */
const looks = {
  ready_to_eat: { Icon: CircleCheck, frame: 'border-good bg-good-wash', ink: 'text-good' },
  cook_before_eating: { Icon: Flame, frame: 'border-caution bg-caution-wash', ink: 'text-caution' },
  do_not_eat: { Icon: OctagonX, frame: 'border-stop bg-stop-wash', ink: 'text-stop' },
} satisfies Record<Schemas['Verdict'], unknown>

const howWords: Record<Schemas['How'], string> = words.How.label

/** The word in plain text, as a list or a form says it. */
export function useVerdictWords() {
  const format = useFormat()
  return ({ word, how, target_c }: Pick<Verdict, 'word' | 'how'> & { target_c?: number | null }) => {
    switch (word) {
      case 'ready_to_eat':
        return how ? `Ready to eat, ${howWords[how]}` : 'Ready to eat'
      case 'cook_before_eating':
        return target_c == null ? 'Cook before eating' : `Cook before eating, to ${format.heat(target_c)}`
      case 'do_not_eat':
        return 'DO NOT EAT'
    }
  }
}

/** What may be said of a piece or a pack, in one line. */
export function VerdictWord({ verdict }: { verdict: Verdict }) {
  const words = useVerdictWords()
  const { Icon, frame, ink } = looks[verdict.word]
  return (
    <p className={`flex items-center gap-1.5 border px-2 py-0.5 font-semibold ${frame} ${ink}`}>
      <Icon size={18} className="shrink-0" aria-hidden />
      {words(verdict)}
    </p>
  )
}

/** The word with every reason, the fact it rests on and what would change it. */
export function VerdictReasons({ verdict }: { verdict: Verdict }) {
  const words = useVerdictWords()
  const { Icon, frame, ink } = looks[verdict.word]
  return (
    <div className={`border-l-8 px-3 py-2 ${frame}`}>
      <p className={`flex items-center gap-1.5 text-lg font-bold ${ink}`}>
        <Icon size={21} className="shrink-0" aria-hidden />
        {words(verdict)}
      </p>
      <ul className="mt-1 grid gap-1">
        {verdict.reasons.map((r) => (
          <li key={r.code + r.message}>
            {r.entry ? (
              <a className="underline decoration-dotted underline-offset-3" href={`#entry-${r.entry}`}>
                {r.message}
              </a>
            ) : (
              r.message
            )}
            {r.change && <span className="block text-[0.95rem] text-soft">{r.change}</span>}
          </li>
        ))}
      </ul>
    </div>
  )
}
