import { useEffect, useRef } from 'react'
import type { ActAsk, Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { usePresence } from '../../api/entries'
import { drop, onWritten, send, type Sending } from '../../api/queue'
import { putBack, useDraft } from '../../kit/drafts'
import { AmountField, Choice, Select, Tick } from '../../kit/Fields'
import { useArrival } from '../../kit/focus'
import { MainAction } from '../../kit/Page'
import { estimate, useFormat } from '../../units'
import { Answer, AskedAbout, useAsked } from '../weigh/AskedAbout'
import { CouldBecome } from './CouldBecome'

type What = 'piece' | Exclude<Schemas['Byproduct'], 'ends' | 'rendered'>

/** What is on the scale, as it is typed. */
interface Typed {
  what: What
  reading: string
  thickness: string
  fatCover: string
  /** What differs from how the cut usually comes. */
  changed: { cut: string; skin_on?: boolean; bone_in?: boolean; fat_cap?: boolean }
}

const blank: Typed = { what: 'piece', reading: '', thickness: '', fatCover: '', changed: { cut: '' } }

/** Cuts being typed among the forms of this device; each animal has its own. */
const formOf = (lot: number) => `breakdown.${lot}`

/** Whether something is typed and not written for an animal. */
export const useWeighOutDraft = (lot: number) => useDraft(formOf(lot), blank, () => '').value.reading !== ''

/** The weigh-out loop: what it is, the scale's number, Enter, the next one. */
export function WeighOut({ lot, cut, onCut }: { lot: Schemas['LotView']; cut: string; onCut: (cut: string) => void }) {
  const species = useCatalogue().data?.species.find((s) => s.key === lot.card.species)
  const form = formOf(lot.card.id)
  const format = useFormat()
  const scale = useRef<HTMLDivElement>(null)
  const draft = useDraft(form, blank, (t) => [t.reading, t.thickness].filter(Boolean).join(', '))
  const { what, reading, thickness, fatCover, changed } = draft.value
  const set = (change: Partial<Typed>) => draft.set((t) => ({ ...t, ...change }))
  const asked = useAsked(form, lot.card.id)
  const wrong = asked.wrong
  usePresence(form)
  useArrival(scale)
  const closed = lot.card.closed
  const back = (s: Sending) => {
    const { cut, ...typed } = s.typed as Typed & { cut: string }
    putBack(form, typed, s.words)
    if (cut) onCut(cut)
  }
  // What is asked about comes back into the fields, unless the next piece is being typed already.
  const known = useRef(new Set<string>())
  const { here } = asked
  useEffect(() => {
    if (!here || known.current.has(here.key)) return
    known.current.add(here.key)
    if (!draft.isTyped || draft.value.reading === '') back(here)
  })
  useEffect(
    () =>
      onWritten((sending) => {
        if (sending.owner !== form || !known.current.delete(sending.key)) return
        const { cut: _, ...typed } = sending.typed as Typed & { cut: string }
        if (JSON.stringify(typed) === JSON.stringify(draft.value)) draft.set({ ...blank, what: typed.what })
      }),
    [form, draft],
  )
  const chosen = species?.cut.find((c) => c.key === cut)
  const expected = lot.expectation?.cuts.find((c) => c.cut === cut)
  // As the cut usually comes, until somebody says otherwise for this one.
  const usual = {
    skin_on: Boolean(chosen?.skin_on && lot.skin_on),
    bone_in: (cut === lot.cut ? lot.bone_in : undefined) ?? Boolean(chosen?.bone_in),
    fat_cap: chosen?.fat === 'fat_capped',
  }
  const traits = { ...usual, ...(changed.cut === cut ? changed : {}) }
  const setTrait = (change: Partial<typeof usual>) =>
    set({ changed: { ...(changed.cut === cut ? changed : {}), ...change, cut } })
  const write = () => {
    const act: ActAsk =
      what === 'piece'
        ? {
            act: 'piece_weighed',
            lot: lot.card.id,
            cut,
            reading,
            thickness: thickness || null,
            fat_cover: fatCover || null,
            skin_on: traits.skin_on,
            bone_in: traits.bone_in,
            fat_cap: traits.fat_cap || fatCover.trim() !== '',
          }
        : { act: 'byproduct_weighed', lot: lot.card.id, kind: what, reading, piece: null }
    if (here) drop(here.key)
    const name = what === 'piece' ? (chosen?.name ?? 'a piece') : what
    send(
      { to: 'entries', ask: { acts: [act] } },
      { words: `${name} ${reading}`, owner: form, typed: { ...draft.value, cut }, piece: lot.card.id },
    )
    draft.set({ ...blank, what })
    scale.current?.querySelector('input')?.focus()
  }
  const missing = Boolean(closed) || reading.trim() === '' || (what === 'piece' && cut === '')
  return (
    <form
      className="table-top grid gap-3 p-4"
      aria-label="Weigh out"
      onSubmit={(e) => {
        e.preventDefault()
        if (!missing) write()
      }}
    >
      {closed && (
        <p role="alert" className="border-l-8 border-caution bg-caution-wash p-3">
          The break-down was finished meanwhile. What you typed, <strong className="figures">{reading}</strong>, is not written:
          undo “break-down finished” in the history below, or{' '}
          <button type="button" className="quiet" onClick={draft.clear}>
            leave it out
          </button>
        </p>
      )}
      <Choice
        label="On the scale"
        value={what}
        onChange={(what) => set({ what })}
        options={[
          { value: 'piece', label: 'a piece' },
          { value: 'trim', label: 'trim' },
          { value: 'fat', label: 'fat' },
          { value: 'bone', label: 'bone' },
          { value: 'skin', label: 'skin' },
        ]}
      />
      {what === 'piece' && (
        <Select
          label="Cut"
          value={cut}
          onChange={onCut}
          error={wrong('cut')}
          hint={
            expected && (
              <>
                usually{' '}
                <span className="figures">
                  {format.mass(estimate(expected.mass_g.low))} to {format.mass(estimate(expected.mass_g.high))}
                </span>{' '}
                in all
              </>
            )
          }
        >
          <option value="">choose</option>
          {species?.cut.map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </Select>
      )}
      <div className={what === 'piece' ? 'grid gap-x-4 sm:grid-cols-[3fr_2fr]' : ''}>
        <div ref={scale} data-scale>
          <AmountField
            big
            quantity="mass"
            label="Weight"
            value={reading}
            onChange={(reading) => set({ reading })}
            error={wrong('reading')}
            hint="What the scale says."
          />
        </div>
        {what === 'piece' && (
          <AmountField
            quantity="length"
            big
            label="Thickest place"
            value={thickness}
            onChange={(thickness) => set({ thickness })}
            error={wrong('thickness')}
            hint={chosen && `Usually ${format.length(chosen.thickness_mm.low)} to ${format.length(chosen.thickness_mm.high)}.`}
          />
        )}
      </div>
      {what === 'piece' && (
        <div className="flex flex-wrap gap-x-6">
          <Tick label="Skin on" checked={traits.skin_on} onChange={(skin_on) => setTrait({ skin_on })} />
          <Tick label="Bone in" checked={traits.bone_in} onChange={(bone_in) => setTrait({ bone_in })} />
          <Tick label="Fat on one side" checked={traits.fat_cap} onChange={(fat_cap) => setTrait({ fat_cap })} />
          {traits.fat_cap && (
            <div className="w-full sm:w-56">
              <AmountField
                quantity="length"
                label="Fat cover kept"
                value={fatCover}
                onChange={(fatCover) => set({ fatCover })}
                error={wrong('fat_cover')}
                hint="Usual are 4 to 15 mm."
              />
            </div>
          )}
        </div>
      )}
      {what === 'piece' && chosen && <CouldBecome key={cut} species={lot.card.species} cut={cut} name={chosen.name} />}
      <AskedAbout list={asked.others} onBack={back} />
      {here && <Answer sending={here} />}
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={missing}>
          Write it down, next
        </button>
      </MainAction>
    </form>
  )
}
