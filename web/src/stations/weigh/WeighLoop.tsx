import { useNavigate, useRouterState } from '@tanstack/react-router'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import type { ActAsk, PieceCard, Schemas } from '../../api/client'
import { usePresence } from '../../api/entries'
import { drop, send, type Sending } from '../../api/queue'
import { putBack } from '../../kit/drafts'
import { AmountField, Choice, WhenField } from '../../kit/Fields'
import { useArrival } from '../../kit/focus'
import { Elsewhere, type Held, useHeld } from '../../kit/held'
import { MainAction } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { PieceTag } from '../../kit/Tag'
import { alike, Together } from '../../kit/Together'
import { useFormat } from '../../units'
import { Answer, AskedAbout, useAsked, useComesBack } from './AskedAbout'

export interface LoopField {
  name: string
  label: string
  quantity: 'mass' | 'temperature'
  hint?: string
  optional?: boolean
}

/** What is typed for one piece. */
interface Typed {
  reading: string
  more: Record<string, string>
  /** The others that are on the scale with it. */
  others?: number[]
}

const blank: Typed = { reading: '', more: {} }
const inWords = (typed: Typed) => [typed.reading, ...Object.values(typed.more)].filter((t) => t.trim() !== '').join(', ')

export type LoopHeld = Held<Typed>

/** The piece that a loop holds; kept where the list of pieces is, so that the station knows that something is still at hand. */
export const useLoop = (form: string, pieces: PieceCard[], first?: number, stays = false): LoopHeld =>
  useHeld({ form, pieces, first, blank, words: inWords, stays })

interface LoopProps {
  /** Names the form for its drafts, as its [`useLoop`] does. */
  form: string
  held: LoopHeld
  title: string
  pieces: PieceCard[]
  /** The piece that the address asked for. */
  first?: number
  /** What is typed besides the weight. */
  more?: LoopField[]
  weightLabel: string
  /** What stands above the scale's number for this piece. */
  about: (piece: PieceCard) => ReactNode
  act: (piece: PieceCard, reading: string, more: Record<string, string>) => ActAsk
  /** What is written down together with it. */
  also?: (piece: PieceCard, more: Record<string, string>) => ActAsk[]
  /** What else may be typed of a piece, kept with its draft. */
  extra?: (
    piece: PieceCard,
    typed: Record<string, string>,
    set: (change: Record<string, string>) => void,
    wrong: (field: string) => string | undefined,
  ) => ReactNode
  done: (piece: PieceCard) => string
  /** Which step of its way this is, where a piece has several before it. */
  which?: {
    label: string
    options: (piece: PieceCard) => { value: string; label: string }[]
    usual: (piece: PieceCard) => string | undefined
  }
  /** For which use of a place it is put somewhere by this. */
  place?: Schemas['PlaceUse'][]
  /** Another thing that can be written with the same number. */
  other?: {
    label: string
    show: (piece: PieceCard) => boolean
    act: (piece: PieceCard, reading: string) => ActAsk
  }
}

/** Piece, number from the scale, Enter, next piece: one loop for every weighing. What was typed is on its way while the next
 * piece is at hand already; what is asked about it comes back with its piece. */
