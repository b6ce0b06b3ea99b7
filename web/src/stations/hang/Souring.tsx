import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import type { Souring as Sausage } from '../../api/hang'
import { send } from '../../api/queue'
import { AmountField, TextField } from '../../kit/Fields'
import { Findings } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'

const SOURING = 'souring'

/** Sausage that sours before it hangs: hours, pH, and when it has to be there. */
export function SouringList({ list }: { list: Sausage[] }) {
  const asked = useAsked(SOURING, undefined)
  return (
    <div className="grid gap-4">
      <AskedAbout list={asked.here ? [asked.here, ...asked.others] : asked.others} />
      <ul className="grid grid-cols-1 gap-4">
        {list.map((s) => (
          <li key={s.id} className="table-top grid content-start gap-3 p-4">
            <One sausage={s} />
          </li>
        ))}
      </ul>
    </div>
  )
}

function One({ sausage }: { sausage: Sausage }) {
  const format = useFormat()
  const [ph, setPh] = useState('')
  const [warmth, setWarmth] = useState('')
  const hours = Math.floor(sausage.hours)
  const share = Math.min(1, sausage.hours / 72)
  const done = () =>
    sausage.step &&
    send(
      { to: 'entries', ask: { acts: [{ act: 'step_done', piece: sausage.id, step: sausage.step }] } },
      { words: `${sausage.tag} is sour enough`, owner: SOURING, piece: sausage.id, typed: [] },
    )
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <PieceTag id={sausage.id} tag={sausage.tag} />
        <span className="grow font-semibold">{sausage.build_name}</span>
        <span className="figures text-xl font-semibold">{hours} h</span>
      </div>
      <div className="relative h-4 bg-line" aria-hidden>
        <span className="absolute inset-y-0 left-0 bg-violet" style={{ width: `${share * 100}%` }} />
        <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: `${(48 / 72) * 100}%` }} />
      </div>
      <p className="text-soft">
        pH 5.3 or less by <span className="font-semibold text-ink">{format.moment(sausage.aim)}</span>; not there by{' '}
        {format.moment(sausage.latest)} it is thrown away.{' '}
        {sausage.ph != null && sausage.ph_at ? (
          <>
            Last read <span className="figures font-semibold text-ink">{sausage.ph}</span>, {format.moment(sausage.ph_at)}.
          </>
        ) : (
          'Its pH was not read yet.'
        )}
      </p>
      <Findings list={sausage.findings} />
      <form
        aria-label={`pH of ${sausage.tag}`}
        className="grid items-start gap-x-4 sm:grid-cols-2"
        onSubmit={(e) => {
          e.preventDefault()
          send(
            {
              to: 'entries',
              ask: {
                acts: [
                  ...(ph.trim() ? [{ act: 'checked' as const, piece: sausage.id, check: 'ph', value: ph.trim() }] : []),
                  ...(warmth.trim()
                    ? [{ act: 'place_read' as const, place: 'where it sours', temperature: warmth, piece: sausage.id }]
                    : []),
                ],
              },
            },
            {
              words: `${sausage.tag} ${[ph && `pH ${ph}`, warmth].filter(Boolean).join(', ')}`,
              owner: SOURING,
              piece: sausage.id,
              typed: [],
            },
          )
          setPh('')
          setWarmth('')
        }}
      >
        <TextField label="pH" value={ph} onChange={setPh} inputMode="decimal" hint="In the middle of one, such as 5.2." />
        <AmountField quantity="temperature" label="How warm around it" value={warmth} onChange={setWarmth} hint="18 to 24 °C." />
        <p className="flex flex-wrap gap-2 sm:col-span-2">
          <button type="submit" className="press" disabled={ph.trim() === '' && warmth.trim() === ''}>
            Write it down
          </button>
          {sausage.step ? (
            <button type="button" className={`press ${sausage.sour ? 'press-main' : ''}`} onClick={done}>
              Sour enough, to the hook
            </button>
          ) : (
            <Link to="/cure" search={{ piece: sausage.id }} className="quiet">
              Sour enough: weigh it out of its cure
            </Link>
          )}
        </p>
      </form>
    </>
  )
}
