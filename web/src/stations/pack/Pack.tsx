import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { useRef, useState } from 'react'
import { type PieceCard, problemOf } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useRecord } from '../../api/entries'
import { useStation } from '../../api/pieces'
import { AmountField, Select, TextField, Tick } from '../../kit/Fields'
import { MainAction, Page } from '../../kit/Page'
import { Empty, Failed, Loading, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { eatWords } from '../words'

/** What waits to be sliced and packed. */
export function Pack() {
  const station = useStation('pack')
  const search = useSearch({ from: '/pack' })
  const navigate = useNavigate()
  const format = useFormat()
  const [packed, setPacked] = useState<{ id: number; tag: string }>()
  if (station.isPending)
    return (
      <Page title="Pack">
        <Loading what="the pieces" />
      </Page>
    )
  if (station.isError)
    return (
      <Page title="Pack">
        <Failed error={station.error} onRetry={() => station.refetch()} />
      </Page>
    )
  // What may be packed as it is, though a step that may be left out is still before it, comes last.
  const pieces = [...station.data.pieces].sort((a, b) => Number(a.stage !== 'pack') - Number(b.stage !== 'pack'))
  const asked = 'piece' in search ? search.piece : undefined
  const chosen = pieces.find((p) => p.id === asked) ?? pieces[0]
  return (
    <Page title="Pack" lead="Chill nearly to freezing, slice across the grain, keep the ends, weigh every pack.">
      {packed && (
        <p className="mb-4 border-l-8 border-good bg-good-wash p-3" role="status">
          {packed.tag} is packed.{' '}
          <Link to="/pieces/$id" params={{ id: String(packed.id) }} className="quiet">
            Its labels
          </Link>
        </p>
      )}
      {pieces.length === 0 && (
        <Empty title="Nothing waits to be packed">
          Pieces come here from the smoke, from their hook, or as fresh cuts.{' '}
          <Link className="quiet" to="/tally">
            Look at the tally
          </Link>
        </Empty>
      )}
      <div className="grid grid-cols-1 items-start gap-5 lg:grid-cols-[2fr_3fr]">
        {pieces.length > 0 && (
          <ul className="table-top divide-y divide-line" aria-label="Waiting to be packed">
            {pieces.map((p) => (
              <li key={p.id}>
                <button
                  type="button"
                  aria-pressed={p === chosen}
                  onClick={() => void navigate({ to: '/pack', search: { piece: p.id } })}
                  className={`grid w-full grid-cols-[auto_1fr_auto] items-center gap-3 p-3 text-left ${p === chosen ? 'bg-violet-wash' : 'hover:bg-steel'}`}
                >
                  <span className="tag">{p.tag}</span>
                  <span className="min-w-0">
                    <span className="block truncate font-semibold">{p.build_name}</span>
                    <span className="block truncate text-[0.95rem] text-soft">
                      {p.stage === 'pack'
                        ? `${p.cut_name}, ${p.lot_name}`
                        : `as it is, without: ${p.open_steps.find((s) => s.station !== 'pack')?.verb ?? 'what comes before'}`}
                    </span>
                  </span>
                  <span className="figures">{format.mass(p.mass_g)}</span>
                </button>
              </li>
            ))}
          </ul>
        )}
        {chosen && <PackForm key={chosen.id} piece={chosen} onDone={() => setPacked({ id: chosen.id, tag: chosen.tag })} />}
      </div>
    </Page>
  )
}

function PackForm({ piece, onDone }: { piece: PieceCard; onDone: () => void }) {
  const format = useFormat()
  const record = useRecord()
  const keeps = useCatalogue().data?.builds.find((b) => b.key === piece.build)?.keep ?? []
  const scale = useRef<HTMLDivElement>(null)
  const [packs, setPacks] = useState<{ reading: string; slices: string }[]>([])
  const [reading, setReading] = useState('')
  const [slices, setSlices] = useState('')
  const [ends, setEnds] = useState('')
  const [place, setPlace] = useState('')
  const [allergens, setAllergens] = useState('')
  const [finished, setFinished] = useState(true)
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const add = () => {
    if (reading.trim() === '') return
    setPacks((p) => [...p, { reading, slices }])
    setReading('')
    scale.current?.querySelector('input')?.focus()
  }
  const all = reading.trim() === '' ? packs : [...packs, { reading, slices }]
  const send = (keep_as_typed = false) =>
    record.mutate(
      {
        acts: [
          {
            act: 'packed',
            piece: piece.id,
            finished,
            ends: ends || null,
            packs: all.map((p) => ({
              reading: p.reading,
              slices: p.slices.trim() || null,
              place: place || null,
              allergens: allergens || null,
            })),
          },
        ],
        seen: [{ piece: piece.id, version: piece.version }],
        keep_as_typed,
      },
      { onSuccess: onDone },
    )
  const packErrors = record.error ? (problemOf(record.error).problem.errors ?? []).filter((e) => e.field.startsWith('packs')) : []
  return (
    <form
      className="table-top grid gap-3 p-4"
      aria-label="Pack"
      onSubmit={(e) => {
        e.preventDefault()
        add()
      }}
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <PieceTag id={piece.id} tag={piece.tag} />
        <p className="grow">
          <span className="font-semibold">{piece.build_name}</span>, <span className="figures">{format.mass(piece.mass_g)}</span>{' '}
          to pack
        </p>
        <p
          className={`border px-2 font-semibold ${piece.eat === 'ready_to_eat' ? 'border-good text-good' : 'border-caution text-caution'}`}
        >
          {eatWords[piece.eat]}
        </p>
      </div>
      <div className="grid gap-x-4 sm:grid-cols-[3fr_2fr]">
        <div ref={scale} data-scale>
          <AmountField
            big
            quantity="mass"
            label={`Pack ${packs.length + 1} weighs`}
            value={reading}
            onChange={setReading}
            hint="Enter puts it on the list."
          />
        </div>
        <TextField
          big
          label="Slices in it"
          value={slices}
          onChange={setSlices}
          inputMode="numeric"
          hint="Leave empty if you did not count."
        />
      </div>
      {packs.length > 0 && (
        <ol className="flex flex-wrap gap-2" aria-label="Packs so far">
          {packs.map((p, i) => (
            <li key={i} className="flex items-center gap-2 border border-line bg-steel pl-3">
              <span className="figures">
                {p.reading}
                {p.slices && `, ${p.slices} slices`}
              </span>
              <button type="button" className="quiet" onClick={() => setPacks((list) => list.filter((_, n) => n !== i))}>
                take off<span className="sr-only"> pack {i + 1}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {packErrors.map((e) => (
        <p key={e.field} className="font-semibold text-stop">
          {e.message}
        </p>
      ))}
      <div className="grid gap-x-4 sm:grid-cols-2">
        <AmountField
          quantity="mass"
          label="Ends and crumbs kept"
          value={ends}
          onChange={setEnds}
          error={wrong('ends')}
          hint="They go into other dishes, and are counted."
        />
        <Select label="Where it is kept" value={place} onChange={setPlace}>
          <option value="">print every way</option>
          {keeps.map((k) => (
            <option key={k.place} value={k.place}>
              {k.place}, {k.days} days
            </option>
          ))}
        </Select>
        <TextField
          label="Allergens to name"
          value={allergens}
          onChange={setAllergens}
          hint="Mustard, soy, celery, milk powder …"
        />
        <Tick label="Nothing of it is left to pack" checked={finished} onChange={setFinished} />
      </div>
      <Refused error={record.error} onKeep={() => send(true)} busy={record.isPending} />
      <MainAction>
        <button
          type="button"
          className="press press-main bench"
          disabled={record.isPending || (all.length === 0 && ends.trim() === '')}
          onClick={() => send()}
        >
          {all.length === 0 ? 'Weigh the first pack' : all.length === 1 ? 'Pack it' : `Write down ${all.length} packs`}
        </button>
        <button type="submit" className="press bench" disabled={reading.trim() === ''}>
          Another pack
        </button>
      </MainAction>
    </form>
  )
}
