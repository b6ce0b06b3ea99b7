import { NotebookPen } from 'lucide-react'
import { useId, useState } from 'react'
import type { ActAsk } from '../../api/client'
import { send } from '../../api/queue'
import { PhotoPick, PhotoRefused, usePhoto } from '../../kit/PhotoPick'
import { type Chip, inChip } from './words'

/** A note or a photo for what is at hand. */
export function RowNote({ chips, owner }: { chips: Chip[]; owner: string }) {
  const [open, setOpen] = useState(false)
  const [text, setText] = useState('')
  const photo = usePhoto()
  const id = useId()
  if (chips.length === 0) return null
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        <NotebookPen size={18} aria-hidden /> Note or photo
        <span className="sr-only"> for {chips.map(inChip).join(', ')}</span>
      </button>
    )
  const write = () => {
    const acts = chips.map((c): ActAsk => ({ act: 'noted', piece: c.piece, text: text.trim(), photo: photo.name ?? null }))
    send({ to: 'entries', ask: { acts } }, { words: `note on ${chips.map(inChip).join(', ')}`, owner, typed: [] })
    setText('')
    photo.clear()
    setOpen(false)
  }
  return (
    <form
      className="grid w-full gap-2 border border-line p-2"
      onSubmit={(e) => {
        e.preventDefault()
        write()
      }}
    >
      <label htmlFor={id} className="font-semibold">
        Note on {chips.length > 3 ? `${chips.length} pieces` : chips.map(inChip).join(', ')}
      </label>
      <textarea id={id} className="field py-2" rows={2} value={text} onChange={(e) => setText(e.target.value)} />
      <div className="flex flex-wrap items-center gap-2">
        <PhotoPick photo={photo} />
        <span className="grow" />
        <button type="button" className="quiet" onClick={() => setOpen(false)}>
          Leave it
        </button>
        <button type="submit" className="press press-main" disabled={photo.busy || (text.trim() === '' && !photo.name)}>
          Keep it
        </button>
      </div>
      <PhotoRefused photo={photo} />
    </form>
  )
}
