import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useSetRight } from '../../api/settings'
import { MomentField } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'

/** Entries that are newer than the present, put right together. */
export function Clock({ ahead }: { ahead: Schemas['AheadView'] }) {
  const right = useSetRight()
  const format = useFormat()
  const [last, setLast] = useState('')
  const ask = { entries: ahead.entries, last_at: last || null, keep_as_typed: false }
  const many = ahead.entries > 1
  return (
    <form
      aria-label="The clock"
      id="clock"
      className="table-top grid max-w-3xl gap-3 border-stop p-4"
      onSubmit={(e) => {
        e.preventDefault()
        right.mutate(ask)
      }}
    >
      <h2>The clock</h2>
      <p>
        {ahead.words} {ahead.way_out}
      </p>
      <MomentField
        label={many ? 'When the last of them was really done' : 'When it was really done'}
        hint={
          many
            ? `It says ${format.moment(ahead.last)}. The others keep their distance to it. Leave it empty for now.`
            : `It says ${format.moment(ahead.last)}. Leave it empty for now.`
        }
        value={last}
        onChange={setLast}
        error={right.error ? problemOf(right.error).field('last_at') : undefined}
      />
      <Refused
        error={right.error}
        busy={right.isPending}
        onKeep={(at) => right.mutate(at ? { ...ask, last_at: at } : { ...ask, keep_as_typed: true })}
      />
      <button type="submit" className="press press-main justify-self-start" disabled={right.isPending}>
        {many ? `Put the times of ${ahead.entries} entries right` : 'Put its time right'}
      </button>
    </form>
  )
}
