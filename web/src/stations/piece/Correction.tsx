import { isThere, NotYet } from '../../kit/Fetched'
import { useState } from 'react'
import { type Ask, AskFields } from '../../acts/AskFields'
import { type ActAsk, problemOf, type Schemas } from '../../api/client'
import { useAskedAgain, useCorrect } from '../../api/entries'
import { WhenField } from '../../kit/Fields'
import { Refused } from '../../kit/States'

type Happened = Schemas['Happened']

/** Puts what really happened in the place of an entry. */
export function Correction({ entry, onDone }: { entry: Happened; onDone: () => void }) {
  const asked = useAskedAgain(entry.entry)
  if (!isThere(asked)) return <NotYet of={[asked]} what="the entry" />
  return <Form entry={entry} asked={asked.data} onDone={onDone} />
}

function Form({ entry, asked, onDone }: { entry: Happened; asked: Schemas['AskedAgain']; onDone: () => void }) {
  const [ask, setAsk] = useState(asked.act as Ask)
  const [when, setWhen] = useState('')
  const correct = useCorrect()
  const wrong = (field: string) => (correct.error ? problemOf(correct.error).field(field) : undefined)
  const send = () =>
    correct.mutate({ entry: entry.entry, act: ask as ActAsk, happened_at: when || undefined }, { onSuccess: onDone })
  return (
    <form
      className="mt-2 grid gap-2 border-l-8 border-violet bg-violet-wash p-3"
      aria-label={`Correct ${entry.what}`}
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <AskFields fields={asked.fields} ask={ask} onChange={setAsk} wrong={wrong} />
      {asked.fields.length === 0 && <p className="text-soft">Nothing was typed here but the time.</p>}
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} kept />
      <Refused error={correct.error} onKeep={correct.keep} busy={correct.isPending} />
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="press press-main" disabled={correct.isPending}>
          Put it right
        </button>
        <button type="button" className="press" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  )
}
