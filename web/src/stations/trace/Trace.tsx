import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import type { Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useLotTrace, usePackTrace } from '../../api/packs'
import { Page } from '../../kit/Page'
import { Empty, Refused } from '../../kit/States'
import { PieceTag, PlainTag } from '../../kit/Tag'
import { VerdictWord } from '../../kit/Verdict'
import { useFormat } from '../../units'
import { stageWords } from '../words'

/** Where the meat of an animal went: packs, pieces on their way, and what was ground after it. */
export function LotTrace() {
  const { id } = useParams({ from: '/trace/lots/$id' })
  const trace = useLotTrace(Number(id))
  const record = useRecord()
  if (!isThere(trace)) return <NotYet of={[trace]} what="where it went" page="Trace" />
  const { lot, pieces, packs, ground_after, ground_after_packs } = trace.data
  return (
    <Page
      title={`Where the meat of ${lot.name} is`}
      lead={`${lot.species}, ${lot.tag}. At any depth of grinding and joining.`}
      side={<PrintButton />}
    >
      <div className="grid grid-cols-1 gap-6">
        {lot.positive && (
          <p className="border-l-8 border-stop bg-stop-wash px-3 py-2 font-semibold text-stop">
            This animal tested positive. Nobody eats any of what stands here. Keep it apart, and get rid of it as your wildlife
            agency says.
          </p>
        )}
        {packs.length + pieces.length === 0 && (
          <Empty title="Nothing of it was weighed out">
            <Link className="quiet" to="/breakdown/$id" params={{ id }}>
              Break it down
            </Link>
          </Empty>
        )}
        <Packs title="Packs with meat of it" packs={packs} />
        <Pieces title="Pieces on their way" pieces={pieces} />
        {ground_after.length + ground_after_packs.length > 0 && (
          <section aria-label="Ground after it">
            <h2 className="mb-1.5">Ground after it the same day</h2>
            <p className="mb-2 text-soft">
              Until somebody writes down that grinder, board and knives were cleaned, what was ground afterwards may hold some of
              it.
            </p>
            <div className="grid gap-3">
              <Packs packs={ground_after_packs} />
              <Pieces pieces={ground_after} />
            </div>
          </section>
        )}
        <div className="no-print">
          <button
            type="button"
            className="press"
            disabled={record.isPending}
            onClick={() => record.mutate({ acts: [{ act: 'cleaned', lot: lot.lot }] })}
          >
            The tools were cleaned after it, just now
          </button>
          <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        </div>
      </div>
    </Page>
  )
}

/** Which animals are in a pack. */
export function PackTrace() {
  const { id } = useParams({ from: '/trace/packs/$id' })
  const trace = usePackTrace(Number(id))
  const format = useFormat()
  if (!isThere(trace)) return <NotYet of={[trace]} what="what is in it" page="Trace" />
  const { pack, meat, lots, bought, pieces } = trace.data
  return (
    <Page
      title={`What is in pack ${pack.tag}`}
      lead={`${pack.product}, ${meat}, ${format.mass(pack.mass_g)}.`}
      side={<PrintButton />}
    >
      <div className="grid grid-cols-1 gap-6">
        <div className="max-w-xl">
          <VerdictWord verdict={pack.verdict} />
        </div>
        <section aria-label="Animals in it">
          <h2 className="mb-1.5">Animals in it</h2>
          <ul className="table-top divide-y divide-line">
            {lots.map((l) => (
              <li key={l.lot} className="flex flex-wrap items-center gap-3 p-2.5">
                <PlainTag tag={l.tag} />
                <span className="grow">
                  <strong>{l.name}</strong>, {l.species}
                  {l.positive && <span className="ml-2 font-semibold text-stop">tested positive</span>}
                </span>
                <Link className="quiet" to="/trace/lots/$id" params={{ id: String(l.lot) }}>
                  Where its meat is
                </Link>
              </li>
            ))}
            {bought.map((name) => (
              <li key={name} className="p-2.5">
                {name}, bought for it
              </li>
            ))}
          </ul>
        </section>
        <Pieces title="The pieces it came out of" pieces={pieces} />
      </div>
    </Page>
  )
}

function PrintButton() {
  return (
    <button type="button" className="press no-print" onClick={() => window.print()}>
      <Printer size={18} aria-hidden /> Print
    </button>
  )
}

function Packs({ title, packs }: { title?: string; packs: Schemas['TracedPack'][] }) {
  const format = useFormat()
  if (packs.length === 0) return null
  return (
    <section aria-label={title}>
      {title && (
        <h2 className="mb-1.5">
          {title} <span className="figures font-normal text-soft">{packs.length}</span>
        </h2>
      )}
      <ul className="table-top divide-y divide-line">
        {packs.map((p) => (
          <li key={p.pack} className="grid gap-x-3 gap-y-1 p-2.5 sm:grid-cols-[8rem_1fr_auto] sm:items-center">
            <Link
              className="figures font-semibold underline underline-offset-3"
              to="/pieces/$id"
              params={{ id: String(p.piece) }}
            >
              {p.tag}
            </Link>
            <span>
              {p.product}, <span className="figures">{format.mass(p.mass_g)}</span>
              {p.lies_in && `, in ${p.lies_in}`}
              {!p.there && <strong>, thrown away</strong>}
            </span>
            <VerdictWord verdict={p.verdict} />
          </li>
        ))}
      </ul>
    </section>
  )
}

function Pieces({ title, pieces }: { title?: string; pieces: Schemas['TracedPiece'][] }) {
  if (pieces.length === 0) return null
  return (
    <section aria-label={title}>
      {title && (
        <h2 className="mb-1.5">
          {title} <span className="figures font-normal text-soft">{pieces.length}</span>
        </h2>
      )}
      <ul className="table-top divide-y divide-line">
        {pieces.map((p) => (
          <li key={p.piece} className="grid gap-x-3 gap-y-1 p-2.5 sm:grid-cols-[8rem_1fr_auto] sm:items-center">
            <span>
              <PieceTag id={p.piece} tag={p.tag} />
            </span>
            <span>
              {p.product && `${p.product}; `}
              {stageWords[p.stage]}
            </span>
            <VerdictWord verdict={p.verdict} />
          </li>
        ))}
      </ul>
    </section>
  )
}
