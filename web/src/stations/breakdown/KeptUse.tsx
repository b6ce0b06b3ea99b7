import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { AmountField, Choice, Select, TextField } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { byproductWords } from '../words'

type Kind = Schemas['Byproduct']
type Used = Schemas['UsedFor']

const uses: { value: Used; label: string }[] = [
  { value: 'rendered', label: 'rendered' },
  { value: 'cooked', label: 'cooked' },
  { value: 'given_away', label: 'given away' },
  { value: 'thrown_away', label: 'thrown away' },
]

/** What is rendered for its fat. */
const RENDERED: Kind[] = ['fat', 'skin']

/** What became of trim, fat, bones and skin that were kept. */
export function KeptUse({ lot }: { lot: Schemas['LotView'] }) {
  const kept = lot.byproducts.filter((b) => b.mass_g > 0)
  const record = useRecord()
  const format = useFormat()
  const blank = { kind: '' as Kind | '', reading: '', used: undefined as Used | undefined, gave: '', note: '' }
  const [typed, setTyped] = useState(blank)
  const set = (change: Partial<typeof typed>) => setTyped((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const chosen = kept.find((b) => b.kind === typed.kind) ?? kept[0]
  if (!chosen) return null
  const isRendered = RENDERED.includes(chosen.kind)
  const used = typed.used === 'rendered' && !isRendered ? undefined : typed.used
  return (
    <details className="table-top p-3">
      <summary className="quiet">
        Kept beside the pieces: {kept.map((b) => `${byproductWords[b.kind]} ${format.mass(b.mass_g)}`).join(', ')}
      </summary>
      <form
        aria-label="What became of it"
        className="mt-2 grid gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (!used) return
          record.mutate(
            {
              acts: [
                {
                  act: 'byproduct_used',
                  lot: lot.card.id,
                  kind: chosen.kind,
                  reading: typed.reading || `${chosen.mass_g} g`,
                  used,
                  gave: used === 'rendered' ? typed.gave || null : null,
                  note: typed.note || null,
                },
              ],
            },
            { onSuccess: () => setTyped(blank) },
          )
        }}
      >
        <div className="grid gap-x-4 sm:grid-cols-2">
          <Select label="What" value={chosen.kind} onChange={(kind) => set({ kind: kind as Kind })}>
            {kept.map((b) => (
              <option key={b.kind} value={b.kind}>
                {byproductWords[b.kind]}, {format.mass(b.mass_g)}
              </option>
            ))}
          </Select>
          <AmountField
            quantity="mass"
            label="How much of it"
            value={typed.reading}
            onChange={(reading) => set({ reading })}
            error={wrong('reading')}
            hint="Empty: all of it."
          />
        </div>
        <Choice
          label="What became of it"
          value={used}
          options={uses.filter((u) => isRendered || u.value !== 'rendered')}
          onChange={(used) => set({ used })}
          error={wrong('used')}
        />
        <div className="grid gap-x-4 sm:grid-cols-2">
          {used === 'rendered' && (
            <AmountField
              quantity="mass"
              label="The fat that it gave"
              value={typed.gave}
              onChange={(gave) => set({ gave })}
              error={wrong('gave')}
            />
          )}
          <TextField
            label="In words"
            value={typed.note}
            onChange={(note) => set({ note })}
            hint="Who has it, what it went into."
          />
        </div>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || !used}>
          Write it down
        </button>
      </form>
    </details>
  )
}
