import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { AmountField, Select, TextField, Tick } from '../../kit/Fields'
import { freshStage, type StageDraft, stageKinds } from './stages'

interface Props {
  stages: StageDraft[]
  onChange: (stages: StageDraft[]) => void
  /** So many have begun and stay where they are. */
  fixed?: number
  wrong?: (field: string) => string | undefined
}

/** The stages of a run, each with its heat and its end; put in another order, taken out, added. */
export function StagesEditor({ stages, onChange, fixed = 0, wrong = () => undefined }: Props) {
  const set = (i: number, change: Partial<StageDraft>) => onChange(stages.map((s, n) => (n === i ? { ...s, ...change } : s)))
  const swap = (i: number, j: number) => {
    const next = [...stages]
    const [a, b] = [next[i], next[j]]
    if (!a || !b) return
    next[i] = b
    next[j] = a
    onChange(next)
  }
  return (
    <div className="grid gap-2">
      <ol className="grid gap-2">
        {stages.map((s, i) => {
          const at = (name: string) => `stage ${i + 1}: ${name}`
          return (
            <li key={i} className="border border-line bg-steel p-2">
              <div className="mb-1 flex flex-wrap items-center justify-between gap-1">
                <p className="font-semibold">
                  <span className="figures">{i + 1}.</span> {s.name}
                  {i < fixed && <span className="ml-2 font-normal text-soft">began</span>}
                </p>
                <p className="flex">
                  <button
                    type="button"
                    className="inline-flex size-11 items-center justify-center disabled:opacity-40"
                    aria-label={`${at('earlier')}`}
                    disabled={i === 0 || i <= fixed}
                    onClick={() => swap(i, i - 1)}
                  >
                    <ArrowUp size={18} aria-hidden />
                  </button>
                  <button
                    type="button"
                    className="inline-flex size-11 items-center justify-center disabled:opacity-40"
                    aria-label={at('later')}
                    disabled={i < fixed || i === stages.length - 1}
                    onClick={() => swap(i, i + 1)}
                  >
                    <ArrowDown size={18} aria-hidden />
                  </button>
                  <button
                    type="button"
                    className="inline-flex size-11 items-center justify-center disabled:opacity-40"
                    aria-label={at('take out')}
                    disabled={i < fixed || stages.length === 1}
                    onClick={() => onChange(stages.filter((_, n) => n !== i))}
                  >
                    <X size={18} aria-hidden />
                  </button>
                </p>
              </div>
              <div className="grid gap-x-3 sm:grid-cols-2 lg:grid-cols-4">
                <Select
                  label="Kind"
                  value={s.kind}
                  onChange={(kind) => {
                    const fresh = freshStage(kind as Schemas['RunStageKind'])
                    set(i, { kind: fresh.kind, name: fresh.name, smoke: fresh.smoke })
                  }}
                >
                  {stageKinds.map((k) => (
                    <option key={k.value} value={k.value}>
                      {k.label}
                    </option>
                  ))}
                </Select>
                <AmountField
                  label="Set to"
                  quantity="temperature"
                  value={s.set}
                  onChange={(v) => set(i, { set: v })}
                  error={wrong(`stages[${i}].set`)}
                />
                <Select label="Ends" value={s.ends} onChange={(v) => set(i, { ends: v as StageDraft['ends'] })}>
                  <option value="hours">after a time</option>
                  <option value="inside">at an inside</option>
                  <option value="marks">when each is at its mark</option>
                </Select>
                {s.ends === 'hours' && (
                  <TextField
                    label="Hours"
                    value={s.hours}
                    onChange={(v) => set(i, { hours: v })}
                    error={wrong(`stages[${i}].hours`)}
                    hint="2, or 90 min"
                  />
                )}
                {s.ends === 'inside' && (
                  <AmountField
                    label="Inside"
                    quantity="temperature"
                    value={s.inside}
                    onChange={(v) => set(i, { inside: v })}
                    error={wrong(`stages[${i}].inside`)}
                  />
                )}
              </div>
              <div className="grid items-end gap-x-3 sm:grid-cols-[auto_1fr]">
                <Tick label="with smoke" checked={s.smoke} onChange={(smoke) => set(i, { smoke })} />
                <TextField label="Damper" value={s.damper} onChange={(damper) => set(i, { damper })} />
              </div>
            </li>
          )
        })}
      </ol>
      <button type="button" className="press justify-self-start" onClick={() => onChange([...stages, freshStage('smoke')])}>
        <Plus size={18} aria-hidden /> One more stage
      </button>
    </div>
  )
}
