import words from '../../api/words.json'
import { isThere, NotYet } from '../../kit/Fetched'
import { Link, useParams } from '@tanstack/react-router'
import { Printer } from 'lucide-react'
import { useEffect, useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useRecord } from '../../api/entries'
import { usePiece } from '../../api/pieces'
import { giveUp } from '../../kit/drafts'
import { TextField, Tick, WhenField } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Findings, Refused } from '../../kit/States'
import { printOnly } from '../../kit/print'
import { PieceTag } from '../../kit/Tag'
import { useVerdictWords, VerdictReasons, VerdictWord } from '../../kit/Verdict'
import { asSaid, percent, useFormat } from '../../units'
import { DoseBand } from '../cure/DoseBand'
import { rowWords } from '../today/words'
import { labelChangeWords, pointWords, stageWords, taskStation, taskWords } from '../words'
import { Curve } from './Curve'
import { Leave } from '../pack/Packs'
import { Freeze } from './Freeze'
import { CutForm, JoinForm, WorkForm } from './CutForm'
import { Slabs } from './Slabs'
import { LiesIn } from '../smoke/RunList'
import { TimeLine } from './TimeLine'
import { Inject } from './Inject'
import { Around, Cooled } from './Warmth'
import { AnyCheck, Choices, Coat, SetTimer, Way } from './Way'

type View = Schemas['PieceView']

const workDone: Record<Schemas['Work'], string> = words.Work.done

/** One piece: its tag, family line, curve, everything that happened, what comes next. */
export function Piece() {
  const { id } = useParams({ from: '/pieces/$id' })
  const piece = usePiece(Number(id))
  if (!isThere(piece)) return <NotYet of={[piece]} what="the piece" page="Piece" />
  const { card, weighings, dose, packs, timeline } = piece.data
  const hangTarget = card.hang ? card.hang.target_gross_g - card.hang.tare_g : undefined
  return (
    <Page
      title={`Piece ${card.tag}`}
      lead={
        <>
          {card.cut_name} of {piece.data.lots.length > 1 ? piece.data.meat : card.species_name}
          {card.build_name && (
            <>
              , for{' '}
              <Link className="underline underline-offset-3" to="/library/$build" params={{ build: card.build! }}>
                {card.build_name}
              </Link>
              <Version card={card} />
            </>
          )}
          ; {card.frozen ? 'in the freezer' : stageWords[card.stage]}.
        </>
      }
    >
      <div className="grid grid-cols-1 gap-6">
        <Head view={piece.data} />
        <LiesIn tag={card.tag} />
        <div className="grid grid-cols-1 items-start gap-6 lg:grid-cols-[3fr_2fr]">
          <div className="grid grid-cols-1 gap-6">
            <section aria-label="Weight over time" className="table-top p-4">
              <h2 className="mb-2">Weight over time</h2>
              <Curve weighings={weighings} target_g={hangTarget} />
              <Weighings weighings={weighings} />
            </section>
            <Way view={piece.data} />
          </div>
          <div className="grid grid-cols-1 gap-6">
            {(card.cure || card.packs > 0 || card.verdict.word === 'do_not_eat') && (
              <section aria-label="What may be said of it" className="grid gap-2">
                <h2>What may be said of it</h2>
                <VerdictReasons verdict={piece.data.verdict} />
                <Kept view={piece.data} />
              </section>
            )}
            {card.cure && <DoseFacts dose={dose ?? undefined} card={card} />}
            <Next view={piece.data} />
          </div>
        </div>
        {packs.length > 0 && <Labels packs={packs} piece={card} />}
        {card.thickness_mm != null && card.cut !== 'mix' && (card.stage === 'assign' || card.stage === 'dose') && (
          <Slabs card={card} />
        )}
        <section aria-label="Everything that happened">
          <h2 className="mb-1.5">Everything that happened</h2>
          <TimeLine entries={timeline} />
        </section>
      </div>
    </Page>
  )
}

/** Gives up knife work that was typed and never written, and cannot be any more. */
function useKnifeDrafts(id: number, canCut: boolean, canWork: boolean) {
  useEffect(() => {
    if (!canCut) giveUp(`cut.${id}`)
    if (!canWork) giveUp(`worked.${id}`)
  }, [id, canCut, canWork])
}

