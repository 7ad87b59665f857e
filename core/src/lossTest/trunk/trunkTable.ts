import type { TrunkChannel } from './trunk.ts'
import type { TrunkReference } from './trunkReference.ts'

interface Cell {
  value: number | null
  /** A level, not a loss: its unit says so. */
  dBm: boolean
  text: string
}

/** Rows of a pasted table as figures; units in cells and decimal commas are understood. */
function readCells(text: string, count: number): { rows: Cell[][] } | { problem: string } {
  const rows = text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => line.split(/[\t;]/).map((cell) => cell.trim()))
  // Names of columns are no channel.
  if (rows.length === count + 1 && rows[0]!.every((cell) => Number.isNaN(readCell(cell).value))) rows.shift()
  if (rows.length !== count) return { problem: `${rows.length} rows were pasted, the trunk has ${count} channels` }
  const cells = rows.map((row) => row.map(readCell))
  for (const [i, row] of cells.entries()) {
    const bad = row.findIndex(({ value }) => Number.isNaN(value))
    if (bad >= 0) return { problem: `row ${i + 1}: “${row[bad]!.text}” is no figure` }
  }
  return { rows: cells }
}

function readCell(text: string): Cell {
  if (/^(dark|none|–|-)?$/i.test(text)) return { value: null, dBm: false, text }
  const number = text
    .replace(/\s*dBm?$/i, '')
    .replace(',', '.')
    .replace('\u2212', '-')
  return { value: number === '' ? NaN : Number(number), dBm: /dBm$/i.test(text), text }
}

/** Which channel a row is of: by its own figure, or by where it stands. @returns why not, in words */
function channelOf(cell: Cell | null, i: number, count: number, taken: ReadonlySet<number>): number | string {
  const channel = cell ? cell.value : i + 1
  if (channel === null || !Number.isInteger(channel) || channel < 1 || channel > count)
    return `row ${i + 1}: there is no channel “${cell!.text}”`
  return taken.has(channel) ? `row ${i + 1}: channel ${channel} is there twice` : channel
}

/** A loss further below zero is none, dB: a level without its unit. */
const LEAST_LOSS = -5

/**
 * Reads pasted rows: channel, where it came out, loss and return loss; channel, loss and return loss; loss and return loss;
 * or loss alone. A level in dBm stands for the loss against the channel's reference.
 * @param reference that levels are held against; null where there is none
 * @returns channels, or why nothing was taken
 */
export function readTrunkRows(
  text: string,
  count: number,
  reference: TrunkReference | null,
): { channels: TrunkChannel[] } | { problem: string } {
  const read = readCells(text, count)
  if ('problem' in read) return read
  const channels = new Map<number, TrunkChannel>()
  for (const [i, cells] of read.rows.entries()) {
    if (cells.length > 4) return { problem: `row ${i + 1} has ${cells.length} columns, at most 4 are understood` }
    const [first, at, loss, returnLoss] =
      cells.length === 4
        ? [cells[0]!, cells[1]!, cells[2]!, cells[3]!]
        : cells.length === 3
          ? [cells[0]!, null, cells[1]!, cells[2]!]
          : [null, null, cells[0]!, cells[1] ?? null]
    const channel = channelOf(first, i, count, new Set(channels.keys()))
    if (typeof channel === 'string') return { problem: channel }
    const out = at?.value ?? null
    if (out !== null && (!Number.isInteger(out) || out < 0 || out > count))
      return { problem: `row ${i + 1}: there is no channel “${at!.text}” to come out at` }
    const lost = lossOf(loss, reference?.channels[channel - 1]?.level ?? null)
    if (typeof lost === 'string') return { problem: `row ${i + 1}: ${lost}` }
    channels.set(channel, { at: out, loss: lost, returnLoss: returnLoss?.value ?? null })
  }
  return { channels: Array.from({ length: count }, (_, i) => channels.get(i + 1)!) }
}

function lossOf({ value, dBm, text }: Cell, level: number | null): number | null | string {
  if (value === null) return null
  if (!dBm) return value < LEAST_LOSS ? `“${text}” is no loss; levels are told apart by their unit, dBm` : value
  if (level === null) return `“${text}” is a level, and its channel has no reference`
  return Math.round((level - value) * 1000) / 1000
}

/**
 * Reads a pasted reference: channel, level and return loss; level and return loss; or level alone, dBm.
 * @returns channels, or why nothing was taken
 */
export function readReferenceRows(text: string, count: number): Pick<TrunkReference, 'channels'> | { problem: string } {
  const read = readCells(text, count)
  if ('problem' in read) return read
  const channels = new Map<number, TrunkReference['channels'][number]>()
  for (const [i, cells] of read.rows.entries()) {
    if (cells.length > 3) return { problem: `row ${i + 1} has ${cells.length} columns, at most 3 are understood` }
    const [first, level, returnLoss] =
      cells.length === 3 ? [cells[0]!, cells[1]!, cells[2]!] : [null, cells[0]!, cells[1] ?? null]
    const channel = channelOf(first, i, count, new Set(channels.keys()))
    if (typeof channel === 'string') return { problem: channel }
    if (level.value !== null && Math.abs(level.value) > MOST_LEVEL)
      return { problem: `row ${i + 1}: “${level.text}” is no level in dBm` }
    channels.set(channel, { level: level.value, returnLoss: returnLoss?.value ?? null })
  }
  return { channels: Array.from({ length: count }, (_, i) => channels.get(i + 1)!) }
}

/** Beyond this a figure is no level of a tester, dBm. */
const MOST_LEVEL = 70
