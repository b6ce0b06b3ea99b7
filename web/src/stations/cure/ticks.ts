import type { Schemas } from '../../api/client'

/** What was weighed out: each tick belongs to the number that stood there, in grams as the scale shows it. */
export type Ticks = Record<string, number>

/** One line of a sheet under the name it is ticked by: whose it is, and what. */
export interface Ticked {
  id: string
  line: Schemas['SheetLine']
}

/** The lists of a sheet as they are weighed out: one for all, or one for each piece. */
export function listsOf(sheet: Schemas['Sheet']) {
  const oneByOne = !sheet.mixed && sheet.pieces.length > 1
  const lists = oneByOne
    ? sheet.pieces.map((p) => ({ title: p.tag, of: String(p.piece), lines: p.lines }))
    : [{ title: '', of: 'all', lines: sheet.lines }]
  return lists.map(({ title, of, lines }) => ({
    title,
    of,
    lines: lines.map((line): Ticked => ({ id: `${of}.${line.name}`, line })),
  }))
}

/** A tick holds for the number it was set at, and for no other. */
export const isTicked = (ticks: Ticks, { id, line }: Ticked) => ticks[id] === line.shown_g