/** What was asked about on its way and kept, and stops that a reason lifted. */
function Kept({ view }: { view: View }) {
  const dosed = new Set((view.dose?.findings ?? []).map((f) => f.code + f.message))
  const kept = view.findings.filter((f) => !dosed.has(f.code + f.message))
  if (kept.length === 0) return null
  return (
    <details>
      <summary className="quiet">
        {kept.length === 1 ? 'One thing gave pause' : `${kept.length} things gave pause`} on its way
        {view.overridden && ', and a typed reason lifted a stop'}
      </summary>
      <div className="mt-1">
        <Findings list={kept} />
      </div>
    </details>
  )
}

function Head({ view }: { view: View }) {
  const { card, parents, parts } = view
  const format = useFormat()
  return (
    <div className="table-top flex flex-wrap items-center gap-x-8 gap-y-3 p-4">
      <span className="tag !min-h-16 !pr-6 !pl-10 text-3xl">{card.tag}</span>
      <p>
        <span className="figures block text-4xl leading-none font-semibold">{format.mass(card.mass_g)}</span>
        <span className="figures text-soft">{format.massOther(card.mass_g)}</span>
      </p>
      <p className="text-soft">
        green <span className="figures">{format.mass(card.green_g)}</span>
        {card.thickness_mm != null && (
          <>
            , <span className="figures">{asSaid(card.thickness_said, format.length(card.thickness_mm))}</span> thick
          </>
        )}
        <br />
        {[
          card.skin_on && 'skin on',
          card.bone_in && 'bone in',
          card.fat_cap &&
            (view.fat_cover_mm != null ? `${format.length(view.fat_cover_mm)} of fat on one side` : 'fat on one side'),
          view.fat_fraction != null && `${percent(view.fat_fraction, 0)} fat`,
        ]
          .filter(Boolean)
          .join(', ') || 'no skin, no bone'}
        {view.worked.length > 0 && (
          <>
            <br />
            {view.worked.map((w) => workDone[w]).join(', ')}
          </>
        )}
      </p>
      {card.packs > 0 || card.stage === 'pack' || card.verdict.word === 'do_not_eat' ? (
        <VerdictWord verdict={view.verdict} />
      ) : null}
      <nav aria-label="Family line" className="flex flex-wrap items-center gap-2">
        <Link to="/breakdown/$id" params={{ id: String(card.lot) }} className="tag">
          {card.lot_tag}
        </Link>
        {parents.length > 0 && (
          <>
            <span aria-hidden>›</span>
            {parents.map((p) => (
              <PieceTag key={p.id} id={p.id} tag={p.tag} />
            ))}
          </>
        )}
        <span aria-hidden>›</span>
        <strong className="figures">{card.tag}</strong>
        {parts.length > 0 && (
          <>
            <span>{card.stage === 'joined' ? 'went into' : 'cut into'}</span>
            {parts.map((p) => (
              <PieceTag key={p.id} id={p.id} tag={p.tag} />
            ))}
          </>
        )}
      </nav>
    </div>
  )
}

/** What was gained is no negative loss. */
const lostOrGained = (share: number) => (share < 0 ? `gained ${percent(-share)}` : percent(share))

