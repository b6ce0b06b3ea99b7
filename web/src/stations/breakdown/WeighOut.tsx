import { useRef, useState } from 'react'
import { type ActAsk, problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { AmountField, Choice, Select, Tick } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { Refused } from '../../kit/States'
import { estimate, useFormat } from '../../units'
import { CouldBecome } from './CouldBecome'

type What = 'piece' | Exclude<Schemas['Byproduct'], 'ends'>

/** The weigh-out loop: what it is, the scale's number, Enter, the next one. */
export function WeighOut({ lot, cut, onCut }: { lot: Schemas['LotView']; cut: string; onCut: (cut: string) => void }) {
  const species = useCatalogue().data?.species.find((s) => s.key === lot.card.species)
  const record = useRecord()
  const format = useFormat()
  const scale = useRef<HTMLDivElement>(null)
  const [what, setWhat] = useState<What>('piece')
  const [reading, setReading] = useState('')
  const [thickness, setThickness] = useState('')
  const [fatCover, setFatCover] = useState('')
  const [changed, setChanged] = useState<{
    cut: string
    skin_on?: boolean
    bone_in?: boolean
    fat_cap?: boolean
  }>({ cut })
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const chosen = species?.cut.find((c) => c.key === cut)
  const expected = lot.expectation?.cuts.find((c) => c.cut === cut)
  // As the cut usually comes, until somebody says otherwise for this one.
  const usual = {
    skin_on: Boolean(chosen?.skin_on && lot.skin_on),
    bone_in: Boolean(chosen?.bone_in),
    fat_cap: chosen?.fat === 'fat_capped',
  }
  const traits = { ...usual, ...(changed.cut === cut ? changed : {}) }
  const setTrait = (change: Partial<typeof usual>) => setChanged((c) => ({ ...(c.cut === cut ? c : {}), ...change, cut }))
  const send = (keep_as_typed = false) => {
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
    record.mutate(
      { acts: [act], keep_as_typed },
      {
        onSuccess: () => {
          setReading('')
          setThickness('')
          setFatCover('')
          scale.current?.querySelector('input')?.focus()
        },
      },
    )
  }
  return (
    <form
      className="table-top grid gap-3 p-4"
      aria-label="Weigh out"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <Choice
        label="On the scale"
        value={what}
        onChange={setWhat}
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
            onChange={setReading}
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
            onChange={setThickness}
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
                onChange={setFatCover}
                error={wrong('fat_cover')}
                hint="Usual are 4 to 15 mm."
              />
            </div>
          )}
        </div>
      )}
      {what === 'piece' && chosen && <CouldBecome key={cut} species={lot.card.species} cut={cut} name={chosen.name} />}
      <Refused error={record.error} onKeep={() => send(true)} busy={record.isPending} />
      <MainAction>
        <button
          type="submit"
          className="press press-main bench"
          disabled={record.isPending || reading.trim() === '' || (what === 'piece' && cut === '')}
        >
          Write it down, next
        </button>
      </MainAction>
    </form>
  )
}
