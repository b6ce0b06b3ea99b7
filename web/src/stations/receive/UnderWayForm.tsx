import { isThere, NotYet } from '../../kit/Fetched'
import { useState } from 'react'
import { type ActAsk, problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { useLots } from '../../api/lots'
import { AmountField, Choice, Select, TextField, Tick } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Refused } from '../../kit/States'
import { UnderWayDose, type WeighedLine } from './UnderWayDose'

const blank = {
  lot: '',
  species: '',
  origin: 'bought' as Schemas['Origin'],
  name: '',
  cut: '',
  build: '',
  at: undefined as Schemas['UnderWayAt'] | undefined,
  since: '',
  reading: '',
  green: '',
  tare: '',
  gross_start: '',
  loss_fraction: '',
  inside: '',
  thickness: '',
  place: '',
  skin_on: false,
  bone_in: false,
  fat_cap: false,
}
type Typed = typeof blank

/** What a place has to be for, by where the piece stands. */
const placesOf: Record<Schemas['UnderWayAt'], Schemas['PlaceUse'][]> = {
  in_cure: ['cold', 'brine', 'press'],
  hanging: ['hang'],
  ready: ['cold', 'freeze'],
}

const said = (text: string) => (text.trim() === '' ? null : text)

/** What is sent: what nobody knows is left out and stays unknown. */
function asked(typed: Typed, cure: string, lines: WeighedLine[]): ActAsk {
  const received: Schemas['ReceivedAsk'] = {
    name: typed.name,
    species: typed.species,
    origin: typed.origin,
    known: 'bought_cut',
    portion: 'primal',
    cut: typed.cut,
    // What came in is at least what it weighed green, or weighs now.
    reading: said(typed.green) ?? typed.reading,
    price_per: 'in_all',
    skin_on: typed.skin_on,
  }
  return {
    act: 'under_way',
    lot: typed.lot ? Number(typed.lot) : null,
    received: typed.lot ? null : received,
    cut: typed.cut,
    build: typed.build,
    at: typed.at ?? 'in_cure',
    since: said(typed.since),
    reading: typed.reading,
    green: said(typed.green),
    tare: typed.at === 'hanging' ? said(typed.tare) : null,
    gross_start: typed.at === 'hanging' ? said(typed.gross_start) : null,
    loss_fraction: typed.at === 'hanging' ? said(typed.loss_fraction) : null,
    inside: typed.at === 'in_cure' ? null : said(typed.inside),
    thickness: said(typed.thickness),
    place: said(typed.place),
    skin_on: typed.skin_on,
    bone_in: typed.bone_in,
    fat_cap: typed.fat_cap,
    weighed:
      lines.length === 0
        ? null
        : {
            cure: cure as Schemas['WeighedAsk']['cure'],
            lines: lines.map((l) => ({ role: null, name: l.name, reading: l.reading, salt_fraction: null })),
          },
  }
}

