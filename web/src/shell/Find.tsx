import { useNavigate } from '@tanstack/react-router'
import { useDeferredValue, useEffect, useRef, useState } from 'react'
import { useFound } from '../api/find'
import { problemOf, type Schemas } from '../api/client'
import { TextField } from '../kit/Fields'
import { useFormat } from '../units'
import { stageWords } from '../stations/words'

/** Which one is this: by tag, name, date or note, or by what it weighs and how thick it is. */
export function Find({ onDone }: { onDone: () => void }) {
  const [text, setText] = useState('')
  const [at, setAt] = useState(0)
  const wanted = useRef<string>(undefined)
  const asked = useDeferredValue(text)
  const answer = useFound(asked)
  const navigate = useNavigate()
  const found = asked.trim() === '' ? [] : (answer.data?.found ?? [])
  const here = Math.min(at, found.length - 1)
  const isAnswered = asked === text && answer.data !== undefined && !answer.isPlaceholderData
  const open = (one: Schemas['FoundOne']) => {
    onDone()
    if (one.piece != null) void navigate({ to: '/pieces/$id', params: { id: String(one.piece) } })
    else void navigate({ to: '/breakdown/$id', params: { id: String(one.lot) } })
  }
  // Enter is often quicker than the answer, which is not to be the one to an earlier question.
  const openWanted = () => {
    const first = found[here]
    if (wanted.current !== text || !isAnswered) return
    wanted.current = undefined
    if (first) open(first)
  }
  useEffect(openWanted)
  return (
    <form
      className="grid gap-2"
      role="search"
      onSubmit={(e) => {
        e.preventDefault()
        wanted.current = text
        openWanted()
      }}
      onKeyDown={(e) => {
        if (e.key === 'ArrowDown') setAt(Math.min(here + 1, found.length - 1))
        else if (e.key === 'ArrowUp') setAt(Math.max(here - 1, 0))
        else return
        e.preventDefault()
      }}
    >
      <TextField
        label="What is it?"
        value={text}
        onChange={(t) => {
          setText(t)
          setAt(0)
        }}
        hint="A tag, a cut, a product, an animal, 12 nov, a word of a note; or 2.1 kg 45 mm for one without its tag."
        error={answer.isError ? problemOf(answer.error).message : undefined}
      />
      {asked.trim() !== '' && answer.data && found.length === 0 && (
        <p className="text-soft">Nothing here answers that. Fewer words find more.</p>
      )}
      <ul className="divide-y divide-line" aria-label="Found">
        {found.map((one, i) => (
          <li key={`${one.tag}-${one.pack ?? one.piece ?? one.lot}`}>
            <button
              type="button"
              aria-current={i === here || undefined}
              onClick={() => open(one)}
              className={`grid w-full grid-cols-[auto_minmax(0,1fr)_auto] items-center gap-3 p-2.5 text-left ${i === here ? 'bg-violet-wash' : 'hover:bg-steel'}`}
            >
              <span className="tag">{one.tag}</span>
              <FoundWords one={one} />
            </button>
          </li>
        ))}
      </ul>
      {answer.data && found.length > 0 && answer.data.in_all > found.length && (
        <p className="text-soft">And {answer.data.in_all - found.length} more; another word tells them apart.</p>
      )}
    </form>
  )
}

function FoundWords({ one }: { one: Schemas['FoundOne'] }) {
  const format = useFormat()
  return (
    <>
      <span className="min-w-0">
        <span className="block truncate font-semibold">{one.name}</span>
        <span className="block truncate text-[0.95rem] text-soft">
          {[one.animal, one.pack != null ? 'a pack' : one.stage && stageWords[one.stage], ...one.because]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </span>
      <span className="figures text-right">
        {format.mass(one.mass_g)}
        {one.thickness_mm != null && <span className="block text-[0.95rem] text-soft">{format.length(one.thickness_mm)}</span>}
      </span>
    </>
  )
}
