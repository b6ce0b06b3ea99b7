import { useId, useState } from 'react'
import type { ActAsk, Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { doneWords, type Chip, type Row } from './words'

interface Props {
  row: Row
  /** With how many pieces at hand. */
  count: number
  onGrade: (acts: (chip: Chip) => ActAsk[], said: string) => void
}

/** Quick choices for what is looked at, felt or tasted; each says what it leads to before it is written down. */
export function Grades({ row, count, onGrade }: Props) {
  const checks = useCatalogue().data?.checks ?? []
  const asked = (row.asks ?? [])
    .flatMap((key) => checks.find((c) => c.key === key) ?? [])
    .filter((c) => (c.grades ?? []).length > 0)
  if (asked.length === 0) return null
  return (
    <div className="grid w-full gap-1.5">
      {asked.map((check) =>
        check.value ? (
          <Measured key={check.key} check={check} count={count} onGrade={onGrade} />
        ) : (
          <One key={check.key} check={check} row={row} count={count} onGrade={onGrade} />
        ),
      )}
    </div>
  )
}

/** What is measured and not graded. */
function Measured({ check, count, onGrade }: Omit<Props, 'row'> & { check: Schemas['Check'] }) {
  const [text, setText] = useState('')
  const id = useId()
  return (
    <form
      aria-label={check.name}
      className="flex flex-wrap items-center gap-1.5"
      onSubmit={(e) => {
        e.preventDefault()
        const value = text.trim()
        setText('')
        onGrade((c) => [{ act: 'checked', piece: c.piece, check: check.key, value }], `${check.name} ${value}:`)
      }}
    >
      <label htmlFor={id} className="min-w-24 text-[0.95rem] text-soft" title={check.words}>
        {check.name}
      </label>
      <input
        id={id}
        className="figures min-h-11 w-24 border-2 border-edge bg-table px-2"
        inputMode="decimal"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button type="submit" className="press" disabled={count === 0 || text.trim() === ''}>
        Write it down
      </button>
    </form>
  )
}

type Grade = Schemas['Grade']

function One({ check, row, count, onGrade }: Props & { check: Schemas['Check'] }) {
  const [chosen, setChosen] = useState<Grade>()
  // What the main button says already is not said twice.
  const isSaid = (g: Grade) => g.key === check.done_at && row.step !== 'test_slice' && row.step !== null && row.step! in doneWords
  const write = (grade: Grade) => {
    setChosen(undefined)
    onGrade((c) => [{ act: 'checked', piece: c.piece, check: check.key, grade: grade.key }], `${check.name} ${grade.name}:`)
  }
  const tap = (grade: Grade) => (grade.leads_to ? setChosen(chosen === grade ? undefined : grade) : write(grade))
  return (
    <div role="group" aria-label={check.name} className="grid gap-1">
      <p className="flex flex-wrap items-center gap-1.5">
        <span className="min-w-24 text-[0.95rem] text-soft" title={check.words}>
          {check.name}
        </span>
        {(check.grades ?? [])
          .filter((g) => !isSaid(g))
          .map((g) => (
            <button
              key={g.key}
              type="button"
              disabled={count === 0}
              aria-pressed={chosen === g}
              className={`min-h-11 border-2 px-2.5 font-semibold disabled:text-soft ${
                g.key === 'discard' ? 'border-stop text-stop' : 'border-edge'
              } ${chosen === g ? 'bg-violet-wash' : 'bg-table'}`}
              onClick={() => tap(g)}
            >
              {g.name}
            </button>
          ))}
      </p>
      {chosen && (
        <p className="flex flex-wrap items-center gap-x-3 gap-y-1 border-l-8 border-caution bg-caution-wash px-3 py-1">
          <span className="grow">
            <strong>{chosen.name}:</strong> {chosen.leads_to}
          </span>
          <button type="button" className="press" onClick={() => write(chosen)}>
            {count > 1 ? `All ${count} are ${chosen.name}` : 'Write it down'}
          </button>
        </p>
      )}
    </div>
  )
}