/** A piece that is on its way already: a household begins amid the season. */
export function UnderWayForm({ onDone }: { onDone: (piece: number) => void }) {
  const catalogue = useCatalogue()
  const lots = useLots()
  const record = useRecord()
  const [typed, setTyped] = useState(blank)
  const [cure, setCure] = useState('cure1')
  const [lines, setLines] = useState<WeighedLine[]>([])
  const set = (change: Partial<Typed>) => setTyped((t) => ({ ...t, ...change }))
  if (!isThere(catalogue) || !isThere(lots)) return <NotYet of={[catalogue, lots]} what="the products" />
  const open = lots.data.filter((l) => !l.closed)
  const lot = open.find((l) => String(l.id) === typed.lot)
  const species = catalogue.data.species.find((s) => s.key === (lot?.species ?? typed.species))
  const build = catalogue.data.builds.find((b) => b.key === typed.build)
  const hangs = (build?.step ?? []).some((s) => s.kind === 'hang')
  const wrong = (field: string) => {
    if (!record.error) return undefined
    const problem = problemOf(record.error)
    return problem.field(field) ?? problem.field(`received.${field}`)
  }
  const send = () =>
    record.mutate(
      { acts: [asked(typed, cure, lines)] },
      { onSuccess: (written) => written.pieces[0] !== undefined && onDone(written.pieces[0]) },
    )
  const ready =
    species && typed.cut && typed.build && typed.at && typed.reading.trim() !== '' && (typed.lot || typed.name.trim() !== '')
  const standings: { value: Schemas['UnderWayAt']; label: string }[] = [
    { value: 'in_cure', label: 'in its cure' },
    ...(hangs ? [{ value: 'hanging' as const, label: 'hanging' }] : []),
    { value: 'ready', label: 'ready to pack' },
  ]
  return (
    <form
      className="table-top grid gap-4 p-4"
      aria-label="On its way already"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <p className="text-soft">
        Type what is known. What nobody knows stays unknown: a piece without a known dose is cooked before eating.
      </p>
      <Select label="What it came out of" value={typed.lot} onChange={(v) => set({ lot: v, cut: '' })} error={wrong('lot')}>
        <option value="">not entered yet</option>
        {open.map((l) => (
          <option key={l.id} value={l.id}>
            {l.tag} {l.name}
          </option>
        ))}
      </Select>
      {!typed.lot && (
        <>
          <Choice
            label="Species"
            value={typed.species || undefined}
            onChange={(v) => set({ species: v, cut: '' })}
            options={catalogue.data.species.map((s) => ({ value: s.key, label: s.name }))}
            error={wrong('species')}
          />
          <Choice
            label="How it came"
            value={typed.origin}
            onChange={(origin) => set({ origin })}
            options={[
              { value: 'harvested', label: 'harvested' },
              { value: 'raised', label: 'raised' },
              { value: 'bought', label: 'bought' },
            ]}
          />
          <TextField
            label="What you call it"
            value={typed.name}
            onChange={(name) => set({ name })}
            error={wrong('name')}
            hint="Such as collar of last month."
          />
        </>
      )}
      <div className="grid gap-x-4 sm:grid-cols-2">
        <Select label="Cut" value={typed.cut} onChange={(cut) => set({ cut })} error={wrong('cut')}>
          <option value="">choose the cut</option>
          {(species?.cut ?? []).map((c) => (
            <option key={c.key} value={c.key}>
              {c.name}
            </option>
          ))}
        </Select>
        <Select
          label="What it becomes"
          value={typed.build}
          onChange={(v) => set({ build: v, at: undefined })}
          error={wrong('build')}
        >
          <option value="">choose a product</option>
          {catalogue.data.builds
            .filter((b) => !b.ending)
            .map((b) => (
              <option key={b.key} value={b.key}>
                {b.name}
              </option>
            ))}
        </Select>
      </div>
      <Choice
        label="Where it stands"
        value={typed.at}
        onChange={(v) => set({ at: v, place: '' })}
        options={standings}
        error={wrong('at')}
      />
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="Since when"
          value={typed.since}
          onChange={(since) => set({ since })}
          error={wrong('since')}
          hint="A day such as 2026-10-28, or with its hour: 2026-10-28T18:00."
        />
        <AmountField
          quantity="length"
          label="Thickest place"
          value={typed.thickness}
          onChange={(thickness) => set({ thickness })}
          error={wrong('thickness')}
          hint="Its days follow from it."
        />
        <AmountField
          quantity="mass"
          label={
            typed.at === 'hanging' ? 'On the scale now, net and all' : typed.at === 'ready' ? 'It weighs now' : 'The meat weighs'
          }
          value={typed.reading}
          onChange={(reading) => set({ reading })}
          error={wrong('reading')}
        />
        <AmountField
          quantity="mass"
          label="Green weight, if known"
          value={typed.green}
          onChange={(green) => set({ green })}
          error={wrong('green')}
          hint="Empty: its yield is counted from today's weight."
        />
        {typed.at === 'hanging' && (
          <>
            <AmountField
              quantity="mass"
              label="Casing, net, clips and hook"
              value={typed.tare}
              onChange={(tare) => set({ tare })}
              error={wrong('tare')}
            />
            <AmountField
              quantity="mass"
              label="On the scale when it was hung"
              value={typed.gross_start}
              onChange={(gross_start) => set({ gross_start })}
              error={wrong('gross_start')}
              hint="Empty: its loss is counted from today's weight, and it dries longer than it must."
            />
            <TextField
              label="Share to lose"
              value={typed.loss_fraction}
              onChange={(loss_fraction) => set({ loss_fraction })}
              error={wrong('loss_fraction')}
              hint="Such as 35 %; as its product says when left empty."
            />
          </>
        )}
        {typed.at && typed.at !== 'in_cure' && (
          <AmountField
            quantity="temperature"
            label="Warmest inside, if it was heated"
            value={typed.inside}
            onChange={(inside) => set({ inside })}
            error={wrong('inside')}
          />
        )}
        {typed.at && (
          <PlaceSelect
            label="Where"
            uses={placesOf[typed.at]}
            value={typed.place}
            onChange={(place) => set({ place })}
            error={wrong('place')}
          />
        )}
      </div>
      <div className="flex flex-wrap gap-x-5">
        <Tick label="Skin on" checked={typed.skin_on} onChange={(skin_on) => set({ skin_on })} />
        <Tick label="Bone in" checked={typed.bone_in} onChange={(bone_in) => set({ bone_in })} />
        <Tick label="Fat on one side" checked={typed.fat_cap} onChange={(fat_cap) => set({ fat_cap })} />
      </div>
      <UnderWayDose cures={catalogue.data.cures} cure={cure} onCure={setCure} lines={lines} onLines={setLines} wrong={wrong} />
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={record.isPending || !ready}>
          Take it in as it stands
        </button>
      </MainAction>
    </form>
  )
}
