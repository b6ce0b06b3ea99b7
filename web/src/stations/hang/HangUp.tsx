import type { ActAsk, PieceCard } from '../../api/client'
import type { HangSheet } from '../../api/hang'
import { AmountField, Choice, TextField } from '../../kit/Fields'
import { Fold } from '../../kit/Page'
import { percent, useFormat } from '../../units'
import { AskedAbout, useAsked } from '../weigh/AskedAbout'
import { type LoopHeld, WeighLoop } from '../weigh/WeighLoop'
import { CaseIt } from './CaseIt'
import { CookIt } from './CookIt'

interface Props {
  pieces: PieceCard[]
  held: LoopHeld
  sheet: HangSheet
  first?: number
}

/** What may hang there beside the meat, in the order in which it goes on. */
const parts = [
  { name: 'casing', label: 'Casing, wet' },
  { name: 'cloth', label: 'Cloth' },
  { name: 'net', label: 'Net' },
  { name: 'clips', label: 'Clips, string, hook, tag' },
] as const

type Typed = Record<string, string>

/** Onto the hook: everything on the scale, what of it is not meat, how much it is to lose, where. */
export function HangUp({ pieces, held, sheet, first }: Props) {
  const format = useFormat()
  const planOf = (p: PieceCard) => sheet.to_hang.find((t) => t.id === p.id)
  /** The casing was weighed when it went on. */
  const cased = (p: PieceCard) => planOf(p)?.cased.reduce((sum, c) => sum + c.mass_g, 0) ?? 0
  const coats = (p: PieceCard) => planOf(p)?.coats ?? []
  const partsOf = (p: PieceCard) => [...parts, ...coats(p).map((c) => ({ name: c.name, label: `${c.name}, put on before` }))]
  const partOf = (p: PieceCard, typed: Typed, name: string) => {
    const coat = coats(p).find((c) => c.name === name)
    // What was weighed in one says what its coat is part of; else the coat is offered as it was put on.
    const offered = name === 'casing' ? cased(p) : coat && !typed.tare?.trim() ? coat.mass_g : 0
    return typed[name] ?? (offered > 0 ? format.mass(offered) : '')
  }
  const made = (p: PieceCard, typed: Typed): NonNullable<Extract<ActAsk, { act: 'hung' }>['parts']> => {
    const weighed = partsOf(p)
      .map(({ name }) => ({ name, reading: partOf(p, typed, name).trim() }))
      .filter((part) => part.reading !== '')
    const jar = typed.jar_before?.trim() || typed.jar_after?.trim()
    return jar
      ? [...weighed, { name: 'paste or pepper', jar: { before: typed.jar_before ?? '', after: typed.jar_after ?? '' } }]
      : weighed
  }
  const plan = held.piece && planOf(held.piece)
  const cooking = useAsked(COOKED, held.piece?.id)
  return (
    <div className="grid gap-4">
      <WeighLoop
        form="hung"
        held={held}
        title="Hang up"
        pieces={pieces}
        first={first}
        weightLabel="With everything on it, it weighs"
        about={(p) => {
          const plan = planOf(p)
          return (
            <div className="grid gap-2">
              <p className="text-center text-soft">
                {plan?.words ?? 'Weigh casing, net, clips and hook alone first.'}
                {plan && cased(p) > 0 && (
                  <span className="block">
                    Cased in {plan.cased.map((c) => c.name).join(', ')}, <span className="figures">{format.mass(cased(p))}</span>{' '}
                    wet.
                  </span>
                )}
                {plan && coats(p).length > 0 && (
                  <span className="block">
                    Put on it:{' '}
                    {coats(p)
                      .map((c) => `${c.name} ${format.mass(c.mass_g)}`)
                      .join(', ')}
                    . That is no meat, and counts as tare.
                  </span>
                )}
              </p>
            </div>
          )
        }}
        more={[
          {
            name: 'tare',
            label: 'Casing, net, clips and hook',
            quantity: 'mass',
            hint: 'What hangs there and is not meat, such as 45 g; or its parts below.',
            optional: true,
          },
        ]}
        extra={(p, typed, set, wrong) => {
          const plan = planOf(p)
          return (
            <div className="grid gap-2">
              <Fold title="That in parts">
                <div className="grid gap-x-4 sm:grid-cols-2">
                  {partsOf(p).map(({ name, label }) => (
                    <AmountField
                      key={name}
                      quantity="mass"
                      label={label}
                      value={partOf(p, typed, name)}
                      onChange={(v) => set({ [name]: v })}
                    />
                  ))}
                  <AmountField
                    quantity="mass"
                    label="Paste or pepper: its jar before"
                    value={typed.jar_before ?? ''}
                    onChange={(jar_before) => set({ jar_before })}
                  />
                  <AmountField
                    quantity="mass"
                    label="and after"
                    value={typed.jar_after ?? ''}
                    onChange={(jar_after) => set({ jar_after })}
                  />
                </div>
              </Fold>
              <Fold title={`To lose ${percent(plan?.loss_fraction ?? 0.35, 0)}, by its weight`}>
                <div className="grid gap-x-4 sm:grid-cols-2">
                  <TextField
                    label="To lose"
                    value={typed.loss ?? ''}
                    onChange={(loss) => set({ loss })}
                    error={wrong('loss_fraction')}
                    hint={
                      plan
                        ? `Left empty, ${percent(plan.loss_fraction, 0)}; at least ${percent(plan.least_fraction, 0)} for this product.`
                        : 'Such as 35 %.'
                    }
                  />
                  <TextField
                    label="Hook"
                    value={typed.hook ?? ''}
                    onChange={(hook) => set({ hook })}
                    inputMode="numeric"
                    error={wrong('hook')}
                    hint="Counted from 1."
                  />
                </div>
                <Choice
                  label="It comes down by"
                  value={typed.stop || 'weight'}
                  options={[
                    { value: 'weight', label: 'its weight' },
                    { value: 'days', label: 'days' },
                    { value: 'feel', label: 'its feel' },
                  ]}
                  onChange={(stop) => set({ stop })}
                />
                {typed.stop && typed.stop !== 'weight' && (
                  <p className="text-caution">
                    Days and feel are schools; the weight is the proof. What nobody weighs has lost nobody knows how much, and is
                    cooked before eating.
                  </p>
                )}
                {typed.stop === 'days' && (
                  <TextField
                    label="After how many days"
                    value={typed.days ?? ''}
                    onChange={(days) => set({ days })}
                    inputMode="numeric"
                    error={wrong('days')}
                  />
                )}
              </Fold>
            </div>
          )
        }}
        act={(p, reading, more) => {
          const found = made(p, more)
          return {
            act: 'hung',
            piece: p.id,
            reading,
            // What was weighed in one is the tare; the parts say what it is made of.
            tare: more.tare?.trim() || (found.length > 0 ? null : ''),
            parts: found,
            loss_fraction: more.loss?.trim() || null,
            hook: more.hook?.trim() || null,
            stop: (more.stop || 'weight') as 'weight' | 'days' | 'feel',
            days: more.stop === 'days' ? (more.days ?? '') : null,
            place: more.place ?? null,
          }
        }}
        place={['hang']}
        done={() => 'On the hook, next piece'}
      />
      {held.piece && plan?.wants_case && (
        <div className="table-top max-w-2xl p-4">
          <Fold title={`Case and net ${held.piece.tag} first`}>
            <CaseIt key={held.piece.id} piece={held.piece} diameter={plan.diameter_mm} />
          </Fold>
        </div>
      )}
      {held.piece && (
        <div className="max-w-2xl">
          <AskedAbout list={cooking.here ? [cooking.here, ...cooking.others] : cooking.others} />
          <Fold title={`Cook ${held.piece.tag} instead of hanging it`}>
            <CookIt key={held.piece.id} piece={held.piece.id} tag={held.piece.tag} owner={COOKED} />
          </Fold>
        </div>
      )}
    </div>
  )
}

const COOKED = 'cooked_instead'
