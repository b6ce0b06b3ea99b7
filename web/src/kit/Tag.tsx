import { Link } from '@tanstack/react-router'

/** A piece's tag; opens its page. */
export function PieceTag({ id, tag }: { id: number; tag: string }) {
  return (
    <Link to="/pieces/$id" params={{ id: String(id) }} className="tag" aria-label={`Piece ${tag}`}>
      {tag}
    </Link>
  )
}

/** A tag that names something without leading anywhere. */
export function PlainTag({ tag }: { tag: string }) {
  return <span className="tag">{tag}</span>
}
