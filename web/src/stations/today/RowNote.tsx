import { Camera, NotebookPen } from 'lucide-react'
import { useId, useState } from 'react'
import { type ActAsk, problemOf } from '../../api/client'
import { keepPhoto, photoAddress } from '../../api/photos'
import { send } from '../../api/queue'
import { type Chip, inChip } from './words'

/** A note or a photo for what is at hand. */
export function RowNote({ chips, owner }: { chips: Chip[]; owner: string }) {
  const [open, setOpen] = useState(false)
  const [text, setText] = useState('')
  const [photo, setPhoto] = useState<string>()
  const [state, setState] = useState<{ busy?: boolean; wrong?: string; kept?: boolean }>({})
  const id = useId()
  if (chips.length === 0) return null
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        <NotebookPen size={18} aria-hidden /> Note or photo
        <span className="sr-only"> for {chips.map(inChip).join(', ')}</span>
      </button>
    )
  const take = async (file: File | undefined) => {
    if (!file) return
    setState({ busy: true })
    try {
      setPhoto(await keepPhoto(file))
      setState({})
    } catch (error) {
      const said =
        error instanceof Error && error.name !== 'Error' ? 'That is no picture this device can read.' : problemOf(error).message
      setState({ wrong: said })
    }
  }
  const write = () => {
    const acts = chips.map((c): ActAsk => ({ act: 'noted', piece: c.piece, text: text.trim(), photo: photo ?? null }))
    send({ to: 'entries', ask: { acts } }, { words: `note on ${chips.map(inChip).join(', ')}`, owner, typed: [] })
    setText('')
    setPhoto(undefined)
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
        <label className="press">
          <Camera size={19} aria-hidden /> {photo ? 'Another photo' : 'Photo'}
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="sr-only"
            onChange={(e) => void take(e.target.files?.[0])}
          />
        </label>
        {state.busy && <span role="status">Shrinking and sending it …</span>}
        {photo && <img src={photoAddress(photo)} alt="The photo to be kept" className="h-14 border border-line" />}
        <span className="grow" />
        <button type="button" className="quiet" onClick={() => setOpen(false)}>
          Leave it
        </button>
        <button type="submit" className="press press-main" disabled={state.busy || (text.trim() === '' && !photo)}>
          Keep it
        </button>
      </div>
      {state.wrong && (
        <p role="alert" className="font-semibold text-stop">
          {state.wrong}
        </p>
      )}
    </form>
  )
}
