import { Link } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { type ActAsk, type PieceCard, ProblemError, problemOf, type Schemas } from '../../api/client'
import { useLine, usePresence } from '../../api/entries'
import { useSheet } from '../../api/planning'
import { drop, leftAt, send, type Sending } from '../../api/queue'
import { AsText } from '../../kit/AsText'
import { dropDraft, putBack, useDraft } from '../../kit/drafts'
import { Select, TextField, Tick, WhenField } from '../../kit/Fields'
import { aboutPieces, isOnItsWay } from '../../kit/held'
import { MainAction } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Failed, Findings, Loading, Refused } from '../../kit/States'
import { printOnly } from '../../kit/print'
import { decimals, percent, useFormat } from '../../units'
import { Answer, AskedAbout } from '../weigh/AskedAbout'
import { DoseBand } from './DoseBand'
import { blank, FORM, formOf, sheetAsk, TABLE, type Typed } from './draft'
import { asBuild, OwnDose } from './OwnDose'
import { Schools } from './Schools'
import { isTicked, listsOf, type Ticked } from './ticks'
import { LayInto } from './LayInto'
import { Times } from './Times'
import { Shares, Vessels } from './Vessels'
import { BesideTheDose, Ways, WayWords } from './Ways'

const inWords = (pieces: PieceCard[]) => `the dose of ${pieces.map((p) => p.tag).join(', ')}`

/** The weigh-out: the number to hit for each ingredient, ticked off one after another. */
export function WeighOutDose({ pieces: all, lying, first }: { pieces: PieceCard[]; lying: PieceCard[]; first?: number }) {
  const line = useLine()
  const pieces = all.filter((p) => !isOnItsWay(line, FORM, p.id, p.version))
  const asked = useRef<number>(undefined)
  const { value: chosen, set: setChosen } = useDraft<number[]>(TABLE, [], () => '')
  const refused = line.filter((s) => s.owner === FORM && s.state === 'refused')
  usePresence(FORM)
  // The address asks for a piece.
  useEffect(() => {
    if (first === undefined || asked.current === first) return
    asked.current = first
    if (pieces.some((p) => p.id === first)) setChosen((c) => (c.includes(first) ? c : [first]))
  }, [first, pieces, setChosen])
  const back = (s: Sending) => {
    setChosen(aboutPieces(s))
    drop(s.key)
  }
  // What was refused comes back to the table, unless other pieces were laid there since.
  const brought = useRef(new Set<string>())
  const latest = refused.at(-1)
  useEffect(() => {
    if (!latest || brought.current.has(latest.key)) return
    brought.current.add(latest.key)
    if (chosen.length === 0) setChosen(aboutPieces(latest))
  }, [latest, chosen, setChosen])
  const here = pieces.filter((p) => chosen.includes(p.id))
  const table = here.length > 0 ? here : pieces.slice(0, 1)
  if (table.length === 0) return <AskedAbout list={refused} onBack={back} />
  return (
    <section aria-label="Weigh out the cure" className="grid gap-3">
      <LeftTheTable chosen={chosen} all={all} onSeen={() => setChosen(table.map((p) => p.id))} />
      <OneWeighOut
        key={table.map((p) => p.id).join('-')}
        pieces={pieces}
        lying={lying}
        here={table}
        onChoose={setChosen}
        refused={refused}
        onBack={back}
      />
    </section>
  )
}

/** Says that another device took a piece off the table; what was ticked for all of them together holds no longer. */
function LeftTheTable(props: { chosen: number[]; all: PieceCard[]; onSeen: () => void }) {
  const line = useLine()
  const gone = props.chosen.filter((id) => !props.all.some((p) => p.id === id) && leftAt(id) === 0 && !isOnItsWay(line, FORM, id))
  if (gone.length === 0) return null
  return (
    <div role="alert" className="flex flex-wrap items-center gap-x-3 border-l-8 border-caution bg-caution-wash px-3 py-1">
      <p className="grow">
        {gone.length === 1 ? 'A piece' : `${gone.length} pieces`} of this weigh-out moved on from another device:{' '}
        {gone.map((id) => (
          <Link key={id} to="/pieces/$id" params={{ id: String(id) }} className="quiet">
            what happened
          </Link>
        ))}
        What was ticked with it holds no longer.
      </p>
      <button type="button" className="quiet" onClick={props.onSeen}>
        Seen
      </button>
    </div>
  )
}

interface OneProps {
  pieces: PieceCard[]
  lying: PieceCard[]
  here: PieceCard[]
  onChoose: (chosen: number[]) => void
  refused: Sending[]
  onBack: (s: Sending) => void
}

