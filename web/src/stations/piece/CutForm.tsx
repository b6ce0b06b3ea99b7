import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { useLot } from '../../api/lots'
import { useDraft } from '../../kit/drafts'
import { AmountField, Choice, Select, Tick } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'
import { workWords } from '../words'

type Card = Schemas['PieceCard']

const WAYS: { value: Schemas['CutWay']; label: string }[] = [
  { value: 'split', label: 'into slabs' },
  { value: 'ends', label: 'big end from small' },
  { value: 'seam', label: 'along the seams' },
]

const noPart = { reading: '', thickness: '', cut: '', fatSide: false }
const noWork = { off: '', reading: '', thickness: '', fat_cover: '' }

/** Cuts a piece: each part keeps its share of the dose, its start, and its own thickness. */
export function CutForm({ card }: { card: Card }) {
  const record = useRecord()
  const species = useCatalogue().data?.species.find((s) => s.key === card.species)
  const draft = useDraft(
    `cut.${card.id}`,
    { way: 'split' as Schemas['CutWay'], parts: [noPart, noPart] },
    (t) => `${card.tag} cut: ${t.parts.map((p) => p.reading).join(', ')}`,
  )
  const { way, parts } = draft.value
  const set = (i: number, change: Partial<typeof noPart>) =>
    draft.set((t) => ({ ...t, parts: t.parts.map((p, n) => (n === i ? { ...p, ...change } : p)) }))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const filled = parts.filter((p) => p.reading.trim() !== '')
  const cuts = species?.cut.filter((c) => c.of?.includes(card.cut)) ?? []
  const send = () =>
    record.mutate(
      {
        acts: [
          {
            act: 'cut',
            piece: card.id,
            way,
            parts: filled.map((p) => ({
              reading: p.reading,
              thickness: p.thickness || null,
              cut: (way === 'seam' && p.cut) || null,
              fat_cap: card.fat_cap && filled.some((f) => f.fatSide) ? p.fatSide : null,
            })),
          },
        ],
        seen: [{ piece: card.id, version: card.version }],
      },
      { draft: draft.asUsed },
    )
  return (
    <details open={draft.isTyped || undefined}>
      <summary className="quiet">Cut it into parts</summary>
      <form
        className="mt-2 grid gap-1"
        aria-label="Cut into parts"
        onSubmit={(e) => {
          e.preventDefault()
          send()
        }}
      >
        {card.cure && (
          <p className="text-[0.95rem] text-soft">
            Each part keeps its share of the dose and the day it went in; its own thickness counts from now.
          </p>
        )}
        {!card.cure && (
          <Choice
            label="How"
            value={way}
            onChange={(way) => draft.set((t) => ({ ...t, way }))}
            options={WAYS.filter((w) => w.value !== 'seam' || cuts.length > 0)}
          />
        )}
        {parts.map((p, i) => (
          <div key={i} className="grid grid-cols-2 gap-x-3">
            <AmountField
              quantity="mass"
              label={way === 'ends' && i < 2 ? ['Big end weighs', 'Small end weighs'][i]! : `Part ${i + 1} weighs`}
              value={p.reading}
              onChange={(reading) => set(i, { reading })}
              error={wrong(`parts[${i}].reading`)}
            />
            <AmountField
              quantity="length"
              label="Its thickest place"
              value={p.thickness}
              onChange={(thickness) => set(i, { thickness })}
              error={wrong(`parts[${i}].thickness`)}
            />
            {card.fat_cap && (
              <Tick
                label={`Part ${i + 1} keeps the fat side`}
                checked={p.fatSide ?? false}
                onChange={(fatSide) => set(i, { fatSide })}
              />
            )}
            {way === 'seam' && (
              <div className="col-span-2">
                <Select
                  label={`Part ${i + 1} is`}
                  value={p.cut}
                  onChange={(cut) => set(i, { cut })}
                  error={wrong(`parts[${i}].cut`)}
                >
                  <option value="">still {card.cut_name}</option>
                  {cuts.map((c) => (
                    <option key={c.key} value={c.key}>
                      {c.name}
                    </option>
                  ))}
                </Select>
              </div>
            )}
          </div>
        ))}
        {wrong('parts') && <p className="font-semibold text-stop">{wrong('parts')}</p>}
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} />
        <div className="flex flex-wrap gap-2">
          <button type="submit" className="press press-main" disabled={record.isPending || filled.length < 2}>
            Make the cuts
          </button>
          <button type="button" className="press" onClick={() => draft.set((t) => ({ ...t, parts: [...t.parts, noPart] }))}>
            One more part
          </button>
        </div>
      </form>
    </details>
  )
}

