import type { Link, PlantBundle } from '@cold-thread/core/plant'
import { readMeter, type ReceivedPower } from '@cold-thread/core/prove'
import { nodeNamed, readNamedTable } from '../../../ui/namedTable.ts'

/** Columns by the names that people give them; the first row names them. */
const COLUMNS = {
  place: ['place', 'node', 'where', 'seen_at', 'receiver'],
  wavelength: ['wavelength', 'wavelength_nm', 'nm'],
  before: ['before', 'before_dbm', 'power_before_dbm', 'rx_before_dbm'],
  after: ['after', 'after_dbm', 'power_after_dbm', 'rx_after_dbm', 'now', 'now_dbm'],
} as const

/**
 * Reads what receivers saw before the fault and after the repair: a row for each end and wavelength. Without a column of
 * wavelengths all are of the equipment's.
 * @param equipment wavelength, nm
 * @returns powers, or the problem with its row; nothing of a file with a problem is used
 */
export function readReceivedCsv(
  text: string,
  plant: PlantBundle,
  link: Link,
  equipment: number,
): { powers: ReceivedPower[] } | { problem: string } {
  const table = readNamedTable(text, COLUMNS, ['wavelength'])
  if ('problem' in table) return table
  const ends = [link.from, link.to].map((id) => plant.nodes.find((node) => node.id === id)?.name ?? id)
  const powers = new Map<string, ReceivedPower>()
  for (const { where, cell } of table.rows) {
    const node = nodeNamed(plant, cell('place'))
    if (node !== link.from && node !== link.to)
      return { problem: `${where}: "${cell('place')}" is neither end of this link (${ends.join(', ')})` }
    const wavelength = wavelengthOf(cell('wavelength'), equipment)
    if (wavelength === null) return { problem: `${where}: "${cell('wavelength')}" is no wavelength in nm` }
    const [before, after] = [levelOf(cell('before')), levelOf(cell('after'))]
    if (before === null || after === null)
      return { problem: `${where}: "${cell(before === null ? 'before' : 'after')}" is no received power` }
    const way = node === link.to ? 'ab' : 'ba'
    const key = `${way} ${wavelength}`
    if (powers.has(key)) return { problem: `${where}: ${cell('place')} at ${wavelength} nm is there twice` }
    powers.set(key, { link: link.id, way, wavelength, before, after })
  }
  return powers.size === 0 ? { problem: 'the file has no readings' } : { powers: [...powers.values()] }
}

/** Where a row names none, the equipment's. */
function wavelengthOf(text: string, equipment: number): number | null {
  if (text === '') return equipment
  const nm = Number(/^(\d{3,4})\s*(?:nm)?$/i.exec(text)?.[1])
  return nm >= 600 && nm <= 1700 ? nm : null
}

function levelOf(text: string): number | null {
  const read = readMeter(text, 'level')
  return read && 'level' in read && read.level >= -80 && read.level <= 30 ? read.level : null
}
