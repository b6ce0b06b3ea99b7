import type { ActAsk, Schemas } from '../../api/client'

type Kind = Schemas['TaskKind']
export type Row = Schemas['Row']
export type Chip = Schemas['Chip']

export const placeWords: Record<Schemas['TripPlace'], string> = {
  fridge: 'At the fridge',
  chamber: 'At the hooks',
  smoker: 'At the smoker or stove',
  table: 'At the table',
}

/** What is done, as the head of a line says it. */
const kindWords: Record<Exclude<Kind, 'by_hand'>, string> = {
  discard: 'Nobody eats it: throw away',
  assign: 'Give a product',
  dose: 'Weigh out the cure',
  turn: 'Turn',
  out_of_cure: 'Out of the cure',
  smoke: 'Smoke',
  cook: 'Cook through',
  hang: 'Hang',
  weigh_in: 'Weigh on the hook',
  take_down: 'Take down',
  pack: 'Slice and pack',
}

/** The same of a step by hand. */
const stepWords: Record<Schemas['StepKind'], string> = {
  prepare: 'Make ready',
  dose: 'Weigh out the cure',
  cure: 'Out of the cure',
  rinse: 'Rinse',
  soak: 'Soak',
  test_slice: 'Fry a slice and taste it',
  dry_surface: 'Let the surface turn tacky',
  coat: 'Coat, if wanted',
  roll: 'Roll and tie',
  case: 'Case or net',
  cold_smoke: 'Smoke cold',
  smoke: 'Smoke',
  cook: 'Cook through',
  rest: 'Let it rest',
  ferment: 'Let it ferment',
  hang: 'Hang',
  even_out: 'Even out under vacuum',
  firm_up: 'Cool and firm up',
  bone_out: 'Take the bone out',
  pack: 'Slice and pack',
}

export const rowWords = (row: { kind: Kind; step?: Schemas['StepKind'] | null }) =>
  row.kind === 'by_hand' || (row.kind === 'smoke' && row.step) ? stepWords[row.step ?? 'prepare'] : kindWords[row.kind]

/** The verb on the button that goes to the scale. */
export const goWords: Record<Exclude<Kind, 'by_hand' | 'turn'>, string> = {
  discard: 'Throw away',
  assign: 'Choose for',
  dose: 'Weigh out',
  out_of_cure: 'Take out',
  smoke: 'Smoke',
  cook: 'Cook',
  hang: 'Hang',
  weigh_in: 'Weigh',
  take_down: 'Take down',
  pack: 'Pack',
}

/** What a tap has done. */
export const doneWords: Partial<Record<Schemas['StepKind'], string>> = {
  roll: 'rolled and tied',
  case: 'cased or netted',
  rest: 'rested',
  ferment: 'fermented',
  even_out: 'evened out',
  firm_up: 'cold and firm',
  dry_surface: 'tacky',
}

/** What one tap on a line writes for a piece, or for all that lie in its vessel; none where a scale is needed. */
export function tick(row: Row, chip: Chip): ActAsk[] | undefined {
  const all = [chip.piece, ...(chip.with ?? [])]
  if (row.kind === 'turn') return all.map((piece) => ({ act: 'turned', piece }))
  if (row.kind !== 'by_hand' || !chip.step || !row.step) return undefined
  if (!(row.step in doneWords)) return undefined
  // A check that is graded well writes its step down as done.
  if (row.step === 'dry_surface') return [{ act: 'checked', piece: chip.piece, check: 'tacky', grade: 'tacky' }]
  return [{ act: 'step_done', piece: chip.piece, step: chip.step }]
}

export const rowKey = (trip: { place: string; ready: boolean }, row: Row) =>
  [trip.place, trip.ready, row.kind, row.step ?? '', ...(row.asks ?? [])].join('-')

/** How a vessel or piece is called in a line. */
export const chipName = (chip: Chip) => chip.vessel_name ?? chip.tag

export const inChip = (chip: Chip) => [chip.tag, ...(chip.with_tags ?? [])].join(' and ')
