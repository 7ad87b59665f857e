import type { ClosureHistory, LogEntry, Observation } from '@cold-thread/contract'
import { progressOf, recordDifferences, sheetEvents, sheetTimes, type RunSheet } from '@cold-thread/core/open'
import { momentsOf, PLAN_RULES, type StepDone } from '@cold-thread/core/plan'
import { literal } from 'sequelize'
import { CalloutRow, ObservationRow } from '../db/models.ts'
import { listObservations } from './observations.ts'

/** What was seen and done at a closure, over all callouts, newest first. */
export async function closureHistory(node: string): Promise<ClosureHistory> {
  const [rows, callouts] = await Promise.all([
    entriesOfKinds('sheet', 'closure-state'),
    CalloutRow.findAll({ attributes: ['id', 'title'] }),
  ])
  const touched = new Set(rows.flatMap(({ calloutId, entry }) => (nodeOf(entry) === node ? [calloutId] : [])))
  const out: ClosureHistory = []
  for (const calloutId of touched) {
    const log = await listObservations(calloutId)
    const title = callouts.find(({ id }) => id === calloutId)?.title ?? ''
    for (const { id, entry, by, observedAt: at, superseded } of log) {
      if (superseded || nodeOf(entry) !== node) continue
      if (entry.kind === 'closure-state') out.push({ calloutId, title, at, by, what: entry })
      if (entry.kind === 'sheet') {
        const progress = progressOf(entry.sheet, sheetEvents(id, log))
        const { done, steps } = progress
        const differences = recordDifferences(progress)
        const what = { kind: 'sheet' as const, name: entry.sheet.name, done, all: steps.length, differences }
        out.push({ calloutId, title, at, by, what })
      }
    }
  }
  return out.sort((a, b) => b.at.localeCompare(a.at))
}

function nodeOf(entry: ObservationRow['entry']): string | null {
  if (entry.kind === 'closure-state') return entry.node
  return entry.kind === 'sheet' ? entry.sheet.facts.node : null
}

/** Entries of these kinds over all callouts, the others left where they are. */
function entriesOfKinds(...kinds: LogEntry['kind'][]): Promise<ObservationRow[]> {
  return ObservationRow.findAll({
    attributes: ['id', 'calloutId', 'entry'],
    where: literal(`JSON_VALUE(\`entry\`, '$.kind') IN (${kinds.map((kind) => `'${kind}'`).join(', ')})`),
  })
}

/** Callouts whose log has entries of this kind. */
export async function calloutsWith(kind: LogEntry['kind']): Promise<string[]> {
  return [...new Set((await entriesOfKinds(kind)).map(({ calloutId }) => calloutId))]
}

/** A run sheet that stands, with the whole log of its callout. */
export interface KeptSheet {
  sheet: RunSheet
  begun: Observation
  log: Observation[]
}

/** Run sheets of all callouts. */
export async function allSheets(): Promise<KeptSheet[]> {
  const logs = new Map<string, Observation[]>()
  const out: KeptSheet[] = []
  for (const { id, calloutId } of await entriesOfKinds('sheet')) {
    const log = logs.get(calloutId) ?? (await listObservations(calloutId))
    logs.set(calloutId, log)
    const begun = log.find((one) => one.id === id)
    if (begun?.entry.kind === 'sheet' && !begun.superseded) out.push({ sheet: begun.entry.sheet, begun, log })
  }
  return out
}

/** Minutes of parts of sheets, as the plan counts its steps. */
export async function sheetStepTimes(): Promise<StepDone[]> {
  return (await allSheets()).flatMap(({ sheet, begun, log }) =>
    sheetTimes(sheet, sheetEvents(begun.id, log)).map(({ kind, minutes }) => ({
      kind,
      minutes,
      byRules: momentsOf(PLAN_RULES.steps[kind].minutes).mean,
    })),
  )
}
