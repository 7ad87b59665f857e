import { isCableStep, type Link } from '@cold-thread/core/plant'
import { readMeter } from '@cold-thread/core/prove'
import Papa from 'papaparse'

/** A table file: its rows, and what its columns are called. */
export interface LossTable {
  /** By the first row, or by their number where that holds figures. */
  columns: string[]
  rows: string[][]
  /** Lines of the file before the first row. */
  before: number
}

/** Which column tells the link, which what the meter showed, and which the wavelength; null: all are of the reference's. */
export interface LossColumns {
  link: number
  figure: number
  wavelength: number | null
}

/** Reads a table with comma, semicolon or tab between its cells. @returns null for a file without rows of two cells */
export function readLossTable(text: string): LossTable | null {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' })
  const cells = data.map((row) => row.map((cell) => cell.trim()))
  const [first] = cells
  if (!first || first.length < 2) return null
  const named = first.every((cell) => readMeter(cell, 'level') === null)
  const rows = named ? cells.slice(1) : cells
  if (rows.length === 0) return null
  return {
    columns: first.map((cell, k) => (named && cell !== '' ? cell : `column ${k + 1}`)),
    rows,
    before: named ? 1 : 0,
  }
}

/** The link that a cell means: by id or name, or by its fiber's number in its first cable. */
export function linkOfCell(cell: string, links: readonly Link[]): Link | null {
  const wanted = cell.toLowerCase()
  const byName = links.find(({ id, name }) => id.toLowerCase() === wanted || name.toLowerCase() === wanted)
  if (byName) return byName
  const number = /^(?:f|fiber|fibre)?\s*0*(\d+)$/.exec(wanted)?.[1]
  const own = links.filter(({ path }) => String(path.find(isCableStep)?.fiber) === number)
  return own.length === 1 ? own[0]! : null
}

/** The unit that a column's name ends in, as `level (dBm)` or `power_uW`. */
function unitOf(column: string): string | null {
  return /(?:^|[\s_([,])(dBm|dB|[pnuµμm]?W)[)\]]?$/i.exec(column.trim())?.[1] ?? null
}

/** A cell with the unit that its column's name gives it. */
function figureText(cell: string, column: string): string {
  const unit = unitOf(column)
  return unit !== null && /^[+\-−–]?[\d.,]+$/.test(cell) ? `${cell} ${unit}` : cell
}

/** What a meter can show: levels in dBm, losses in dB. */
function isFigure(text: string): boolean {
  const read = readMeter(text, 'level')
  if (read === null) return false
  const value = 'level' in read ? read.level : read.loss
  return value >= -90 && value <= 60
}

/** nm; null for what is no wavelength of light in fiber. */
function wavelengthOf(cell: string): number | null {
  const digits = /^(\d{3,4})(?:[.,]0+)?\s*(?:nm)?$/i.exec(cell)?.[1]
  const nm = Number(digits)
  return nm >= 600 && nm <= 1700 ? nm : null
}

/** The columns that most rows can be read by; of those that are alike, one whose name has a unit. */
export function guessColumns({ columns, rows }: LossTable, links: readonly Link[]): LossColumns {
  const best = (fits: (cell: string, column: string) => boolean, not: readonly (number | null)[]) => {
    const counts = columns.map((column, k) =>
      not.includes(k)
        ? -1
        : rows.filter((row) => fits(row[k] ?? '', column)).length + (unitOf(column) === null ? 0 : 0.5),
    )
    return counts.indexOf(Math.max(...counts))
  }
  const named = columns.findIndex((column) => /wavelength|λ|(?:^|[\s_([,])nm[)\]]?$/i.test(column))
  const all = columns.findIndex((_, k) => rows.every((row) => wavelengthOf(row[k] ?? '') !== null))
  const wavelength = named >= 0 ? named : all >= 0 ? all : null
  const link = best((cell) => linkOfCell(cell, links) !== null, [wavelength])
  return { link, figure: best((cell, column) => isFigure(figureText(cell, column)), [link, wavelength]), wavelength }
}

/**
 * What each link's field gets; nothing of a table with a problem is used. Rows of another wavelength than the reference's are
 * left out and counted.
 * @param reference wavelength of the reference, nm
 * @returns texts by link id and the other wavelengths, or the problem with its line in the file
 */
export function textsOf(
  { rows, before, columns }: LossTable,
  { link, figure, wavelength }: LossColumns,
  links: readonly Link[],
  reference: number,
): { texts: Record<string, string>; others: { wavelength: number; rows: number }[] } | { problem: string } {
  const texts: Record<string, string> = {}
  const others = new Map<number, number>()
  for (const [k, row] of rows.entries()) {
    const where = `line ${k + 1 + before}`
    if (wavelength !== null) {
      const cell = row[wavelength] ?? ''
      const nm = wavelengthOf(cell)
      if (nm === null) return { problem: `${where}: “${cell}” is no wavelength in nm` }
      if (Math.abs(nm - reference) > SAME_WAVELENGTH) {
        others.set(nm, (others.get(nm) ?? 0) + 1)
        continue
      }
    }
    const found = linkOfCell(row[link] ?? '', links)
    if (!found) return { problem: `${where}: “${row[link] ?? ''}” is no link that is tested here` }
    if (found.id in texts) return { problem: `${where}: ${found.name} is there twice` }
    const text = figureText(row[figure] ?? '', columns[figure]!)
    if (!isFigure(text)) return { problem: `${where}: “${row[figure] ?? ''}” is no figure of a meter` }
    texts[found.id] = text
  }
  return { texts, others: [...others].map(([nm, count]) => ({ wavelength: nm, rows: count })) }
}

/** Sources of one nominal wavelength differ by so much, nm (judgement). */
const SAME_WAVELENGTH = 15

/**
 * What a pasted table puts into the fields: by the links that its first column names, or else row by row from the field on into
 * which it was pasted; the figure is in the last column, and looked at in its field.
 * @returns texts by link id, or why nothing is taken
 */
export function pastedTexts(
  text: string,
  links: readonly Link[],
  from: number,
): { texts: Record<string, string> } | { problem: string } {
  const all = text
    .trimEnd()
    .split(/\r?\n/)
    .map((line) => line.split(/[\t;]/).map((cell) => cell.trim()))
  const isHead = (row: string[]) => readMeter(row.at(-1)!, 'level') === null && linkOfCell(row[0]!, links) === null
  const head = all.length > 1 && all[0]!.length > 1 && isHead(all[0]!) && !isHead(all[1]!) ? 1 : 0
  const rows = all.slice(head)
  const named = rows.map((row) => (row.length > 1 ? linkOfCell(row[0]!, links) : null))
  if (2 * named.filter((link) => link !== null).length <= rows.length) {
    if (rows.length > links.length - from)
      return { problem: `${rows.length} rows were pasted, from here on there are ${links.length - from}` }
    return { texts: Object.fromEntries(rows.map((row, i) => [links[from + i]!.id, row.at(-1)!])) }
  }
  const texts: Record<string, string> = {}
  for (const [i, row] of rows.entries()) {
    const link = named[i]
    if (!link) return { problem: `row ${i + 1 + head}: “${row[0]}” is no link that is tested here` }
    if (link.id in texts) return { problem: `row ${i + 1 + head}: ${link.name} is there twice` }
    texts[link.id] = row.at(-1)!
  }
  return { texts }
}
