import type { EvidenceEntry } from '@cold-thread/contract'
import type { Link, PlantBundle } from '@cold-thread/core/plant'
import { nodeNamed, readNamedTable } from '../../ui/namedTable.ts'

export type PowerEvidence = Extract<EvidenceEntry['evidence'], { kind: 'power' }>

/** What a file of received powers says; nothing of a file with a problem is used. */
export type PowerReadings = { readings: PowerEvidence[]; problem: null } | { readings: null; problem: string }

/** Columns by the names that people give them; the first row names them. */
const COLUMNS = {
  node: ['node', 'place', 'where'],
  from: ['from', 'source', 'end'],
  expected: ['expected', 'expected_dbm', 'before', 'before_dbm'],
  measured: ['measured', 'measured_dbm', 'read', 'read_dbm', 'power', 'power_dbm'],
} as const

/**
 * Reads received powers, dBm, from a table with a row for each place: node and from (names or ids of the plant, from
 * one of the link's ends), expected and measured. Separator comma, semicolon or tab; a decimal comma is understood
 * where it does not separate.
 */
export function readPowerCsv(text: string, plant: PlantBundle, link: Link): PowerReadings {
  const table = readNamedTable(text, COLUMNS)
  if ('problem' in table) return refusal(table.problem)
  const onPath = new Set([link.from, ...link.path.flatMap((step) => ('node' in step ? [step.node] : [])), link.to])
  const readings: PowerEvidence[] = []
  for (const { where, cell } of table.rows) {
    const nodeId = nodeNamed(plant, cell('node'))
    if (nodeId === null || !onPath.has(nodeId)) return refusal(`${where}: "${cell('node')}" is no node of this link`)
    const fromId = nodeNamed(plant, cell('from'))
    if (fromId !== link.from && fromId !== link.to)
      return refusal(`${where}: "${cell('from')}" is neither end of this link`)
    const [expected, measured] = [figure(cell('expected')), figure(cell('measured'))]
    if (expected === null || measured === null)
      return refusal(
        `${where}: "${cell(expected === null ? 'expected' : 'measured')}" is no power in dBm between −80 and 30`,
      )
    readings.push({ kind: 'power', from: fromId === link.from ? 'ab' : 'ba', node: nodeId, expected, measured })
  }
  return readings.length === 0 ? refusal('the file has no readings') : { readings, problem: null }
}

function refusal(problem: string): PowerReadings {
  return { readings: null, problem }
}

function figure(text: string): number | null {
  const value = text === '' ? NaN : Number(text.replace(',', '.').replace('\u2212', '-'))
  return value >= -80 && value <= 30 ? value : null
}
