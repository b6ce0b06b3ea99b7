import type { Schemas } from '../../api/client'

/** What was weighed out: each tick belongs to the number that stood there, in grams as the scale shows it. */
export type Ticks = Record<string, number>

/** One line of a sheet under the name it is ticked by: whose it is, and what. */
export interface Ticked {
  id: string
  line: Schemas['SheetLine']
}

/** The lists of a sheet as they are weighed out: one for all, or one for each vessel; then for each what goes on apart, last. */
export function listsOf(sheet: Schemas['Sheet']) {
  const oneByOne = !sheet.mixed && !sheet.in_brine && sheet.vessels.length > 1
  const tag = (piece: number) => sheet.pieces.find((p) => p.piece === piece)?.tag
  const each = (lines: (v: Schemas['VesselSheet']) => Schemas['SheetLine'][], last = '') =>
    sheet.vessels.map((v) => ({
      title: [v.name, v.pieces.map(tag).join(', ') + last].filter(Boolean).join(': '),
      of: String(v.pieces[0]),
      lines: lines(v),
    }))
  const apart = sheet.lines.some((l) => l.apart)
  const bowl = { title: apart ? 'The bowl' : '', of: 'all', lines: sheet.lines.filter((l) => !l.apart) }
  const lists = oneByOne
    ? each((v) => v.lines)
    : [bowl, ...(apart ? each((v) => v.lines.filter((l) => l.apart), ', on top, last') : [])]
  return lists.map(({ title, of, lines }) => ({
    title,
    of,
    lines: lines.map((line): Ticked => ({ id: `${of}.${line.name}`, line })),
  }))
}

/** A tick holds for the number it was set at, and for no other. */
export const isTicked = (ticks: Ticks, { id, line }: Ticked) => ticks[id] === line.shown_g
