import { Printer } from 'lucide-react'
import { useMemo, useState } from 'react'
import { type PieceCard, problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { useSheet } from '../../api/planning'
import { TextField, Tick, WhenField } from '../../kit/Fields'
import { MainAction } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Failed, Findings, Loading, Refused } from '../../kit/States'
import { printOnly } from '../../kit/print'
import { decimals, percent, useFormat } from '../../units'
import { DoseBand } from './DoseBand'
import { asBuild, OwnDose, ownDose } from './OwnDose'
import { Schools } from './Schools'

/** The weigh-out: the number to hit for each ingredient, ticked off one after another. */
export function WeighOutDose({ pieces, first }: { pieces: PieceCard[]; first?: number }) {
  const start = pieces.find((p) => p.id === first) ?? pieces[0]!
  const [chosen, setChosen] = useState<number[]>([start.id])
  const [mixed, setMixed] = useState(false)
  const [own, setOwn] = useState(asBuild)
  const here = useMemo(() => {
    const selected = pieces.filter((p) => chosen.includes(p.id))
    // A piece that left the table on another device is no longer chosen.
    return selected.length > 0 ? selected : [pieces[0]!]
  }, [pieces, chosen])
  const build = here[0]!.build
  const ask = useMemo(() => ({ pieces: here.map((p) => p.id), mixed, own: ownDose(own) }), [here, mixed, own])
  const sheet = useSheet(ask)
  // While something typed cannot be read, the last sheet stays, and what was typed stays with it.
  const pieceKey = `${ask.pieces.join()}-${mixed}`
  const [last, setLast] = useState({ key: '', sheet: sheet.data })
  if (sheet.data && (last.sheet !== sheet.data || last.key !== pieceKey)) setLast({ key: pieceKey, sheet: sheet.data })
  const shown = sheet.data ?? (last.key === pieceKey ? last.sheet : undefined)
  const problem = sheet.error ? problemOf(sheet.error) : undefined
  const wrong = (field: string) => problem?.field(field)
  const toggle = (piece: PieceCard) => {
    if (piece.build !== build) return setChosen([piece.id])
    const next = chosen.includes(piece.id) ? chosen.filter((id) => id !== piece.id) : [...chosen, piece.id]
    setChosen(next.length > 0 ? next : [piece.id])
  }
  return (
    <section aria-label="Weigh out the cure" className="grid gap-3">
      <div className="no-print">
        <ul className="flex flex-wrap gap-2" aria-label="Pieces that wait for their dose">
          {pieces.map((p) => {
            const on = here.includes(p)
            return (
              <li key={p.id}>
                <button
                  type="button"
                  aria-pressed={on}
                  onClick={() => toggle(p)}
                  className={`min-h-12 border-2 px-2.5 text-left ${on ? 'border-violet bg-violet-wash' : 'border-line bg-table'}`}
                >
                  <span className="figures font-semibold">{p.tag}</span> <span className="text-soft">{p.build_name}</span>
                </button>
              </li>
            )
          })}
        </ul>
      </div>
      {!shown && sheet.isPending && <Loading what="the numbers to hit" />}
      {!shown && sheet.isError && <Failed error={sheet.error} onRetry={() => sheet.refetch()} />}
      {shown && (
        <SheetTable
          key={pieceKey}
          sheet={shown}
          ask={ask}
          pieces={here}
          stale={sheet.isPlaceholderData || sheet.isError}
          unread={sheet.error}
        >
          {here.length > 1 && shown.can_be_mixed && (
            <Tick label="One mix for all of them, shared out by weight" checked={mixed} onChange={setMixed} />
          )}
          <OwnDose sheet={shown} typed={own} onChange={setOwn} wrong={wrong} />
        </SheetTable>
      )}
    </section>
  )
}

