import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useNavigate, useSearch } from '@tanstack/react-router'
import { useEffect, useRef, useState } from 'react'
import type { PieceCard } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { usePresence } from '../../api/entries'
import { usePiece, useStation } from '../../api/pieces'
import { usePantry } from '../../api/planning'
import { drop, onWritten, send, type Sending } from '../../api/queue'
import { putBack } from '../../kit/drafts'
import { AmountField, Select, TextField, Tick } from '../../kit/Fields'
import { useArrival } from '../../kit/focus'
import { Elsewhere, type Held, useHeld } from '../../kit/held'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { MainAction, Page } from '../../kit/Page'
import { Empty } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { about, alike, Together } from '../../kit/Together'
import { VerdictReasons, VerdictWord } from '../../kit/Verdict'
import { useFormat } from '../../units'
import { Answer, AskedAbout, useAsked, useComesBack } from '../weigh/AskedAbout'

/** What waits to be sliced and packed. */
export function Pack() {
  const station = useStation('pack')
  const search = useSearch({ from: '/pack' })
  if (!isThere(station)) return <NotYet of={[station]} what="the pieces" page="Pack" />
  // What may be packed as it is, though a step that may be left out is still before it, comes last.
  const pieces = [...station.data.pieces].sort((a, b) => Number(a.stage !== 'pack') - Number(b.stage !== 'pack'))
  return <Table pieces={pieces} asked={'piece' in search ? search.piece : undefined} />
}

/** What is typed for one piece on the packing table. */
interface Typed {
  packs: { reading: string; slices: string }[]
  reading: string
  slices: string
  ends: string
  place: string
  liesIn: string
  bag: string
  allergens: string
  line: string
  finished: boolean
  /** The others that are packed with it. */
  others?: number[]
}

const blank: Typed = {
  packs: [],
  reading: '',
  slices: '',
  ends: '',
  place: '',
  liesIn: '',
  bag: '',
  allergens: '',
  line: '',
  finished: true,
}

/** The packs as they stand, the one still in the fields among them. */
const packsOf = (typed: Typed) =>
  typed.reading.trim() === '' ? typed.packs : [...typed.packs, { reading: typed.reading, slices: typed.slices }]

const inWords = (typed: Typed) =>
  [...packsOf(typed).map((p) => p.reading), typed.ends && `ends ${typed.ends}`].filter(Boolean).join(', ')

/** The packing table among the forms of this device. */
const FORM = 'packed'

