import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/hooks'
import { AmountField, Choice } from '../../kit/Fields'
import { Refused } from '../../kit/States'

/** Cuts a piece: each part keeps its share of the dose, its start, and its own thickness. */
export function CutForm({ card }: { card: Schemas['PieceCard'] }) {
  const record = useRecord()
  const [parts, setParts] = useState([{ reading: '', thickness: '' }, { reading: '', thickness: '' }])
  const set = (i: number, change: Partial<(typeof parts)[number]>) => setParts((list) => list.map((p, n) => (n === i ? { ...p, ...change } : p)))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const filled = parts.filter((p) => p.reading.trim() !== '')
  const send = (keep_as_typed = false) =>
    record.mutate({
      acts: [{ act: 'cut', piece: card.id, parts: filled.map((p) => ({ reading: p.reading, thickness: p.thickness || null })) }],
      seen: [{ piece: card.id, version: card.version }],
      keep_as_typed,
    })
  return (
    <details>
      <summary className="quiet">Cut it into parts</summary>
      <form className="mt-2 grid gap-1" aria-label="Cut into parts" onSubmit={(e) => { e.preventDefault(); send() }}>
        {card.cure && <p className="text-[0.95rem] text-soft">Each part keeps its share of the dose and the day it went in; its own thickness counts from now.</p>}
        {parts.map((p, i) => (
          <div key={i} className="grid grid-cols-2 gap-x-3">
            <AmountField quantity="mass" label={`Part ${i + 1} weighs`} value={p.reading} onChange={(reading) => set(i, { reading })} error={wrong(`parts[${i}].reading`)} />
            <AmountField quantity="length" label="Its thickest place" value={p.thickness} onChange={(thickness) => set(i, { thickness })} error={wrong(`parts[${i}].thickness`)} />
          </div>
        ))}
        {wrong('parts') && <p className="font-semibold text-stop">{wrong('parts')}</p>}
        <Refused error={record.error} onKeep={() => send(true)} />
        <div className="flex flex-wrap gap-2">
          <button type="submit" className="press press-main" disabled={record.isPending || filled.length < 2}>Make the cuts</button>
          <button type="button" className="press" onClick={() => setParts((list) => [...list, { reading: '', thickness: '' }])}>One more part</button>
        </div>
      </form>
    </details>
  )
}

/** Trims something off before the cure: what comes off is kept, the piece is lighter. */
export function TrimForm({ card }: { card: Schemas['PieceCard'] }) {
  const record = useRecord()
  const [kind, setKind] = useState<Schemas['Byproduct']>('trim')
  const [reading, setReading] = useState('')
  const send = () =>
    record.mutate(
      { acts: [{ act: 'byproduct_weighed', lot: card.lot, piece: card.id, kind, reading }], seen: [{ piece: card.id, version: card.version }] },
      { onSuccess: () => setReading('') },
    )
  return (
    <details>
      <summary className="quiet">Trim something off</summary>
      <form className="mt-2 grid gap-2" aria-label="Trim something off" onSubmit={(e) => { e.preventDefault(); send() }}>
        <Choice label="What comes off" value={kind} onChange={setKind} options={[{ value: 'trim', label: 'trim' }, { value: 'fat', label: 'fat' }, { value: 'bone', label: 'bone' }, { value: 'skin', label: 'skin' }]} />
        <AmountField quantity="mass" label="It weighs" value={reading} onChange={setReading} error={record.error ? problemOf(record.error).field('reading') : undefined} />
        <Refused error={record.error} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || reading.trim() === ''}>Write it down</button>
      </form>
    </details>
  )
}
