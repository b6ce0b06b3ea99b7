import { useEffect, useState } from 'react'
import type { PieceCard } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import type { HangSheet } from '../../api/hang'
import { send } from '../../api/queue'
import { AmountField, Choice } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'
import { type LoopHeld, WeighLoop } from '../weigh/WeighLoop'

interface Props {
  pieces: PieceCard[]
  held: LoopHeld
  sheet: HangSheet
  first?: number
  onAtHand: (piece: number) => void
}

/** The round at the hooks: what is due comes first, each with its feel, and it ends. */
export function Round({ pieces, held, sheet, first, onAtHand }: Props) {
  const format = useFormat()
  const grades = useCatalogue().data?.checks.find((c) => c.key === 'feel')?.grades ?? []
  const at = held.piece?.id
  useEffect(() => {
    if (at !== undefined) onAtHand(at)
  }, [at, onAtHand])
  const due = sheet.round.length
  const next = sheet.hooks
    .filter((h) => h.due && !sheet.round.includes(h.id))
    .reduce<string | undefined>((a, h) => (a === undefined || h.due! < a ? h.due! : a), undefined)
  return (
    <div className="grid gap-4">
      <p role="status" className="text-soft">
        {due > 0 ? (
          <>
            <span className="figures font-semibold text-ink">{due}</span> due at the scale, thin ones first, then the longest
            overdue.
          </>
        ) : (
          <>The round is done{next && <>; the next is due {format.day(next)}</>}. Weigh what you like.</>
        )}
      </p>
      <WeighLoop
        form="weighed_in"
        held={held}
        title="Weigh in"
        pieces={pieces}
        first={first}
        weightLabel="On the scale, net and all"
        about={(p) =>
          p.hang && (
            <p className="border-y border-line py-2 text-center">
              <span className="text-soft">wait for</span>{' '}
              <span className="figures text-4xl font-semibold">{format.mass(p.hang.target_gross_g)}</span>
              {p.hang.target_gross_wet_g - p.hang.target_gross_g > 0.5 && (
                <span className="figures block text-[0.95rem] text-soft">
                  up to {format.mass(p.hang.target_gross_wet_g)} while casing and net are wet
                </span>
              )}
              <span className="block text-[0.95rem] text-soft">
                showed <span className="figures">{format.mass(p.hang.gross_now_g)}</span> {format.moment(p.hang.weighed_at)}
              </span>
              {p.hang.hook_shows_g != null && (
                <span className="block text-[0.95rem] text-caution">
                  the practice hook shows <span className="figures font-semibold">{format.mass(p.hang.hook_shows_g)}</span>
                </span>
              )}
            </p>
          )
        }
        extra={(_, typed, set) => (
          <Choice
            label="It feels"
            value={typed.feel || undefined}
            options={grades.map((g) => ({ value: g.key, label: g.name }))}
            onChange={(feel) => set({ feel })}
          />
        )}
        also={(p, more) => (more.feel ? [{ act: 'checked', piece: p.id, check: 'feel', grade: more.feel }] : [])}
        act={(p, reading) => ({ act: 'weighed_in', piece: p.id, reading })}
        done={() => 'Weighed, next piece'}
        other={{
          label: 'Weighed and taken down',
          show: () => true,
          act: (p, reading) => ({ act: 'taken_down', piece: p.id, reading }),
        }}
      />
      {pieces.length > 1 && (
        <Fold title="Several like pieces in one go">
          <Together pieces={pieces} />
        </Fold>
      )}
    </div>
  )
}

const TOGETHER = 'weighed_together'

/** Like pieces on the scale at once: shared out by what each weighed before. */
function Together({ pieces }: { pieces: PieceCard[] }) {
  const format = useFormat()
  const [chosen, setChosen] = useState<number[]>([])
  const [reading, setReading] = useState('')
  const asked = useAsked(TOGETHER, undefined)
  const here = pieces.filter((p) => chosen.includes(p.id))
  const showed = here.reduce((sum, p) => sum + (p.hang?.gross_now_g ?? 0), 0)
  const write = (act: 'weighed_in' | 'taken_down') => {
    const ids = here.map((p) => p.id)
    send(
      {
        to: 'entries',
        ask: { acts: [{ act, pieces: ids, reading }], seen: here.map((p) => ({ piece: p.id, version: p.version })) },
      },
      { words: `${here.map((p) => p.tag).join(', ')} together ${reading}`, owner: TOGETHER, typed: [] },
    )
    setReading('')
    setChosen([])
  }
  return (
    <form
      aria-label="Weigh several"
      className="table-top grid max-w-2xl gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        write('weighed_in')
      }}
    >
      <AskedAbout list={asked.others} />
      <div role="group" aria-label="On the scale together" className="flex flex-wrap gap-2">
        {pieces.map((p) => {
          const isOn = chosen.includes(p.id)
          return (
            <button
              key={p.id}
              type="button"
              aria-pressed={isOn}
              className={`tag ${isOn ? '!bg-violet !text-on-violet' : ''}`}
              onClick={() => setChosen(isOn ? chosen.filter((id) => id !== p.id) : [...chosen, p.id])}
            >
              {p.tag}
            </button>
          )
        })}
      </div>
      {here.length > 0 && (
        <p className="text-soft">
          They showed <span className="figures">{format.mass(showed)}</span> together, cloth and net and all.
        </p>
      )}
      <AmountField quantity="mass" label="All of them on the scale" value={reading} onChange={setReading} />
      <p className="flex flex-wrap gap-2">
        <button type="submit" className="press" disabled={here.length < 2 || reading.trim() === ''}>
          Weighed together
        </button>
        <button
          type="button"
          className="press"
          disabled={here.length < 2 || reading.trim() === ''}
          onClick={() => write('taken_down')}
        >
          Weighed and taken down together
        </button>
      </p>
    </form>
  )
}