export function WeighLoop(props: LoopProps) {
  const { form, held, pieces, more = [] } = props
  const { piece, typed, set } = held
  const format = useFormat()
  const scale = useRef<HTMLDivElement>(null)
  const [place, setPlace] = useState('')
  // Kept from piece to piece: what is written down late was done in one go.
  const [when, setWhen] = useState('')
  const asked = useAsked(form, piece?.id)
  usePresence(form)
  useArrival(scale)
  useClearedSearch(piece?.id, props.first)
  const focusScale = () => scale.current?.querySelector('input')?.focus()
  const back = (s: Sending) => {
    if (s.piece !== undefined) putBack(`${form}.${s.piece}`, s.typed ?? blank, s.words)
    drop(s.key)
    if (s.piece !== undefined) held.hold(s.piece)
    focusScale()
  }
  useComesBack(form, held, blank)

  if (!piece)
    return (
      <div className="grid max-w-2xl gap-3">
        <Elsewhere held={held} />
        <AskedAbout list={asked.others} onBack={back} />
      </div>
    )
  const couldBe = alike(pieces, piece)
  const others = couldBe.filter((p) => typed.others?.includes(p.id))
  const write = (act: ActAsk, also: (piece: PieceCard) => ActAsk[] = () => []) => {
    if (asked.here) drop(asked.here.key)
    const all = [piece, ...others]
    const ids = others.map((p) => p.id)
    // Several on the scale share its number.
    const one = (ids.length > 0 ? { ...act, piece: null, pieces: [piece.id, ...ids] } : act) as ActAsk
    const seen = [...held.seen(), ...others.map((p) => ({ piece: p.id, version: p.version }))]
    send(
      { to: 'entries', ask: { acts: [one, ...all.flatMap(also)], seen, happened_at: when || undefined } },
      {
        words: `${all.map((p) => p.tag).join(', ')} ${inWords(typed)}`,
        owner: form,
        typed,
        piece: piece.id,
        draft: held.asUsed,
      },
    )
    held.advance()
    focusScale()
  }
  const ways = props.which?.options(piece) ?? []
  const step = typed.more.step ?? props.which?.usual(piece)
  const said = { ...typed.more, ...(ways.length > 1 && step ? { step } : {}), ...(place ? { place } : {}) }
  const isGone = held.goneId !== undefined
  const missing = isGone || typed.reading.trim() === '' || more.some((f) => !f.optional && !typed.more[f.name]?.trim())
  const setMore = (change: Record<string, string>) => set((t) => ({ ...t, more: { ...t.more, ...change } }))
  return (
    <form
      aria-label={props.title}
      className="no-print table-top grid max-w-2xl grid-cols-1 gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        if (!missing) write(props.act(piece, typed.reading, said), (p) => props.also?.(p, said) ?? [])
      }}
      onKeyDown={(e) => {
        if (e.ctrlKey && e.key === 'ArrowDown') held.go(1)
        else if (e.ctrlKey && e.key === 'ArrowUp') held.go(-1)
      }}
    >
      <div className="flex items-center justify-between gap-2">
        <h2>{props.title}</h2>
        <p className="figures text-soft">{isGone ? 'no longer here' : `${held.index + 1} of ${pieces.length}`}</p>
      </div>
      <AskedAbout list={asked.others} onBack={back} />
      <div className="grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-2">
        <StepButton label="Piece before" onClick={() => held.go(-1)} disabled={pieces.length < 2} />
        <div className="text-center">
          <PieceTag id={piece.id} tag={piece.tag} />
          <p className="mt-1 truncate font-semibold">{piece.build_name ?? piece.cut_name}</p>
          <p className="text-soft">
            {piece.cut_name}, weighed <span className="figures">{format.mass(piece.mass_g)}</span> before
          </p>
        </div>
        <StepButton label="Next piece" onClick={() => held.go(1)} disabled={pieces.length < 2} />
      </div>
      <Elsewhere held={held} typed={inWords(typed)} />
      {props.about(piece)}
      {props.which && ways.length > 1 && (
        <Choice
          label={props.which.label}
          value={step}
          onChange={(v) => setMore({ step: v })}
          options={ways}
          error={asked.wrong('step')}
        />
      )}
      <div ref={scale} data-scale>
        <AmountField
          big
          quantity="mass"
          label={props.weightLabel}
          value={typed.reading}
          onChange={(reading) => set((t) => ({ ...t, reading }))}
          error={asked.wrong('reading')}
          hint="Type what the scale says, then Enter."
        />
      </div>
      <Together
        label="More on the scale with it"
        others={couldBe}
        chosen={others.map((p) => p.id)}
        onChange={(others) => set((t) => ({ ...t, others }))}
      />
      {more.length > 0 && (
        <div className="grid gap-x-4 sm:grid-cols-2">
          {more.map((f) => (
            <AmountField
              key={f.name}
              quantity={f.quantity}
              label={f.label}
              value={typed.more[f.name] ?? ''}
              onChange={(v) => setMore({ [f.name]: v })}
              hint={f.hint}
              error={asked.wrong(f.name)}
            />
          ))}
        </div>
      )}
      {props.extra?.(piece, typed.more, setMore, asked.wrong)}
      {props.place && (
        <PlaceSelect label="Where" uses={props.place} value={place} onChange={setPlace} error={asked.wrong('place')} />
      )}
      <WhenField value={when} onChange={setWhen} error={asked.wrong('happened_at')} />
      {asked.here && <Answer sending={asked.here} />}
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={missing}>
          {props.done(piece)}
        </button>
        {props.other?.show(piece) && (
          <button
            type="button"
            className="press bench"
            disabled={isGone || typed.reading.trim() === ''}
            onClick={() => props.other && write(props.other.act(piece, typed.reading), (p) => props.also?.(p, said) ?? [])}
          >
            {props.other.label}
          </button>
        )}
      </MainAction>
    </form>
  )
}

function StepButton({ label, onClick, disabled }: { label: string; onClick: () => void; disabled: boolean }) {
  const Icon = label === 'Next piece' ? ChevronRight : ChevronLeft
  return (
    <button type="button" className="press bench !px-2" aria-label={label} onClick={onClick} disabled={disabled}>
      <Icon aria-hidden />
    </button>
  )
}

/** Drops the piece from the address once another one is at hand, so that a reload starts fresh. */
function useClearedSearch(at: number | undefined, first: number | undefined) {
  const navigate = useNavigate()
  const path = useRouterState({ select: (s) => s.location.pathname })
  useEffect(() => {
    if (first !== undefined && at !== first) void navigate({ to: path, search: {}, replace: true })
  }, [at, first, navigate, path])
}
