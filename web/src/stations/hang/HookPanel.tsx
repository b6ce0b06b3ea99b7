import { Drawing } from '../../kit/Drawing'
import { useState } from 'react'
import type { HangSheet, Hook } from '../../api/hang'
import { send } from '../../api/queue'
import { TextField } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { PlaceSelect } from '../../kit/PlaceSelect'
import { Findings } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { percent, useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'
import { DryingCurve } from './DryingCurve'
import { EvenOut } from './EvenOut'
import { FeelChoice } from './FeelChoice'
import { MouldCall } from './MouldCall'
import { useWhen } from './Rail'

/** What is done with a hook beside weighing it. */
export const AT_HOOK = 'hook'

/** The hook that was chosen: its curve, what it stands at, what gives pause, what the hand may do. */
export function HookPanel({ hook, sheet }: { hook: Hook; sheet: HangSheet }) {
  const format = useFormat()
  const when = useWhen()
  const asked = useAsked(AT_HOOK, hook.id)
  const stop =
    hook.stop.by === 'weight'
      ? ''
      : hook.stop.by === 'days'
        ? `comes down after ${hook.stop.days} days`
        : 'comes down by its feel'
  return (
    <section aria-label={`Hook of ${hook.tag}`} className="table-top grid min-w-0 grid-cols-1 gap-3 p-4">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <PieceTag id={hook.id} tag={hook.tag} />
        <h2 className="grow">{hook.build_name}</h2>
        <span className="text-soft">{hook.cut_name}</span>
      </div>
      <Drawing of="how it dries">
        <DryingCurve piece={hook.id} tag={hook.tag} />
      </Drawing>
      <Findings list={hook.findings} />
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-0.5">
        <Fact name="Wait for">
          <span className="figures text-xl font-semibold">{format.mass(Math.round(hook.target_gross_g * 10) / 10)}</span> on the
          scale{stop && `, or ${stop}`}
          {hook.target_gross_wet_g - hook.target_gross_g > 0.5 && (
            <span className="block text-[0.95rem] text-soft">
              with casing and net dry; up to{' '}
              <span className="figures">{format.mass(Math.round(hook.target_gross_wet_g * 10) / 10)}</span> while they are wet.
              Weigh them stripped, and it is known.
            </span>
          )}
        </Fact>
        <Fact name="There">
          {when(hook)}
          {hook.pace && hook.will && <span className="text-soft">, {paceWords(hook)}</span>}
        </Fact>
        <Fact name="Weighed">
          {hook.weighed_at ? (
            <>
              <span className="figures">{format.mass(hook.gross_now_g)}</span> {format.moment(hook.weighed_at)}
            </>
          ) : (
            'not since it was hung'
          )}
        </Fact>
        {hook.a_day != null && hook.a_day_expected != null && (
          <Fact name="A day">
            lost <span className="figures">{percent(hook.a_day, 2)}</span>; its forecast had{' '}
            <span className="figures">{percent(hook.a_day_expected, 2)}</span>
          </Fact>
        )}
        <Fact name="Not meat">
          <span className="figures">{format.mass(hook.tare_g)}</span>
          {hook.parts.length > 0 && (
            <span className="text-soft">: {hook.parts.map((p) => `${p.name} ${format.mass(p.mass_g)}`).join(', ')}</span>
          )}
        </Fact>
        <Fact name="Feel">{hook.feel ? `${hook.feel.said}, ${format.dayOf(hook.feel.at)}` : 'nobody said'}</Fact>
        <Fact name="Mould">{hook.mould ? `${hook.mould.said}, ${format.dayOf(hook.mould.at)}` : 'nobody looked'}</Fact>
        {hook.evens_until && <Fact name="In vacuum">until {format.dayOf(hook.evens_until)}, then weighed on its hook again</Fact>}
      </dl>
      {hook.drying && <Water hook={hook} />}
      <AskedAbout list={asked.here ? [asked.here, ...asked.others] : asked.others} />
      <Fold title="How it feels">
        <FeelChoice hook={hook} />
      </Fold>
      <Fold title="Look at its mould">
        <MouldCall piece={hook.id} tag={hook.tag} />
      </Fold>
      <Fold title="Hang it elsewhere">
        <Rehang hook={hook} sheet={sheet} />
      </Fold>
      <Fold title="Hard rind: a week in vacuum">
        <EvenOut piece={hook.id} tag={hook.tag} owner={AT_HOOK} weeks="1" />
      </Fold>
    </section>
  )
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd>{children}</dd>
    </>
  )
}

function paceWords(hook: Hook) {
  const { by, count, band } = hook.pace!
  const give = `give or take ${percent(band, 0)} of its days`
  if (by === 'weighings') return `by ${count === 1 ? 'its one weighing' : `its ${count} weighings`}, ${give}`
  if (by === 'own_pieces') return `as ${count === 1 ? 'your piece' : `your ${count} pieces`} of it dried, ${give}`
  if (by === 'thickness_and_air') return `by its thickness and the air, ${give}`
  return `by its thickness, ${give}`
}

/** Where the drying is: to know, never to lean on. */
function Water({ hook }: { hook: Hook }) {
  const format = useFormat()
  const d = hook.drying!
  const share = Math.max(0, Math.min(1, d.water_left_g / d.water_start_g))
  return (
    <div className="border-t border-line pt-2">
      <div className="flex h-3 bg-line" aria-hidden>
        <span className="bg-violet" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 text-[0.95rem] text-soft">
        About <span className="figures">{format.mass(Math.round(d.water_left_g))}</span> of water left of{' '}
        <span className="figures">{format.mass(Math.round(d.water_start_g))}</span>
        {d.salt_in_water != null && (
          <>
            , <span className="figures">{percent(d.salt_in_water)}</span> salt in it
          </>
        )}
        .{' '}
        {d.activity != null && d.activity_low != null && d.activity_high != null && (
          <>
            Water activity about{' '}
            <span className="figures">
              {d.activity.toFixed(2)} ({d.activity_low.toFixed(2)} to {d.activity_high.toFixed(2)})
            </span>
            : an estimate, keep it cold. Only an instrument measures it.
          </>
        )}
      </p>
    </div>
  )
}

function Rehang({ hook, sheet }: { hook: Hook; sheet: HangSheet }) {
  const [place, setPlace] = useState(hook.place == null ? '' : String(hook.place))
  const [no, setNo] = useState(hook.hook == null ? '' : String(hook.hook))
  const name = sheet.places.find((p) => String(p.id) === place)?.name
  return (
    <form
      aria-label="Hang it elsewhere"
      className="grid gap-x-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        send(
          {
            to: 'entries',
            ask: { acts: [{ act: 'rehung', piece: hook.id, place: place || null, hook: no.trim() || null }] },
          },
          {
            words: `${hook.tag} to ${[name, no && `hook ${no}`].filter(Boolean).join(', ')}`,
            owner: AT_HOOK,
            piece: hook.id,
            typed: [],
          },
        )
      }}
    >
      <PlaceSelect label="Where" uses={['hang']} value={place} onChange={setPlace} />
      <TextField
        label="Hook"
        value={no}
        onChange={setNo}
        inputMode="numeric"
        hint="Counted from 1; the next ones hang beside it."
      />
      <button type="submit" className="press justify-self-start" disabled={place === '' && no.trim() === ''}>
        Hang it there
      </button>
    </form>
  )
}