function Table({ pieces, asked }: { pieces: PieceCard[]; asked?: number }) {
  const navigate = useNavigate()
  const format = useFormat()
  const [packed, setPacked] = useState<{ id: number; tag: string }>()
  const held = useHeld({ form: FORM, pieces, first: asked, blank, words: inWords, stays: true })
  const chosen = held.piece
  // The address follows the piece at hand: a reload is back at it.
  useEffect(() => {
    if (asked !== undefined && chosen && chosen.id !== asked) void navigate({ to: '/pack', search: {}, replace: true })
  }, [asked, chosen, navigate])
  useEffect(
    () =>
      onWritten((sending) => {
        if (sending.owner !== FORM || sending.piece === undefined) return
        setPacked({ id: sending.piece, tag: sending.words.split(' ')[0] ?? '' })
      }),
    [],
  )
  return (
    <Page
      title="Pack"
      lead="Chill nearly to freezing, slice across the grain, keep the ends, weigh every pack."
      side={
        <Link to="/packs" className="press">
          Packs in the house
        </Link>
      }
    >
      {packed && (
        <p className="mb-4 border-l-8 border-good bg-good-wash p-3" role="status">
          {packed.tag} is packed.{' '}
          <Link to="/pieces/$id" params={{ id: String(packed.id) }} className="quiet">
            Its labels
          </Link>
        </p>
      )}
      {held.count === 0 && (
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
                  aria-pressed={p.id === chosen?.id}
                  onClick={() => void navigate({ to: '/pack', search: { piece: p.id } })}
                  className={`grid w-full grid-cols-[auto_1fr_auto] items-center gap-3 p-3 text-left ${p.id === chosen?.id ? 'bg-violet-wash' : 'hover:bg-steel'}`}
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
        {chosen ? <PackForm held={held} piece={chosen} pieces={pieces} /> : <Elsewhere held={held} />}
      </div>
    </Page>
  )
}

function PackForm({ piece, pieces, held }: { piece: PieceCard; pieces: PieceCard[]; held: Held<Typed> }) {
  const format = useFormat()
  const keeps = useCatalogue().data?.builds.find((b) => b.key === piece.build)?.keep ?? []
  const offered = usePiece(piece.id).data?.allergens ?? []
  const bags = usePantry().data?.items.filter((s) => s.item.kind === 'bag') ?? []
  const scale = useRef<HTMLDivElement>(null)
  const { packs, reading, slices, ends, place, liesIn, bag = '', allergens, line, finished } = held.typed
  const set = (change: Partial<Typed>) => held.set((t) => ({ ...t, ...change }))
  const asked = useAsked(FORM, piece.id)
  const isGone = held.goneId !== undefined
  usePresence(FORM)
  useArrival(scale)
  const focusScale = () => scale.current?.querySelector('input')?.focus()
  const add = () => {
    if (reading.trim() === '') return
    set({ packs: [...packs, { reading, slices }], reading: '' })
    focusScale()
  }
  const back = (s: Sending) => {
    if (s.piece !== undefined) putBack(`${FORM}.${s.piece}`, s.typed ?? blank, s.words)
    drop(s.key)
    if (s.piece !== undefined) held.hold(s.piece)
    focusScale()
  }
  useComesBack(FORM, held, blank)
  const all = packsOf(held.typed)
  const couldBe = alike(
    pieces.filter((p) => p.stage === 'pack'),
    piece,
  )
  const others = couldBe.filter((p) => held.typed.others?.includes(p.id))
  const ids = others.map((p) => p.id)
  const sum = [piece, ...others].reduce((g, p) => g + p.mass_g, 0)
  /** What is on the list, or with a word for the rest nothing more. */
  const pack = (rest?: string) => {
    if (asked.here) drop(asked.here.key)
    const ask = {
      acts: [
        {
          act: 'packed' as const,
          ...about(piece.id, ids),
          finished: finished || rest !== undefined,
          rest: rest ?? null,
          ends: ends || null,
          packs: all.map((p) => ({
            reading: p.reading,
            slices: p.slices.trim() || null,
            place: place || null,
            allergens: allergens || null,
            line: line || null,
            lies_in: liesIn || null,
            bag: bag || null,
          })),
        },
      ],
      seen: [...held.seen(), ...others.map((p) => ({ piece: p.id, version: p.version }))],
    }
    const words = [inWords(held.typed), rest && `the rest ${rest}`].filter(Boolean).join(', ')
    send(
      { to: 'entries', ask },
      {
        words: `${[piece, ...others].map((p) => p.tag).join(', ')} ${words}`,
        owner: FORM,
        typed: held.typed,
        piece: piece.id,
        draft: held.asUsed,
      },
    )
    if (finished || rest !== undefined) held.advance()
    else held.used()
    focusScale()
  }
  const packErrors = (asked.here?.problem?.errors ?? []).filter((e) => e.field.startsWith('packs'))
  return (
    <form
      className="table-top grid gap-3 p-4"
      aria-label="Pack"
      onSubmit={(e) => {
        e.preventDefault()
        add()
      }}
    >
      <AskedAbout list={asked.others} onBack={back} />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <PieceTag id={piece.id} tag={piece.tag} />
        <p className="grow">
          <span className="font-semibold">{piece.build_name}</span>, <span className="figures">{format.mass(sum)}</span> to pack
        </p>
        <VerdictWord verdict={piece.verdict} />
      </div>
      <Elsewhere held={held} typed={inWords(held.typed)} />
      {piece.verdict.word !== 'ready_to_eat' && <VerdictReasons verdict={piece.verdict} />}
      <div className="grid gap-x-4 sm:grid-cols-[3fr_2fr]">
        <div ref={scale} data-scale>
          <AmountField
            big
            quantity="mass"
            label={`Pack ${packs.length + 1} weighs`}
            value={reading}
            onChange={(reading) => set({ reading })}
            hint="Enter puts it on the list."
          />
        </div>
        <TextField
          big
          label="Slices in it"
          value={slices}
          onChange={(slices) => set({ slices })}
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
              <button type="button" className="quiet" onClick={() => set({ packs: packs.filter((_, n) => n !== i) })}>
                take off<span className="sr-only"> pack {i + 1}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      <Together label="Pack others with it" others={couldBe} chosen={ids} onChange={(others) => set({ others })} />
      {ids.length > 0 && (
        <p className="text-[0.95rem] text-soft">
          A pack is of the piece that holds it. One that none holds alone gets a label for each.
        </p>
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
          onChange={(ends) => set({ ends })}
          error={asked.wrong('ends')}
          hint="They go into other dishes, and are counted."
        />
        <Select label="Where it is kept" value={place} onChange={(place) => set({ place })}>
          <option value="">print every way</option>
          {keeps.map((k) => (
            <option key={k.place} value={k.place}>
              {k.place}, {k.days} days
            </option>
          ))}
        </Select>
        <PlaceSelect
          label="Freezer or shelf"
          uses={['freeze', 'cold']}
          value={liesIn}
          onChange={(liesIn) => set({ liesIn })}
          error={asked.wrong('packs[0].lies_in')}
        />
        {bags.length > 0 && (
          <Select label="Bag" value={bag} onChange={(bag) => set({ bag })} hint="One for each pack comes off the pantry.">
            <option value="">not from the pantry</option>
            {bags.map((s) => (
              <option key={s.item.id} value={s.item.name}>
                {s.item.name}, {Math.round(s.left)} left
              </option>
            ))}
          </Select>
        )}
        <TextField
          label="Allergens to name"
          value={allergens}
          onChange={(allergens) => set({ allergens })}
          hint={
            offered.length > 0
              ? `By the names of what went in: ${offered.join(', ')}. It goes on the label; add what else the packets say.`
              : 'Mustard, soy, celery, milk powder …'
          }
        />
        <TextField
          label="A line to whoever opens it"
          value={line}
          onChange={(line) => set({ line })}
          error={asked.wrong('packs[0].line')}
          hint="A greeting, or how to cook it. It goes on the label."
        />
        <Tick label="Nothing of it is left to pack" checked={finished} onChange={(finished) => set({ finished })} />
      </div>
      {asked.here && <Answer sending={asked.here} />}
      <MainAction>
        <button
          type="button"
          className="press press-main bench"
          disabled={isGone || (all.length === 0 && ends.trim() === '')}
          onClick={() => pack()}
        >
          {all.length === 0 ? 'Weigh the first pack' : all.length === 1 ? 'Pack it' : `Write down ${all.length} packs`}
        </button>
        <button type="submit" className="press bench" disabled={reading.trim() === ''}>
          Another pack
        </button>
      </MainAction>
      <p className="flex flex-wrap items-center gap-x-3">
        <span className="text-soft">{all.length > 0 ? 'The rest was' : 'Nothing to pack: it was'}</span>
        {['tasted', 'given away', 'cooked'].map((word) => (
          <button key={word} type="button" className="quiet" disabled={isGone} onClick={() => pack(word)}>
            {word}
          </button>
        ))}
      </p>
    </form>
  )
}
