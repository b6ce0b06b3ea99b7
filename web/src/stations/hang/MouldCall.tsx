import { isThere, NotYet } from '../../kit/Fetched'
import { useId, useState } from 'react'
import type { Schemas } from '../../api/client'
import { useMould } from '../../api/hang'
import { send } from '../../api/queue'
import { Choice, TextField, Tick } from '../../kit/Fields'
import { PhotoPick, PhotoRefused, usePhoto } from '../../kit/PhotoPick'
import { AT_HOOK } from './HookPanel'
import { colourWords, type MouldColour, type MouldTexture, Swatch, textureWords } from './Swatch'

type Seen = Schemas['MouldSeen']

const covers = [
  { value: 'spots', label: 'single spots' },
  { value: 'patches', label: 'patches' },
  { value: 'covered', label: 'nearly all round' },
] as const
const cultures = [
  { value: 'sprayed', label: 'sprayed on' },
  { value: 'wild', label: 'wild' },
] as const

/** A call on mould: its colour, how it looks close by, and what that means, before it is written down. */
export function MouldCall({ piece, tag }: { piece: number; tag: string }) {
  const table = useMould()
  const [colour, setColour] = useState<MouldColour>()
  const [texture, setTexture] = useState<MouldTexture>()
  const [more, setMore] = useState<Pick<Seen, 'under' | 'smells' | 'fresh' | 'cover' | 'culture'>>({})
  const [note, setNote] = useState('')
  const photo = usePhoto()
  const group = useId()
  if (!isThere(table)) return <NotYet of={[table]} what="the swatches" />
  const found = table.data.lines.find(
    ({ seen }) =>
      seen.colour === colour &&
      seen.texture === texture &&
      Boolean(seen.under) === Boolean(more.under) &&
      Boolean(seen.smells) === Boolean(more.smells) &&
      Boolean(seen.fresh) === Boolean(more.fresh),
  )
  const set = (change: Partial<typeof more>) => setMore((m) => ({ ...m, ...change }))
  const clear = () => {
    setColour(undefined)
    setTexture(undefined)
    setMore({})
    setNote('')
    photo.clear()
  }
  const none = () => {
    send(
      {
        to: 'entries',
        ask: {
          acts: [{ act: 'checked', piece, check: 'mould', grade: 'none', note: note.trim() || null, photo: photo.name ?? null }],
        },
      },
      { words: `${tag}: no mould`, owner: AT_HOOK, piece, typed: [] },
    )
    clear()
  }
  const write = () => {
    if (!colour || !texture) return
    const mould: Seen = { colour, texture, ...more }
    send(
      {
        to: 'entries',
        ask: { acts: [{ act: 'checked', piece, check: 'mould', mould, note: note.trim() || null, photo: photo.name ?? null }] },
      },
      { words: `mould on ${tag}: ${colourWords[colour]}, ${textureWords[texture]}`, owner: AT_HOOK, piece, typed: [] },
    )
    clear()
  }
  return (
    <form
      aria-label={`Mould on ${tag}`}
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault()
        write()
      }}
    >
      <fieldset>
        <legend className="mb-1 font-semibold">What is there</legend>
        <div className="grid grid-cols-4 gap-1.5">
          {(Object.keys(colourWords) as MouldColour[]).map((c) =>
            (Object.keys(textureWords) as MouldTexture[]).map((t) => {
              const isOn = c === colour && t === texture
              return (
                <label
                  key={`${c} ${t}`}
                  className={`grid cursor-pointer justify-items-center gap-0.5 border-2 p-1 text-center text-[0.9rem] leading-tight has-focus-visible:outline-3 has-focus-visible:outline-violet ${isOn ? 'border-violet bg-violet-wash font-semibold' : 'border-line bg-table'}`}
                >
                  <input
                    type="radio"
                    name={group}
                    className="sr-only"
                    checked={isOn}
                    onChange={() => {
                      setColour(c)
                      setTexture(t)
                    }}
                  />
                  <Swatch colour={c} texture={t} />
                  <span>
                    {colourWords[c]}, {textureWords[t]}
                  </span>
                </label>
              )
            }),
          )}
        </div>
      </fieldset>
      <div className="flex flex-wrap gap-x-5">
        <Tick label="under the casing, or in the meat" checked={more.under ?? false} onChange={(under) => set({ under })} />
        <Tick label="it smells bad" checked={more.smells ?? false} onChange={(smells) => set({ smells })} />
        <Tick label="few spots, new since the last look" checked={more.fresh ?? false} onChange={(fresh) => set({ fresh })} />
      </div>
      <div className="flex flex-wrap gap-x-6 gap-y-3">
        <Choice label="How much" value={more.cover ?? undefined} options={[...covers]} onChange={(cover) => set({ cover })} />
        <Choice
          label="Where from"
          value={more.culture ?? undefined}
          options={[...cultures]}
          onChange={(culture) => set({ culture })}
        />
      </div>
      <TextField label="Note" value={note} onChange={setNote} />
      <div className="flex flex-wrap items-center gap-2">
        <PhotoPick photo={photo} />
      </div>
      <PhotoRefused photo={photo} />
      {found && (
        <div role="status" className={`border-l-8 p-3 ${looks[found.call]}`}>
          <p className="font-semibold">{found.name}</p>
          <p>{found.leads_to}</p>
        </div>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={!found || photo.busy}>
          Write the call down
        </button>
        <button type="button" className="press" onClick={none} disabled={photo.busy}>
          No mould at all
        </button>
      </div>
    </form>
  )
}

const looks: Record<Schemas['MouldCall'], string> = {
  good: 'border-good bg-good-wash',
  wipe: 'border-caution bg-caution-wash',
  take_out: 'border-stop bg-stop-wash',
  discard: 'border-stop bg-stop-wash',
}
