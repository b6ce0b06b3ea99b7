import { useNavigate, useRouterState } from '@tanstack/react-router'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { type ActAsk, type PieceCard, problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { AmountField, Choice, WhenField } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'

export interface LoopField {
  name: string
  label: string
  quantity: 'mass' | 'temperature'
  hint?: string
  optional?: boolean
}

interface LoopProps {
  title: string
  pieces: PieceCard[]
  /** The piece to begin with, by the address or the first one. */
  first?: number
  /** What is typed besides the weight. */
  more?: LoopField[]
  weightLabel: string
  /** What stands above the scale's number for this piece. */
  about: (piece: PieceCard) => ReactNode
  act: (piece: PieceCard, reading: string, more: Record<string, string>) => ActAsk
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

/** Piece, number from the scale, Enter, next piece: one loop for every weighing. */
export function WeighLoop(props: LoopProps) {
  const { pieces, more = [] } = props
  const format = useFormat()
  const record = useRecord()
  const scale = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState(props.first)
  const [reading, setReading] = useState('')
  const [typed, setTyped] = useState<Record<string, string>>({})
  const [place, setPlace] = useState('')
  // Kept from piece to piece: what is written down late was done in one go.
  const [when, setWhen] = useState('')
  const index = Math.max(
    0,
    pieces.findIndex((p) => p.id === at),
  )
  const piece = pieces[index]
  useClearedSearch(at, props.first)

  const go = (step: number) => {
    const next = pieces[(index + step + pieces.length) % pieces.length]
    if (!next) return
    setAt(next.id)
    setReading('')
    setTyped({})
    record.reset()
    scale.current?.querySelector('input')?.focus()
  }
  if (!piece) return null

  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  const write = (act: ActAsk, keep_as_typed = false) => {
    const next = pieces[(index + 1) % pieces.length]
    record.mutate(
      {
        acts: [act],
        seen: [{ piece: piece.id, version: piece.version }],
        keep_as_typed,
        happened_at: when || undefined,
      },
      {
        onSuccess: () => {
          setReading('')
          setTyped({})
          setAt(next?.id)
          scale.current?.querySelector('input')?.focus()
        },
      },
    )
  }
  const ways = props.which?.options(piece) ?? []
  const step = typed.step ?? props.which?.usual(piece)
  const said = { ...typed, ...(ways.length > 1 && step ? { step } : {}), ...(place ? { place } : {}) }
  const send = (keep = false) => write(props.act(piece, reading, said), keep)
  const missing = reading.trim() === '' || more.some((f) => !f.optional && !typed[f.name]?.trim())
  return (
    <form
      aria-label={props.title}
      className="no-print table-top grid max-w-2xl grid-cols-1 gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        if (!missing) send()
      }}
      onKeyDown={(e) => {
        if (e.ctrlKey && e.key === 'ArrowDown') go(1)
        else if (e.ctrlKey && e.key === 'ArrowUp') go(-1)
      }}
    >
      <div className="flex items-center justify-between gap-2">
        <h2>{props.title}</h2>
        <p className="figures text-soft">
          {index + 1} of {pieces.length}
        </p>
      </div>
      <div className="grid grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-2">
        <button
          type="button"
          className="press bench !px-2"
          aria-label="Piece before"
          onClick={() => go(-1)}
          disabled={pieces.length < 2}
        >
          <ChevronLeft aria-hidden />
        </button>
        <div className="text-center">
          <PieceTag id={piece.id} tag={piece.tag} />
          <p className="mt-1 truncate font-semibold">{piece.build_name ?? piece.cut_name}</p>
          <p className="text-soft">
            {piece.cut_name}, weighed <span className="figures">{format.mass(piece.mass_g)}</span> before
          </p>
        </div>
        <button
          type="button"
          className="press bench !px-2"
          aria-label="Next piece"
          onClick={() => go(1)}
          disabled={pieces.length < 2}
        >
          <ChevronRight aria-hidden />
        </button>
      </div>
      {props.about(piece)}
      {props.which && ways.length > 1 && (
        <Choice
          label={props.which.label}
          value={step}
          onChange={(v) => setTyped((t) => ({ ...t, step: v }))}
          options={ways}
          error={wrong('step')}
        />
      )}
      <div ref={scale} data-scale>
        <AmountField
          big
          quantity="mass"
          label={props.weightLabel}
          value={reading}
          onChange={setReading}
          error={wrong('reading')}
          hint="Type what the scale says, then Enter."
        />
      </div>
      {more.length > 0 && (
        <div className="grid gap-x-4 sm:grid-cols-2">
          {more.map((f) => (
            <AmountField
              key={f.name}
              quantity={f.quantity}
              label={f.label}
              value={typed[f.name] ?? ''}
              onChange={(v) => setTyped((t) => ({ ...t, [f.name]: v }))}
              hint={f.hint}
              error={wrong(f.name)}
            />
          ))}
        </div>
      )}
      {props.place && <PlaceSelect label="Where" uses={props.place} value={place} onChange={setPlace} error={wrong('place')} />}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      <Refused error={record.error} onKeep={() => send(true)} busy={record.isPending} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={record.isPending || missing}>
          {props.done(piece)}
        </button>
        {props.other?.show(piece) && (
          <button
            type="button"
            className="press bench"
            disabled={record.isPending || reading.trim() === ''}
            onClick={() => props.other && write(props.other.act(piece, reading))}
          >
            {props.other.label}
          </button>
        )}
      </MainAction>
    </form>
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