function OneWeighOut({ pieces, lying, here, onChoose, refused, onBack }: OneProps) {
  const draft = useDraft(formOf(here), blank, () => inWords(here))
  const products = [...new Set(here.map((p) => p.build))]
  const build = here[0]!.build
  const typed: Typed = { ...blank, ...draft.value }
  // One mix over several products goes by one of their recipes.
  if (products.length > 1) Object.assign(typed, { mixed: true, recipe: typed.recipe || (build ?? '') })
  const { mixed, own } = typed
  const ids = here.map((p) => p.id).join()
  const askText = JSON.stringify(sheetAsk(typed, ids.split(',').map(Number)))
  const ask = useMemo(() => JSON.parse(askText) as Schemas['SheetAsk'], [askText])
  const sheet = useSheet(ask)
  // While something typed cannot be read, the last sheet stays, and what was typed stays with it.
  const pieceKey = `${ids}-${mixed}-${typed.way}`
  const [last, setLast] = useState({ key: '', sheet: sheet.data })
  if (sheet.data && (last.sheet !== sheet.data || last.key !== pieceKey)) setLast({ key: pieceKey, sheet: sheet.data })
  const shown = sheet.data ?? (last.key === pieceKey ? last.sheet : undefined)
  const problem = sheet.error ? problemOf(sheet.error) : undefined
  const wrong = (field: string) => problem?.field(field)
  const [across, setAcross] = useState(products.length > 1)
  const asked = refused.find((s) => aboutPieces(s).join() === ids)
  const toggle = (piece: PieceCard) => {
    if (piece.build !== build && !across) return onChoose([piece.id])
    const at = here.map((p) => p.id)
    const next = at.includes(piece.id) ? at.filter((id) => id !== piece.id) : [...at, piece.id]
    if (next.length === 0) return
    carry(pieces.filter((p) => next.includes(p.id)))
    onChoose(next)
  }
  // What was chosen for these stays chosen when one more is laid beside them, or one is taken away; only what was weighed is anew.
  const carry = (next: PieceCard[]) => {
    const chosen = draft.value
    if (draft.isTyped) putBack(formOf(next), { ...chosen, ticks: {} }, inWords(next))
    else dropDraft(formOf(next))
  }
  const set = (change: Partial<Typed>) => draft.set((t) => ({ ...blank, ...t, ...change }))
  // What was typed and ticked for one way means nothing to another.
  const choose = (way: string) => set({ way, own: asBuild, ticks: {}, days: '', hours: '', byEye: false })
  const start = (ticked: Schemas['TickedLine'][]) => {
    if (asked) drop(asked.key)
    const { reason, place, when } = typed
    const act: ActAsk = { act: 'dosed', ...ask, reason: reason || null, place: place || null, ticked }
    const seen = here.map((p) => ({ piece: p.id, version: p.version }))
    send(
      { to: 'entries', ask: { acts: [act], seen, happened_at: when || undefined } },
      { words: inWords(here), owner: FORM, draft: draft.asUsed },
    )
    onChoose([])
  }
  return (
    <>
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
        {pieces.some((p) => p.build !== build) && (
          <Tick label="One mix over several products, by one recipe" checked={across} onChange={setAcross} />
        )}
      </div>
      <LayInto here={here} lying={lying} />
      <AskedAbout list={refused.filter((s) => s !== asked)} onBack={onBack} />
      {!shown && sheet.isPending && <Loading what="the numbers to hit" />}
      {!shown && sheet.isError && <Failed error={sheet.error} onRetry={() => sheet.refetch()} />}
      {shown && <Ways ways={shown.ways} chosen={typed.way} onChoose={choose} />}
      {shown && (
        <SheetTable
          sheet={shown}
          typed={typed}
          onType={set}
          onStart={start}
          asked={asked}
          pieces={here}
          stale={sheet.isPlaceholderData || sheet.isError}
          unread={sheet.error}
          above={<WayWords ways={shown.ways} chosen={typed.way} />}
        >
          {products.length > 1 && (
            <Select label="By whose dose" value={typed.recipe} onChange={(recipe) => set({ recipe })} error={wrong('recipe')}>
              {here
                .filter((p, i) => here.findIndex((o) => o.build === p.build) === i)
                .map((p) => (
                  <option key={p.build} value={p.build ?? ''}>
                    {p.build_name}
                  </option>
                ))}
            </Select>
          )}
          {here.length > 1 && products.length === 1 && shown.can_be_mixed && (
            <Tick label="One mix for all of them, shared out by weight" checked={mixed} onChange={(mixed) => set({ mixed })} />
          )}
          <OwnDose sheet={shown} typed={own} onChange={(own) => set({ own })} wrong={wrong} />
          <Times sheet={shown} typed={typed} onType={set} wrong={wrong} />
          <Vessels sheet={shown} pieces={here} typed={typed} onType={set} wrong={wrong} />
        </SheetTable>
      )}
    </>
  )
}

