import words from '../../api/words.json'
import type { ActAsk, Schemas } from '../../api/client'

type Kind = Schemas['TaskKind']
export type Row = Schemas['Row']
export type Chip = Schemas['Chip']

export const placeWords: Record<Schemas['TripPlace'], string> = words.TripPlace.label

/** What is done, as the head of a line says it. */
const kindWords: Record<Exclude<Kind, 'by_hand'>, string> = words.TaskKind.label

/** The same of a step by hand. */
const stepWords: Record<Schemas['StepKind'], string> = words.StepKind.task

export const rowWords = (row: { kind: Kind; step?: Schemas['StepKind'] | null }) =>
  row.kind === 'by_hand' || (row.kind === 'smoke' && row.step) ? stepWords[row.step ?? 'prepare'] : kindWords[row.kind]

/** The verb on the button that goes to the scale. */
export const goWords: Record<Exclude<Kind, 'by_hand' | 'turn'>, string> = words.TaskKind.button

/** What a tap has done. */
export const doneWords: Partial<Record<Schemas['StepKind'], string>> = words.StepKind.done

/** What one tap on a line writes for a piece, or for all that lie in its vessel; none where a scale is needed. */
export function tick(row: Row, chip: Chip): ActAsk[] | undefined {
  const all = [chip.piece, ...(chip.with ?? [])]
  if (row.kind === 'turn') return all.map((piece) => ({ act: 'turned', piece }))
  if (row.kind === 'thaw') return all.map((piece) => ({ act: 'thawed', piece }))
  // How thick a roll is now is typed on its page.
  if (row.step === 'roll') return undefined
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