function Weighings({ weighings }: { weighings: Schemas['WeighingView'][] }) {
  const format = useFormat()
  return (
    <table className="mt-3 w-full text-[0.95rem]">
      <thead>
        <tr className="text-left text-soft">
          <th scope="col" className="py-1 font-normal">
            Weighed
          </th>
          <th scope="col" className="py-1 text-right font-normal">
            Meat
          </th>
          <th scope="col" className="py-1 text-right font-normal">
            Lost since before
          </th>
          <th scope="col" className="py-1 text-right font-normal">
            since green
          </th>
        </tr>
      </thead>
      <tbody className="figures">
        {weighings.map((w) => (
          <tr key={w.entry + w.point} className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal">
              {pointWords[w.point]}
              <span className="block text-soft">{format.moment(w.at)}</span>
            </th>
            <td className="py-1 text-right">{format.mass(w.net_g)}</td>
            <td className="py-1 text-right">{w.lost_since_before != null ? lostOrGained(w.lost_since_before) : '–'}</td>
            <td className="py-1 text-right">{w.lost_since_before != null ? lostOrGained(w.lost_since_green) : '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** A piece keeps the version of its product that it started with, and says so. */
function Version({ card }: { card: Schemas['PieceCard'] }) {
  if (card.build_standing === 'gone') return <> (no longer in the catalogue; it keeps version {card.build_version})</>
  if (card.build_standing === 'earlier') return <> (it keeps version {card.build_version}; there is a newer one)</>
  return null
}

function DoseFacts({ dose, card }: { dose?: Schemas['DoseView']; card: Schemas['PieceCard'] }) {
  const format = useFormat()
  const cure = card.cure!
  if (!dose) {
    return (
      <section aria-label="Its dose" className="table-top grid gap-2 p-4">
        <h2>Its dose</h2>
        <p>
          <strong className="text-caution">Unknown.</strong> Nobody wrote down what its cure was made of, so it is cooked before
          eating.
        </p>
      </section>
    )
  }
  return (
    <section aria-label="Its dose" className="table-top grid gap-2 p-4">
      <h2>Its dose</h2>
      <ul className="figures">
        {dose.lines.map((l) => (
          <li key={l.name} className="flex justify-between border-t border-line py-0.5">
            <span>{l.name}</span>
            {/* As the fine scale showed it, whatever meat is weighed in here. */}
            <span>{l.mass_g < 1000 ? `${Math.round(l.mass_g * 100) / 100} g` : format.mass(l.mass_g)}</span>
          </li>
        ))}
      </ul>
      {(cure.nitrite_ppm_high ?? 0) > 0 && (
        <DoseBand
          nominal={cure.nitrite_ppm ?? 0}
          low={cure.nitrite_ppm_low ?? 0}
          high={cure.nitrite_ppm_high ?? 0}
          ceiling={cure.ceiling_ppm ?? 0}
          floor={cure.floor_ppm ?? 0}
          label={card.tag}
        />
      )}
      {dose.salt_g_per_kg != null && (
        <p className="text-soft">
          salt in all <span className="figures">{dose.salt_g_per_kg.toFixed(1)} g/kg</span>
        </p>
      )}
      {dose.own.length > 0 && (
        <p className="text-soft">
          changed this time: <span className="figures">{dose.own.map((o) => `${o.label} ${o.said}`).join(', ')}</span>
        </p>
      )}
      {dose.nitrate_ppm > 0 && (
        <p className="text-soft">
          and <span className="figures">{dose.nitrate_ppm.toFixed(0)} ppm</span> nitrate
        </p>
      )}
      {dose.reason && (
        <p className="border-l-8 border-stop bg-stop-wash px-3 py-2">
          <strong className="text-stop">Past a stop, knowingly.</strong> {dose.reason}
        </p>
      )}
      <Findings list={dose.findings} />
    </section>
  )
}

/** What its build says to do now, what is due, and what else can be done with it. */
function Next({ view }: { view: View }) {
  const { card, words } = view
  const format = useFormat()
  const over = ['packed', 'cut_up', 'joined', 'discarded'].includes(card.stage)
  const finished = !over && !card.frozen && card.cure != null && card.stage !== 'in_cure' && card.packs === 0
  const raw = !over && !card.frozen && !card.cure && card.packs === 0 && card.cut !== 'mix'
  const canCut = !over && !card.frozen && card.stage !== 'hanging' && card.packs === 0
  const canWork = raw || (finished && card.bone_in && card.stage !== 'hanging')
  useKnifeDrafts(card.id, canCut, canWork)
  return (
    <section aria-label="What comes next" className="table-top grid gap-3 p-4">
      <h2>What comes next</h2>
      {over && <p className="text-soft">Nothing more: it is {stageWords[card.stage]}.</p>}
      {card.tasks.map((t) => (
        <p key={t.kind + (t.step?.id ?? '')} className="flex flex-wrap items-center justify-between gap-2">
          <span>
            <strong>{t.kind === 'by_hand' ? rowWords({ kind: t.kind, step: t.step?.kind }) : taskWords[t.kind]}</strong>{' '}
            <span className={t.urgency === 'overdue' ? 'font-semibold text-stop' : 'text-soft'}>
              {t.urgency === 'overdue' ? 'was due ' : ''}
              {format.day(t.due)}
            </span>
          </span>
          {/* What is done by hand, and what is thrown away, is written down on this page. */}
          {t.kind !== 'by_hand' && t.kind !== 'discard' && t.kind !== 'thaw' && (
            <Link to={taskStation[t.kind]} search={{ piece: card.id }} className="press">
              Do it<span className="sr-only">: {taskWords[t.kind]}</span>
            </Link>
          )}
        </p>
      ))}
      {words && (card.stage === 'smoke' || card.stage === 'hang' || card.stage === 'hanging') && (
        <p className="text-[0.95rem]">{words}</p>
      )}
      {(['assign', 'dose', 'smoke', 'hang', 'pack'] as string[]).includes(card.stage) && <Freeze card={card} />}
      {canCut && <CutForm card={card} />}
      {raw && <WorkForm key={`${card.skin_on}${card.bone_in}`} card={card} />}
      {raw && <JoinForm card={card} />}
      {finished && card.bone_in && card.stage !== 'hanging' && <WorkForm key="done" card={card} />}
      {view.brine && <Inject card={card} brine={view.brine} />}
      {finished && <Coat card={card} label="Put something on it, by weight" />}
      {(finished || card.stage === 'packed') && <Cooled card={card} />}
      {(!over || card.stage === 'packed') && <Around card={card} />}
      {!over && <SetTimer card={card} />}
      {!over && <Choices card={card} choices={view.choices} />}
      {(!over || card.stage === 'packed') && <AnyCheck card={card} packs={view.packs} />}
      {!over && <Note card={card} />}
      {!over && <ThrowAway card={card} packs={view.packs.filter((p) => !p.discarded)} />}
    </section>
  )
}

function Note({ card }: { card: Schemas['PieceCard'] }) {
  const record = useRecord()
  const [text, setText] = useState('')
  return (
    <details>
      <summary className="quiet">Note something seen or felt</summary>
      <form
        className="mt-2 grid gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate({ acts: [{ act: 'noted', piece: card.id, text }] }, { onSuccess: () => setText('') })
        }}
      >
        <TextField
          label="What you saw or felt"
          value={text}
          onChange={setText}
          hint="Firm all over; white dry mould; test slice too salty …"
        />
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || text.trim() === ''}>
          Write it down
        </button>
      </form>
    </details>
  )
}

function ThrowAway({ card, packs }: { card: Schemas['PieceCard']; packs: Schemas['PackView'][] }) {
  const record = useRecord()
  const [packsToo, setPacksToo] = useState(true)
  const [reason, setReason] = useState('')
  return (
    <details>
      <summary className="quiet">Throw it away</summary>
      <form
        className="mt-2 grid gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          record.mutate({
            acts: [{ act: 'discarded', piece: card.id, reason, packs_too: packs.length > 0 && packsToo }],
            seen: [{ piece: card.id, version: card.version }],
          })
        }}
      >
        <TextField label="Why" value={reason} onChange={setReason} hint="In doubt it goes; tasting is no test." />
        {packs.length > 0 && (
          <Tick label={`Its packs too: ${packs.map((p) => p.tag).join(', ')}`} checked={packsToo} onChange={setPacksToo} />
        )}
        <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
        <button type="submit" className="press justify-self-start" disabled={record.isPending || reason.trim() === ''}>
          Throw it away
        </button>
      </form>
    </details>
  )
}