function SheetTable(props: {
  sheet: Schemas['Sheet']
  ask: { pieces: number[]; mixed: boolean; own: Schemas['OwnDose'] }
  pieces: PieceCard[]
  stale: boolean
  /** Why the sheet could not be worked out from what is typed now. */
  unread: unknown
  children: React.ReactNode
}) {
  const { sheet, ask, pieces } = props
  const record = useRecord()
  const format = useFormat()
  const [weighed, setWeighed] = useState<string[]>([])
  const [reason, setReason] = useState('')
  const [when, setWhen] = useState('')
  const [place, setPlace] = useState('')
  const oneByOne = !sheet.mixed && sheet.pieces.length > 1
  const start = () =>
    record.mutate({
      acts: [{ act: 'dosed', ...ask, reason: reason || null, place: place || null }],
      seen: pieces.map((p) => ({ piece: p.id, version: p.version })),
      happened_at: when || undefined,
    })
  const tick = (name: string) => setWeighed((w) => (w.includes(name) ? w.filter((n) => n !== name) : [...w, name]))
  const lists = oneByOne
    ? sheet.pieces.map((p) => ({ title: p.tag, id: String(p.piece), lines: p.lines }))
    : [{ title: '', id: 'all', lines: sheet.lines }]
  const all = lists.flatMap((l) => l.lines.map((line) => l.id + line.name))
  const left = all.filter((name) => !weighed.includes(name)).length
  const wrong = record.error ? problemOf(record.error).field('reason') : undefined
  return (
    <div className="table-top grid gap-5 p-4 lg:grid-cols-[3fr_2fr]">
      <div className={`grid content-start gap-4 ${props.stale ? 'opacity-60' : ''}`}>
        {lists.map((list) => (
          <div key={list.id}>
            {list.title && <h3 className="figures mb-1">{list.title}</h3>}
            <ul className="divide-y divide-line border-y border-line">
              {list.lines.map((line) => (
                <Line
                  key={line.name}
                  line={line}
                  ticked={weighed.includes(list.id + line.name)}
                  onTick={() => tick(list.id + line.name)}
                />
              ))}
            </ul>
          </div>
        ))}
        <MadeOf sheet={sheet} />
        {sheet.mixed && sheet.can_be_mixed && <Portions sheet={sheet} />}
        {sheet.salometer_degrees != null && (
          <p className="text-soft">
            All of it in cold water: <span className="figures">{sheet.salometer_degrees.toFixed(0)}°</span> on a salometer. Meat
            goes in at 4 °C or colder.
          </p>
        )}
      </div>
      <div className="grid content-start gap-4">
        {sheet.pieces.map((p) => (
          <div key={p.piece}>
            <p>
              <strong className="figures">{p.tag}</strong> <span className="figures">{format.mass(p.meat_g)}</span> of{' '}
              {pieces.find((c) => c.id === p.piece)?.cut_name}
              {p.thickness_mm != null && <span className="figures">, {format.length(p.thickness_mm)} thick</span>}, takes in
            </p>
            <DoseBand
              nominal={p.nitrite.nominal}
              low={p.nitrite.low}
              high={p.nitrite.high}
              ceiling={p.ceiling_ppm}
              floor={p.floor_ppm}
              label={p.tag}
            />
            <Schools piece={p} />
            {p.findings.length > 0 && (
              <div className="mt-2">
                <Findings list={p.findings} />
              </div>
            )}
          </div>
        ))}
        <Findings list={sheet.findings} />
        <div className="no-print grid gap-2">
          {props.children}
          <PlaceSelect
            label="Where it lies"
            uses={['cold', 'brine', 'press']}
            value={place}
            onChange={setPlace}
            error={record.error ? problemOf(record.error).field('place') : undefined}
          />
          <WhenField
            value={when}
            onChange={setWhen}
            error={record.error ? problemOf(record.error).field('happened_at') : undefined}
          />
        </div>
        {sheet.needs_reason && !sheet.refused && (
          <TextField
            label="Why you go on past a stop"
            value={reason}
            onChange={setReason}
            hint="It stays with the piece and goes on its label."
            error={wrong}
          />
        )}
        <Refused error={record.error ?? props.unread} />
        <MainAction>
          <button
            type="button"
            className="press press-main bench"
            disabled={record.isPending || props.stale || sheet.refused || left > 0}
            onClick={start}
          >
            {sheet.refused ? 'Cannot be started' : left > 0 ? `${left} still to weigh` : 'Start the cure'}
          </button>
          <button type="button" className="press bench" onClick={() => printOnly('sheet')}>
            <Printer size={19} aria-hidden /> Print the sheet
          </button>
        </MainAction>
      </div>
    </div>
  )
}

/** One ingredient: the number to hit is the largest thing on the screen. */
function Line({ line, ticked, onTick }: { line: Schemas['SheetLine']; ticked: boolean; onTick: () => void }) {
  const { fineDivision } = useFormat()
  const places = decimals(fineDivision)
  const shown = line.shown_g.toFixed(places)
  return (
    <li className="grid grid-cols-[1fr_auto] items-center gap-x-3">
      <button
        type="button"
        aria-pressed={ticked}
        onClick={onTick}
        className={`flex min-h-18 items-center justify-between gap-3 py-1 text-left ${ticked ? 'text-soft' : ''}`}
      >
        <span className="text-lg font-semibold">
          {line.name}
          {ticked && <span className="ml-2 text-[0.95rem] font-normal">weighed</span>}
        </span>
        <span className={`figures text-5xl leading-none font-semibold ${ticked ? 'line-through decoration-2 opacity-70' : ''}`}>
          {shown}
          <span className="text-2xl font-normal"> g</span>
        </span>
      </button>
      <details className="no-print relative">
        <summary className="quiet list-none" aria-label={`How ${line.name} was worked out`}>
          how
        </summary>
        <p className="figures absolute right-0 z-10 w-64 border border-edge bg-table p-2 text-[0.9rem] shadow">
          {line.made_of}
          <br />= {line.exact_g.toFixed(places + 1)} g; the scale shows {shown} g
        </p>
      </details>
    </li>
  )
}

/** What the curing salt in hand has to hold for these numbers to be right. */
function MadeOf({ sheet }: { sheet: Schemas['Sheet'] }) {
  const made = sheet.cure_made_of
  const parts = [
    ['sodium nitrite', made.nitrite],
    ['sodium nitrate', made.nitrate],
    ['salt', made.salt],
    ['sugar', made.sugar],
  ] as const
  const held = parts.flatMap(([name, share]) => (share ? [`${percent(share, 2)} ${name}`] : []))
  if (held.length === 0) return null
  return (
    <p className="text-soft">
      {sheet.cure_name} here is <span className="figures">{held.join(', ')}</span>: compare with the bag in hand.
    </p>
  )
}

function Portions({ sheet }: { sheet: Schemas['Sheet'] }) {
  const { fineDivision } = useFormat()
  return (
    <div>
      <h3>Mix it well, then weigh out the mix</h3>
      <ul className="divide-y divide-line border-y border-line">
        {sheet.pieces.map((p) => (
          <li key={p.piece} className="figures flex min-h-14 items-center justify-between gap-3">
            <span className="font-semibold">{p.tag}</span>
            <span className="text-4xl font-semibold">
              {(p.portion_g ?? 0).toFixed(decimals(fineDivision))}
              <span className="text-xl font-normal"> g</span>
            </span>
          </li>
        ))}
      </ul>
    </div>
  )
}