function SheetTable(props: {
  sheet: Schemas['Sheet']
  typed: Typed
  onType: (change: Partial<Typed>) => void
  onStart: (ticked: Schemas['TickedLine'][]) => void
  /** What was asked about when it was started. */
  asked?: Sending
  pieces: PieceCard[]
  stale: boolean
  /** Why the sheet could not be worked out from what is typed now. */
  unread: unknown
  /** What stands above the numbers, on paper too. */
  above: React.ReactNode
  children: React.ReactNode
}) {
  const { sheet, pieces, typed, onType, asked } = props
  const format = useFormat()
  const { ticks } = typed
  const isBox = sheet.method === 'salt_box'
  const lists = listsOf(sheet)
  const all = lists.flatMap((l) => l.lines.map((t) => ({ ...t, of: l.of })))
  const left = all.filter((t) => !isTicked(ticks, t)).length
  const wrong = (field: string) => (asked?.problem ? new ProblemError(asked.problem).field(field) : undefined)
  const tick = (t: Ticked) => {
    const { [t.id]: before, ...others } = ticks
    onType({ ticks: before === t.line.shown_g ? others : { ...others, [t.id]: t.line.shown_g } })
  }
  const start = () =>
    props.onStart(all.map((t) => ({ piece: t.of === 'all' ? null : Number(t.of), name: t.line.name, mass_g: t.line.shown_g })))
  return (
    <div className="table-top grid gap-5 p-4 lg:grid-cols-[3fr_2fr]">
      <div className={`grid content-start gap-4 ${props.stale ? 'opacity-60' : ''}`}>
        {props.above}
        {lists.map((list) => (
          <div key={list.of}>
            {list.title && <h3 className="figures mb-1">{list.title}</h3>}
            <ul className="divide-y divide-line border-y border-line">
              {list.lines.map((t) => (
                <Line key={t.id} line={t.line} ticked={isTicked(ticks, t)} before={ticks[t.id]} onTick={() => tick(t)} />
              ))}
            </ul>
          </div>
        ))}
        <MadeOf sheet={sheet} />
        <Shares sheet={sheet} />
        <BesideTheDose sheet={sheet} />
        <p className="text-soft">{sheet.scale_checked}</p>
        {sheet.salometer_degrees != null && (
          <p className="text-soft">
            {sheet.heated && (
              <>
                Dissolve in <span className="figures">{format.volume(sheet.heated.hot_g)}</span> of it at{' '}
                <span className="figures">{format.heat(sheet.heated.hot_c)}</span>, then{' '}
                <span className="figures">{format.mass(sheet.heated.ice_g)}</span> of ice and{' '}
                <span className="figures">{format.volume(sheet.heated.cold_g)}</span> cold: about{' '}
                <span className="figures">{format.heat(sheet.heated.comes_to_c)}</span>. Or all of it cold, stirred until
                clear.{' '}
              </>
            )}
            The brine measures <span className="figures">{sheet.salometer_degrees.toFixed(0)}°</span> on a salometer. Meat goes in
            at 4 °C or colder.
          </p>
        )}
      </div>
      <div className="grid content-start gap-4">
        {sheet.pieces.map((p) => (
          <div key={p.piece}>
            <p>
              <strong className="figures">{p.tag}</strong> <span className="figures">{format.mass(p.meat_g)}</span> of{' '}
              {pieces.find((c) => c.id === p.piece)?.cut_name}
              {p.thickness_mm != null && <span className="figures">, {format.length(p.thickness_mm)} thick</span>}
              {!isBox && (p.nitrite.high > 0 ? ', gets' : ', without nitrite')}
            </p>
            {!isBox && p.nitrite.high > 0 && (
              <DoseBand
                nominal={p.nitrite.nominal}
                low={p.nitrite.low}
                high={p.nitrite.high}
                ceiling={p.ceiling_ppm}
                floor={p.floor_ppm}
                label={p.tag}
              />
            )}
            <InThePiece piece={p} />
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
            uses={sheet.places}
            value={typed.place}
            onChange={(place) => onType({ place })}
            error={wrong('place')}
          />
          <WhenField value={typed.when} onChange={(when) => onType({ when })} error={wrong('happened_at')} />
        </div>
        {sheet.needs_reason && !sheet.refused && (
          <TextField
            label="Why you go on past a stop"
            value={typed.reason}
            onChange={(reason) => onType({ reason })}
            hint="It stays with the piece and goes on its label."
            error={wrong('reason')}
          />
        )}
        {asked ? <Answer sending={asked} /> : <Refused error={props.unread} />}
        <AsText text={sheet.vessels.map((v) => v.as_text).join('\n')} file="weigh-out.txt" />
        <MainAction>
          <button
            type="button"
            className="press press-main bench"
            disabled={props.stale || sheet.refused || left > 0}
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
function Line(props: { line: Schemas['SheetLine']; ticked: boolean; before?: number; onTick: () => void }) {
  const { line, ticked, before, onTick } = props
  const format = useFormat()
  const places = decimals(format.fineDivision)
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
          {line.role === 'water' && (
            <span className="figures ml-2 text-[0.95rem] font-normal text-soft">{format.volume(line.shown_g)}</span>
          )}{' '}
          {line.apart && <span className="text-[0.95rem] font-normal text-soft">on last, for each piece</span>}
          {ticked && <span className="ml-2 text-[0.95rem] font-normal">weighed</span>}
          {!ticked && before !== undefined && (
            <span className="block text-[0.95rem] font-semibold text-caution">
              {before.toFixed(places)} g was weighed; it changed since
            </span>
          )}
        </span>
        <span className={`figures text-5xl leading-none font-semibold ${ticked ? 'line-through decoration-2 opacity-70' : ''}`}>
          {line.counted ? line.counted.split(',')[0] : shown}
          {!line.counted && <span className="text-2xl font-normal"> g</span>}
        </span>
      </button>
      <details className="no-print relative">
        <summary className="quiet list-none" aria-label={`How ${line.name} was worked out`}>
          how
        </summary>
        <p className="figures absolute right-0 z-10 w-64 border border-edge bg-table p-2 text-[0.9rem] shadow">
          {line.made_of}
          {line.counted && (
            <>
              <br />
              {line.counted}
            </>
          )}
          {line.by_spoon && (
            <>
              <br />
              {line.by_spoon}
            </>
          )}
          <br />= {line.exact_g.toFixed(places + 1)} g; the scale shows {shown} g
        </p>
      </details>
    </li>
  )
}

/** What else is known of one piece's dose: both figures of a brine, its salt, its pump, how sure it is. */
function InThePiece({ piece }: { piece: Schemas['PieceSheet'] }) {
  const format = useFormat()
  const { uptake, salt, pump, sureness } = piece
  return (
    <div className="grid gap-1 text-[0.95rem]">
      {uptake && (
        <p>
          <span className="figures font-semibold">{uptake.pickup.toFixed(0)} ppm</span> by what is taken up,{' '}
          <span className="figures font-semibold">{uptake.equilibrium.toFixed(0)} ppm</span> if meat and brine become alike; the
          likelier is marked. Ceilings go by the higher, floors by the lower.
        </p>
      )}
      {salt ? (
        <p className="text-soft">
          Salt in all <span className="figures">{salt.nominal.toFixed(1)} g/kg</span>
          {uptake && (
            <>
              , from <span className="figures">{salt.low.toFixed(0)}</span> to{' '}
              <span className="figures">{salt.high.toFixed(0)}</span>
            </>
          )}
        </p>
      ) : (
        <p className="text-soft">How much salt gets in is not known beforehand: weigh it before and after.</p>
      )}
      {pump && (
        <p className="border-l-4 border-violet pl-2">
          Pump in <span className="figures font-semibold">{format.mass(pump.inject_g)}</span>: it is to weigh{' '}
          <span className="figures font-semibold">{format.mass(pump.to_weigh_g)}</span> then.
          {pump.sites != null && pump.ml_per_site != null && (
            <>
              {' '}
              A grid every <span className="figures">{format.length(pump.spacing_mm)}</span>: about{' '}
              <span className="figures">{pump.sites}</span> sites of{' '}
              <span className="figures">{pump.ml_per_site.toFixed(pump.ml_per_site < 10 ? 1 : 0)} ml</span>, and along the bone.
            </>
          )}
        </p>
      )}
      {sureness && <p className="text-soft">{sureness.words}</p>}
    </div>
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
