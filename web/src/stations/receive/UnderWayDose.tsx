import { X } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { AmountField, Select, TextField } from '../../kit/Fields'

export interface WeighedLine {
  name: string
  reading: string
}

interface Props {
  cures: Schemas['Cure'][]
  cure: string
  onCure: (cure: string) => void
  lines: WeighedLine[]
  onLines: (lines: WeighedLine[]) => void
  wrong: (field: string) => string | undefined
}

/** What was weighed for a cure that runs already; closed while nobody knows it. */
export function UnderWayDose({ cures, cure, onCure, lines, onLines, wrong }: Props) {
  const set = (i: number, change: Partial<WeighedLine>) => onLines(lines.map((l, n) => (n === i ? { ...l, ...change } : l)))
  const named = cures.find((c) => c.key === cure)?.name ?? 'curing salt'
  if (lines.length === 0) {
    return (
      <button
        type="button"
        className="quiet justify-self-start"
        onClick={() =>
          onLines([
            { name: named, reading: '' },
            { name: 'salt', reading: '' },
          ])
        }
      >
        The dose is known
      </button>
    )
  }
  const choose = (key: string) => {
    const next = cures.find((c) => c.key === key)?.name ?? named
    onCure(key)
    onLines(lines.map((l) => (l.name === named ? { ...l, name: next } : l)))
  }
  return (
    <fieldset className="border border-line p-2">
      <legend className="px-1 font-semibold">What was weighed for its cure</legend>
      <Select label="Curing salt" value={cure} onChange={choose} error={wrong('weighed.cure')}>
        {cures.map((c) => (
          <option key={c.key} value={c.key}>
            {c.name}
          </option>
        ))}
      </Select>
      {lines.map((line, i) => (
        <div key={i} className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
          <TextField
            label={`Ingredient ${i + 1}`}
            value={line.name}
            onChange={(name) => set(i, { name })}
            error={wrong(`weighed.lines[${i}].name`)}
          />
          <AmountField
            quantity="mass"
            label={`Weight ${i + 1}`}
            value={line.reading}
            onChange={(reading) => set(i, { reading })}
            error={wrong(`weighed.lines[${i}].reading`)}
          />
          <button
            type="button"
            className="mt-7 inline-flex size-11 items-center justify-center text-violet"
            aria-label={`Take ${line.name || 'it'} away`}
            onClick={() => onLines(lines.filter((_, n) => n !== i))}
          >
            <X aria-hidden />
          </button>
        </div>
      ))}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="quiet" onClick={() => onLines([...lines, { name: '', reading: '' }])}>
          Another ingredient
        </button>
        <button type="button" className="quiet" onClick={() => onLines([])}>
          Nobody knows it
        </button>
      </div>
    </fieldset>
  )
}
