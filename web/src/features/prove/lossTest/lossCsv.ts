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

/** Which column tells the link, and which what the meter showed. */
export interface LossColumns {
  link: number
  figure: number
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

/** The columns that most rows can be read by. */
export function guessColumns({ columns, rows }: LossTable, links: readonly Link[]): LossColumns {
  const best = (fits: (cell: string) => boolean, not: number | null) => {
    const counts = columns.map((_, k) => (k === not ? -1 : rows.filter((row) => fits(row[k] ?? '')).length))
    return counts.indexOf(Math.max(...counts))
  }
  const link = best((cell) => linkOfCell(cell, links) !== null, null)
  return { link, figure: best((cell) => readMeter(cell, 'level') !== null, link) }
}

/**
 * What each link's field gets; nothing of a table with a problem is used.
 * @returns texts by link id, or the problem with its line in the file
 */
export function textsOf(
  { rows, before }: LossTable,
  { link, figure }: LossColumns,
  links: readonly Link[],
): { texts: Record<string, string> } | { problem: string } {
  const texts: Record<string, string> = {}
  for (const [k, row] of rows.entries()) {
    const where = `line ${k + 1 + before}`
    const found = linkOfCell(row[link] ?? '', links)
    if (!found) return { problem: `${where}: “${row[link] ?? ''}” is no link that is tested here` }
    if (found.id in texts) return { problem: `${where}: ${found.name} is there twice` }
    const text = row[figure] ?? ''
    if (readMeter(text, 'level') === null) return { problem: `${where}: “${text}” is no figure of a meter` }
    texts[found.id] = text
  }
  return { texts }
}