/** Skin, bone, trim, open flat, square off: the piece stays one, what comes off is kept. */
export function WorkForm({ card }: { card: Card }) {
  const record = useRecord()
  const works = (['skin', 'bone_out', 'trim', 'open_flat', 'square_off'] as const).filter(
    (w) => (w !== 'skin' || card.skin_on) && (w !== 'bone_out' || card.bone_in),
  )
  const [work, setWork] = useState<Schemas['Work']>(works[0]!)
  const [kind, setKind] = useState<Schemas['Byproduct']>()
  const draft = useDraft(
    `worked.${card.id}`,
    noWork,
    (t) => `${card.tag} knife work: ${[t.off, t.reading].filter(Boolean).join(', ')}`,
  )
  const typed = draft.value
  const set = (change: Partial<typeof typed>) => draft.set((t) => ({ ...t, ...change }))
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  // What was done once (its skin is off) is no longer there to be chosen.
  const here = works.includes(work) ? work : works[0]!
  const gives: Schemas['Byproduct'] = kind ?? (here === 'skin' ? 'skin' : here === 'bone_out' ? 'bone' : 'trim')
  const send = () =>
    record.mutate(
      {
        acts: [
          {
            act: 'worked',
            piece: card.id,
            work: here,
            off: typed.off.trim() ? [{ kind: gives, reading: typed.off }] : [],
            reading: typed.reading || null,
            thickness: typed.thickness || null,
            fat_cover: typed.fat_cover || null,
          },
        ],
        seen: [{ piece: card.id, version: card.version }],
      },
      {
        draft: draft.asUsed,
        onSuccess: () => {
          setKind(undefined)
        },
      },
    )
  const nothing = Object.values(typed).every((v) => v.trim() === '')
  return (
    <details open={draft.isTyped || undefined}>
      <summary className="quiet">Knife work: skin, bone, trim, open flat</summary>
      <form
        className="mt-2 grid gap-2"
        aria-label="Knife work"
        onSubmit={(e) => {
          e.preventDefault()
          send()
        }}
      >
        <Choice
          label="What was done"
          value={here}
          onChange={(w) => {
            setWork(w)
            setKind(undefined)
          }}
          options={works.map((w) => ({ value: w, label: workWords[w] }))}
          error={wrong('work')}
        />
        <Choice
          label="What came off"
          value={gives}
          onChange={setKind}
          options={[
            { value: 'trim', label: 'trim' },
            { value: 'fat', label: 'fat' },
            { value: 'bone', label: 'bone' },
            { value: 'skin', label: 'skin' },
          ]}
        />
        <div className="grid grid-cols-2 gap-x-3">
          <AmountField
            quantity="mass"
            label="What came off weighs"
            value={typed.off}
            onChange={(off) => set({ off })}
            error={wrong('off[0].reading') ?? wrong('off')}
          />
          <AmountField
            quantity="mass"
            label="The piece weighs now"
            value={typed.reading}
            onChange={(reading) => set({ reading })}
            error={wrong('reading')}
            hint="If you weigh it again."
          />
          <AmountField
            quantity="length"
            label="Its thickest place now"
            value={typed.thickness}
            onChange={(thickness) => set({ thickness })}
            error={wrong('thickness')}
            hint={here === 'open_flat' ? 'Its days follow from this.' : 'If it changed.'}
          />
          {(here === 'trim' || here === 'square_off') && (
            <AmountField
              quantity="length"
              label="Fat cover left on it"
              value={typed.fat_cover}
              onChange={(fat_cover) => set({ fat_cover })}
              error={wrong('fat_cover')}
              hint="0 for none."
            />
          )}
        </div>
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press press-main justify-self-start" disabled={record.isPending || nothing}>
          {workWords[here]}
        </button>
      </form>
    </details>
  )
}

/** Two breasts folded into one, or several pieces bound together. */
export function JoinForm({ card }: { card: Card }) {
  return (
    <Fold title="Pair or bind it with another">
      <JoinWith card={card} />
    </Fold>
  )
}

function JoinWith({ card }: { card: Card }) {
  const lot = useLot(card.lot)
  const record = useRecord()
  const format = useFormat()
  const [way, setWay] = useState<Schemas['JoinWay']>('pair')
  const [chosen, setChosen] = useState<number[]>([])
  const [typed, setTyped] = useState({ reading: '', thickness: '' })
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const others = (lot.data?.pieces ?? []).filter(
    (p) => p.id !== card.id && (p.stage === 'assign' || p.stage === 'dose') && (way === 'bind' || p.cut === card.cut),
  )
  const toggle = (id: number) =>
    setChosen((c) => (c.includes(id) ? c.filter((x) => x !== id) : way === 'pair' ? [id] : [...c, id]))
  const send = () =>
    record.mutate({
      acts: [
        {
          act: 'joined',
          pieces: [card.id, ...chosen],
          way,
          reading: typed.reading || null,
          thickness: typed.thickness || null,
        },
      ],
      seen: [{ piece: card.id, version: card.version }],
    })
  return (
    <form
      className="grid gap-2"
      aria-label="Join with another"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <Choice
        label="How"
        value={way}
        onChange={(w) => {
          setWay(w)
          setChosen([])
        }}
        options={[
          { value: 'pair', label: 'folded into one pair' },
          { value: 'bind', label: 'bound or tied into one' },
        ]}
      />
      {others.length === 0 ? (
        <p className="text-soft">
          No other piece of {card.lot_tag} waits uncured{way === 'pair' ? ` as ${card.cut_name}` : ''}.
        </p>
      ) : (
        <div className="flex flex-wrap gap-2" role="group" aria-label="Together with">
          {others.map((p) => (
            <button
              key={p.id}
              type="button"
              aria-pressed={chosen.includes(p.id)}
              onClick={() => toggle(p.id)}
              className={`min-h-12 border-2 px-2.5 ${chosen.includes(p.id) ? 'border-violet bg-violet-wash' : 'border-line bg-table'}`}
            >
              <span className="figures font-semibold">{p.tag}</span>{' '}
              <span className="figures text-soft">{format.mass(p.mass_g)}</span>
            </button>
          ))}
        </div>
      )}
      <div className="grid grid-cols-2 gap-x-3">
        <AmountField
          quantity="mass"
          label="Together they weigh"
          value={typed.reading}
          onChange={(reading) => setTyped((t) => ({ ...t, reading }))}
          error={wrong('reading')}
          hint="If you weigh it again."
        />
        <AmountField
          quantity="length"
          label="Thickest place, joined"
          value={typed.thickness}
          onChange={(thickness) => setTyped((t) => ({ ...t, thickness }))}
          error={wrong('thickness')}
          hint="A pair is about twice as thick."
        />
      </div>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <button type="submit" className="press press-main justify-self-start" disabled={record.isPending || chosen.length === 0}>
        Make it one piece
      </button>
    </form>
  )
}
