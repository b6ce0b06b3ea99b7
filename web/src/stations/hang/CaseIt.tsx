import { useState } from 'react'
import type { PieceCard, Schemas } from '../../api/client'
import { usePantry } from '../../api/planning'
import { send } from '../../api/queue'
import { AmountField, Choice, Select, TextField } from '../../kit/Fields'
import { useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'

const CASING = 'casing'

const blank = {
  net: '',
  netTaken: '',
  string: '',
  stringTaken: '',
  casing: '',
  taken: '',
  back: '',
  diameter: '',
  girth: '',
  soaked: '',
  changes: '',
  tight: '',
  reading: '',
}

/** Casing and net: out of the pantry, soaked, flushed, let water through, on; the rest back into its salt. */
export function CaseIt({ piece, diameter }: { piece: PieceCard; diameter?: number | null }) {
  const format = useFormat()
  const kept = usePantry().data?.items ?? []
  const stock = kept.filter((s) => s.item.kind === 'casing' || s.item.kind === 'net')
  const [typed, setTyped] = useState(blank)
  const asked = useAsked(CASING, piece.id)
  const set = (change: Partial<typeof blank>) => setTyped((t) => ({ ...t, ...change }))
  const chosen = stock.find((s) => s.item.name === typed.casing)
  const width = typed.diameter || (chosen?.item.diameter_mm ? format.length(chosen.item.diameter_mm) : '')
  return (
    <form
      aria-label={`Case ${piece.tag}`}
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        const { casing, taken, back, girth, soaked, changes, tight, reading } = typed
        const also = [
          { name: typed.net, taken: typed.netTaken },
          { name: typed.string, taken: typed.stringTaken },
        ].filter((out) => (out.name + out.taken).trim() !== '')
        send(
          {
            to: 'entries',
            ask: {
              acts: [
                {
                  act: 'cased',
                  piece: piece.id,
                  casing,
                  taken: taken || null,
                  back: back || null,
                  diameter: width || null,
                  girth: girth || null,
                  soaked: soaked || null,
                  changes: changes || null,
                  tight: tight === '' ? null : tight === 'yes',
                  reading: reading || null,
                  also,
                },
              ],
            },
          },
          { words: `${piece.tag} into ${casing}`, owner: CASING, piece: piece.id, typed: [] },
        )
        setTyped(blank)
      }}
    >
      <AskedAbout list={asked.here ? [asked.here, ...asked.others] : asked.others} />
      <p className="text-soft">
        Two pairs of hands are better. Rinse and flush a natural casing, soak it 30 to 120 minutes with two or three changes of
        water, let water through it to find leaks.
        {diameter != null && <> Wanted: about {format.length(diameter)} across.</>}
      </p>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {stock.length > 0 ? (
          <Select label="Casing or net" value={typed.casing} onChange={(casing) => set({ casing })}>
            <option value="">choose</option>
            {stock.map((s) => (
              <option key={s.item.id} value={s.item.name}>
                {s.item.name}
                {s.item.diameter_mm ? `, ${format.length(s.item.diameter_mm)}` : ', of unknown width'} (
                {Math.round(s.left * 100) / 100} m left)
              </option>
            ))}
          </Select>
        ) : (
          <TextField
            label="Casing or net"
            value={typed.casing}
            onChange={(casing) => set({ casing })}
            hint="As the pantry calls it."
          />
        )}
        <AmountField quantity="mass" label="Its weight, wet" value={typed.reading} onChange={(reading) => set({ reading })} />
        <AmountField
          quantity="length"
          label="Taken out"
          value={typed.taken}
          onChange={(taken) => set({ taken })}
          hint="Such as 2.5 m."
        />
        <AmountField
          quantity="length"
          label="Back into its salt"
          value={typed.back}
          onChange={(back) => set({ back })}
          hint="What is left of it."
        />
        <AmountField quantity="length" label="Across, filled" value={width} onChange={(diameter) => set({ diameter })} />
        <AmountField
          quantity="length"
          label="Round the piece"
          value={typed.girth}
          onChange={(girth) => set({ girth })}
          hint="It should fit within a tenth."
        />
        <TextField label="Minutes in water" value={typed.soaked} onChange={(soaked) => set({ soaked })} inputMode="numeric" />
        <TextField label="Changes of water" value={typed.changes} onChange={(changes) => set({ changes })} inputMode="numeric" />
      </div>
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TakenOut
          what="Net over it"
          of={kept.filter((s) => s.item.kind === 'net')}
          name={typed.net}
          taken={typed.netTaken}
          onChange={(net, netTaken) => set({ net, netTaken })}
          wrong={(field) => asked.wrong(`also[0].${field}`)}
        />
        <TakenOut
          what="String"
          of={kept.filter((s) => s.item.kind === 'string')}
          name={typed.string}
          taken={typed.stringTaken}
          onChange={(string, stringTaken) => set({ string, stringTaken })}
          wrong={(field) => asked.wrong(`also[${typed.net + typed.netTaken === '' ? 0 : 1}].${field}`)}
        />
      </div>
      <Choice
        label="Held the water"
        value={typed.tight || undefined}
        options={[
          { value: 'yes', label: 'tight' },
          { value: 'no', label: 'leaks' },
        ]}
        onChange={(tight) => set({ tight })}
      />
      <button type="submit" className="press justify-self-start" disabled={typed.casing.trim() === ''}>
        Cased
      </button>
    </form>
  )
}

interface TakenOutProps {
  what: string
  of: Schemas['Standing'][]
  name: string
  taken: string
  onChange: (name: string, taken: string) => void
  wrong: (field: string) => string | undefined
}

/** What else of the pantry goes on, by the metre; nothing where none is kept. */
function TakenOut({ what, of, name, taken, onChange, wrong }: TakenOutProps) {
  if (of.length === 0) return null
  return (
    <>
      <Select label={what} value={name} onChange={(name) => onChange(name, name === '' ? '' : taken)} error={wrong('name')}>
        <option value="">none</option>
        {of.map((s) => (
          <option key={s.item.id} value={s.item.name}>
            {s.item.name} ({Math.round(s.left * 100) / 100} m left)
          </option>
        ))}
      </Select>
      <AmountField
        quantity="length"
        label={`How much ${what === 'String' ? 'string' : 'net'}`}
        value={taken}
        onChange={(taken) => onChange(name, taken)}
        error={wrong('taken')}
        hint="Such as 1.5 m."
      />
    </>
  )
}
