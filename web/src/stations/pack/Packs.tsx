import { isThere, NotYet } from '../../kit/Fetched'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useMorePacks, usePacks } from '../../api/packs'
import { TextField } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty, More, Refused } from '../../kit/States'
import { VerdictWord } from '../../kit/Verdict'
import { useFormat } from '../../units'

type Line = Schemas['PackLine']

/** Every pack in the house by where it lies, the one whose date comes first before the others. */
export function Packs() {
  const packs = usePacks()
  const rest = useMorePacks(packs.data)
  if (!isThere(packs)) return <NotYet of={[packs]} what="the packs" page="Packs" />
  const { in_all, past } = packs.data
  const list = [packs.data, ...rest.pages].flatMap((p) => p.packs)
  const places = new Map<string, Line[]>()
  for (const pack of list) {
    const at = pack.lies_in ?? pack.kept_in ?? 'nobody said where'
    places.set(at, [...(places.get(at) ?? []), pack])
  }
  return (
    <Page
      title="Packs in the house"
      lead={past > 0 ? `${past} of ${in_all} past their date.` : `${in_all} in all, by their dates.`}
      side={
        <Link to="/pack" className="press">
          Pack
        </Link>
      }
    >
      {list.length === 0 && (
        <Empty title="No packs in the house">What is packed stands here until it is eaten or given away.</Empty>
      )}
      <div className="grid gap-6">
        {[...places].map(([place, lines]) => (
          <section key={place} aria-label={place}>
            <h2 className="mb-1.5">
              {place} <span className="figures font-normal text-soft">{lines.length}</span>
            </h2>
            <ul className="table-top divide-y divide-line">
              {lines.map((p) => (
                <PackRow key={p.id} pack={p} />
              ))}
            </ul>
          </section>
        ))}
      </div>
      <More left={in_all - list.length} rest={rest} />
    </Page>
  )
}

function PackRow({ pack }: { pack: Line }) {
  const format = useFormat()
  return (
    <li className="grid gap-1 p-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <Link to="/pieces/$id" params={{ id: String(pack.piece) }} className="tag">
          {pack.tag}
        </Link>
        <span className="min-w-0 grow font-semibold">{pack.product}</span>
        <span className="figures">{format.mass(pack.mass_g)}</span>
        {pack.until && (
          <span className={pack.past ? 'font-semibold text-stop' : 'text-soft'}>
            {pack.past ? 'past its date ' : 'best before '}
            <span className="figures">{pack.until}</span>
          </span>
        )}
        <VerdictWord verdict={pack.verdict} />
      </div>
      <Leave pack={pack.id} tag={pack.tag} piece={pack.piece} />
    </li>
  )
}

/** Out of the house in a tap: eaten, given to somebody; thrown away, where its piece is named. */
export function Leave({ pack, tag, piece }: { pack: number; tag: string; piece?: number }) {
  const record = useRecord()
  const [giving, setGiving] = useState(false)
  const [to, setTo] = useState('')
  const hidden = <span className="sr-only"> {tag}</span>
  return (
    <div className="no-print grid gap-1">
      <p className="flex flex-wrap gap-x-4">
        <button
          type="button"
          className="quiet"
          disabled={record.isPending}
          onClick={() => record.mutate({ acts: [{ act: 'pack_left', packs: [pack], left: 'eaten' }] })}
        >
          Eaten{hidden}
        </button>
        <button type="button" className="quiet" aria-expanded={giving} onClick={() => setGiving(!giving)}>
          Given away{hidden}
        </button>
        {piece !== undefined && (
          <button
            type="button"
            className="quiet"
            disabled={record.isPending}
            onClick={() => record.mutate({ acts: [{ act: 'discarded', piece, packs: [pack], reason: 'thrown away' }] })}
          >
            Thrown away{hidden}
          </button>
        )}
      </p>
      {giving && (
        <form
          className="flex flex-wrap items-end gap-2"
          aria-label={`Given away ${tag}`}
          onSubmit={(e) => {
            e.preventDefault()
            record.mutate({ acts: [{ act: 'pack_left', packs: [pack], left: 'given_away', to: to.trim() || null }] })
          }}
        >
          <TextField label="Who has it" value={to} onChange={setTo} hint="So that they can be told." />
          <button type="submit" className="press mb-7" disabled={record.isPending}>
            Write it down
          </button>
        </form>
      )}
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </div>
  )
}
