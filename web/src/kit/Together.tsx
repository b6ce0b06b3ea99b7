import type { PieceCard } from '../api/client'
import { Tick } from './Fields'

interface Props {
  label: string
  /** The pieces that could be on it too. */
  others: PieceCard[]
  chosen: number[]
  onChange: (chosen: number[]) => void
}

/** Several pieces at once: what was weighed is shared out by what each weighs. */
export function Together({ label, others, chosen, onChange }: Props) {
  if (others.length === 0) return null
  const all = others.map((p) => p.id)
  const isAll = chosen.length === all.length
  return (
    <details open={chosen.length > 0 || undefined}>
      <summary className="quiet">
        {label}
        {chosen.length > 0 && `: ${chosen.length + 1} pieces`}
      </summary>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {others.map((p) => (
          <Tick
            key={p.id}
            label={p.tag}
            checked={chosen.includes(p.id)}
            onChange={(on) => onChange(on ? [...chosen, p.id] : chosen.filter((id) => id !== p.id))}
          />
        ))}
      </div>
      {others.length > 1 && (
        <button type="button" className="quiet" onClick={() => onChange(isAll ? [] : all)}>
          {isAll ? 'This one alone' : `All ${others.length + 1}`}
        </button>
      )}
    </details>
  )
}

/** Those of a list that become the same as a piece, and could be done with it in one go. */
export const alike = (pieces: PieceCard[], piece: PieceCard) =>
  pieces.filter((p) => p.id !== piece.id && p.build === piece.build && p.lot === piece.lot && !p.frozen)

/** The pieces of an act as it takes them: one, or several. */
export const about = (piece: number, others: number[]) => (others.length > 0 ? { pieces: [piece, ...others] } : { piece })
