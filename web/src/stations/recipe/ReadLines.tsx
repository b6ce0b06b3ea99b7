import words from '../../api/words.json'
import { Check, CircleHelp, PencilLine } from 'lucide-react'
import type { Assumption, RecipeAnswer, Settled } from '../../api/recipe'
import type { Schemas } from '../../api/client'
import { Settle } from './Settle'

type ReadLine = Schemas['RecipeLine']

const marks = {
  yes: { Icon: Check, word: 'Understood', ink: 'text-good', edge: 'border-good' },
  assumed: { Icon: PencilLine, word: 'With an assumption', ink: 'text-violet', edge: 'border-violet' },
  no: { Icon: CircleHelp, word: 'Not understood', ink: 'text-caution', edge: 'border-caution' },
} as const

const kinds: Record<ReadLine['kind'], string> = words.RecipeLineKind.label

/** Grams as a scale would show them; small doses with more digits. */
export const grams = (g: number) => {
  const places = g < 10 ? 2 : g < 200 ? 1 : 0
  const text = g.toFixed(places)
  const short = text.includes('.') ? text.replace(/\.?0+$/, '') : text
  return g >= 10_000 ? Number(short).toLocaleString('en') : short
}

/** Every line of the text, in its own words, with what it was read as beside it. */
export function ReadLines({ answer, onSettle }: { answer: RecipeAnswer; onSettle: (settled: Settled) => void }) {
  const rows: { text: string; lines: { line: ReadLine; at: number }[] }[] = []
  answer.lines.forEach((line, at) => {
    const last = rows.at(-1)
    if (last && last.lines[0]!.line.source === line.source) last.lines.push({ line, at })
    else rows.push({ text: line.text, lines: [{ line, at }] })
  })
  return (
    <ol className="table-top divide-y divide-line" aria-label="The recipe, line by line">
      {rows.map((row, i) => (
        <li
          key={i}
          className="grid gap-x-4 gap-y-1 px-3 py-2 sm:grid-cols-[minmax(0,5fr)_minmax(0,6fr)] print:break-inside-avoid"
        >
          <p className="[overflow-wrap:anywhere] whitespace-pre-wrap text-soft">{row.text.trim()}</p>
          <div className="grid gap-2">
            {row.lines.map(({ line, at }) => (
              <Reading
                key={at}
                line={line}
                assumptions={answer.assumptions.filter((a) => a.line === at)}
                dangers={answer.findings.filter((f) => f.line === at && f.severity !== 'info').length}
                onSettle={onSettle}
              />
            ))}
          </div>
        </li>
      ))}
    </ol>
  )
}

interface ReadingProps {
  line: ReadLine
  assumptions: Assumption[]
  dangers: number
  onSettle: (settled: Settled) => void
}

function Reading({ line, assumptions, dangers, onSettle }: ReadingProps) {
  const { Icon, word, ink, edge } = marks[line.understood]
  const mass = line.mass_g
  const low = line.mass_g_low ?? mass
  const high = line.mass_g_high ?? mass
  const isBand = mass != null && low != null && high != null && high - low > mass * 0.004
  // What an assumption says stands beside its control; the note keeps the rest.
  const rest = assumptions.reduce((note, a) => note.replace(a.message, ''), line.note ?? '').trim()
  const quiet = line.kind === 'instruction' || line.kind === 'heading'
  return (
    <div className={`border-l-4 pl-2.5 ${quiet ? 'border-line' : edge}`}>
      <p className="flex items-start gap-2">
        <Icon size={18} className={`mt-1 shrink-0 ${quiet ? 'text-soft' : ink}`} aria-label={word} role="img" />
        <span className={quiet ? 'text-soft' : ''}>
          {mass != null && <strong className="figures text-lg">{grams(mass)} g</strong>}{' '}
          <span className={mass != null || line.kind === 'ingredient' ? 'font-semibold' : ''}>
            {line.ingredient && line.kind !== 'meat' && line.kind !== 'water' ? line.ingredient : kinds[line.kind]}
          </span>
          {isBand && (
            <span className="figures text-[0.92rem] text-soft">
              {' '}
              from {grams(low)} to {grams(high)} g
            </span>
          )}
          {mass == null && line.kind === 'ingredient' && <span className="text-soft"> no weight</span>}
          {dangers > 0 && <span className="ml-2 font-semibold text-stop">warned of</span>}
        </span>
      </p>
      {line.readings && line.readings.length > 1 && (
        <p className="figures pl-6 text-[0.95rem]">
          {line.readings.map((r, i) => (
            <span key={i} className={i > 0 ? 'ml-3' : ''}>
              {r.said} = <strong>{r.mass_g != null ? `${grams(r.mass_g)} g` : 'unknown'}</strong>
            </span>
          ))}
        </p>
      )}
      {rest !== '' && <p className="pl-6 text-[0.92rem] text-soft">{rest}</p>}
      {assumptions.map((a) => (
        <div key={a.code} className="grid gap-1 pl-6">
          <p className="text-[0.95rem]">{a.message}</p>
          <div className="no-print">
            <Settle assumption={a} of={{ text: line.text, ingredient: line.ingredient }} onSettle={onSettle} />
          </div>
        </div>
      ))}
    </div>
  )
}