/** The labels of its packs, ready for the printer. */
function Labels({ packs, piece }: { packs: Schemas['PackView'][]; piece: Schemas['PieceCard'] }) {
  const format = useFormat()
  const words = useVerdictWords()
  const record = useRecord()
  const there = packs.filter((p) => !p.discarded && !p.left)
  const outdated = there.filter((p) => p.label_outdated)
  return (
    <section aria-label="Packs and labels" data-labels>
      <div className="mb-1.5 flex items-center justify-between">
        <h2>Packs and labels</h2>
        <button type="button" className="press no-print" onClick={() => printOnly('labels')}>
          <Printer size={18} aria-hidden /> Print
        </button>
      </div>
      {outdated.length > 0 && (
        <div className="no-print mb-3 border-l-8 border-stop bg-stop-wash p-3">
          <p className="font-semibold text-stop">
            {outdated.length === 1 ? 'A label no longer holds' : `${outdated.length} labels no longer hold`}:{' '}
            {outdated.map((p) => p.tag).join(', ')}.
          </p>
          <p>Print them anew and put them on the packs, or throw the packs away.</p>
          <button
            type="button"
            className="press mt-2"
            disabled={record.isPending}
            onClick={() => record.mutate({ acts: [{ act: 'label_printed', packs: outdated.map((p) => p.id) }] })}
          >
            The new labels are on the packs
          </button>
        </div>
      )}
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
      <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {packs.map((p) => (
          <li key={p.id} className="table-top grid content-start gap-1 p-3">
            <p className="flex items-start justify-between gap-2">
              <strong className="text-lg leading-tight">{p.product}</strong>
              <span className="figures text-xl font-semibold whitespace-nowrap">{format.mass(p.mass_g)}</span>
            </p>
            <VerdictWord verdict={p.verdict} />
            <p className="text-[0.9rem] font-medium">{p.says}</p>
            {p.label_changes.includes('word') && p.printed && (
              <p className="no-print text-[0.9rem] font-semibold text-stop">Its label says: {words(p.printed)}.</p>
            )}
            {p.label_changes.some((c) => c !== 'word') && (
              <p className="no-print text-[0.9rem] font-semibold text-stop">
                Wrong on its label by now:{' '}
                {p.label_changes
                  .filter((c) => c !== 'word')
                  .map((c) => labelChangeWords[c])
                  .join(', ')}
                .
              </p>
            )}
            {p.discarded && <p className="text-[0.9rem] font-semibold">Thrown away {format.date(p.discarded)}.</p>}
            {p.left && (
              <p className="text-[0.9rem] font-semibold">
                {p.left.what === 'eaten' ? 'Eaten' : 'Given away'} {format.date(p.left.at)}
                {p.left.to && `, ${p.left.to}`}.
              </p>
            )}
            <p className="figures text-[0.9rem]">
              {p.tag} · packed {p.packed_on}
              {p.slices != null && ` · ${p.slices} slices`}
              {p.lies_in && ` · in ${p.lies_in}`}
            </p>
            <p className="text-[0.9rem]">From {p.made_from}.</p>
            <p className="text-[0.9rem]">
              Made of {p.ingredients.join(', ')}.
              {p.allergens && (
                <>
                  {' '}
                  <strong>Contains {p.allergens}.</strong>
                  {!p.allergens_confirmed && (
                    <span className="no-print text-soft"> By the names of what went in; look at the packets.</span>
                  )}
                </>
              )}
            </p>
            {p.keeps.map((k) => (
              <p key={k.place} className="text-[0.9rem]">
                Best before <span className="figures font-semibold">{k.until}</span> in the {k.place}.
              </p>
            ))}
            {p.notes.map((n) => (
              <p key={n} className="text-[0.9rem] text-soft">
                {n}
              </p>
            ))}
            <p className="no-print mt-1 flex flex-wrap gap-x-4 text-[0.95rem]">
              <Link className="quiet" to="/trace/packs/$id" params={{ id: String(p.id) }}>
                What is in it<span className="sr-only"> {p.tag}</span>
              </Link>
              {!p.discarded && !p.left && <MovePack pack={p} />}
              {!p.discarded && !p.left && <ThrowPackAway pack={p} piece={piece.id} />}
            </p>
            {!p.discarded && !p.left && <Leave pack={p.id} tag={p.tag} />}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** A pack is thrown away, and why. */
function ThrowPackAway({ pack, piece }: { pack: Schemas['PackView']; piece: number }) {
  const record = useRecord()
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState('')
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        Throw it away<span className="sr-only"> {pack.tag}</span>
      </button>
    )
  return (
    <form
      className="grid w-full gap-2"
      aria-label={`Throw away ${pack.tag}`}
      onSubmit={(e) => {
        e.preventDefault()
        record.mutate({ acts: [{ act: 'discarded', piece, packs: [pack.id], reason }] })
      }}
    >
      <TextField label="Why" value={reason} onChange={setReason} hint="Such as: the bag was blown." />
      <button type="submit" className="press justify-self-start" disabled={record.isPending || reason.trim() === ''}>
        Throw the pack away
      </button>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </form>
  )
}

/** A pack that lies somewhere else now, or was thawed; how long it keeps follows. */
function MovePack({ pack }: { pack: Schemas['PackView'] }) {
  const record = useRecord()
  const [open, setOpen] = useState(false)
  const [place, setPlace] = useState('')
  const [when, setWhen] = useState('')
  const wrong = (field: string) => (record.error ? problemOf(record.error).field(field) : undefined)
  if (!open)
    return (
      <button type="button" className="quiet" onClick={() => setOpen(true)}>
        It lies elsewhere now<span className="sr-only"> {pack.tag}</span>
      </button>
    )
  return (
    <form
      className="grid w-full gap-2"
      aria-label={`Where ${pack.tag} lies now`}
      onSubmit={(e) => {
        e.preventDefault()
        record.mutate(
          { acts: [{ act: 'pack_moved', packs: [pack.id], place }], happened_at: when || undefined },
          { onSuccess: () => setOpen(false) },
        )
      }}
    >
      <TextField
        label="Where and how it is kept"
        value={place}
        onChange={setPlace}
        error={wrong('place')}
        hint="Fridge, vacuum packed; freezer; fridge, thawed."
      />
      <WhenField value={when} onChange={setWhen} error={wrong('happened_at')} />
      <button type="submit" className="press justify-self-start" disabled={record.isPending || place.trim() === ''}>
        Write it down
      </button>
      <Refused error={record.error} onKeep={record.keep} onReason={record.because} busy={record.isPending} />
    </form>
  )
}
