import type { ClosureHistory, LogEntry, Observation, OpenBook, OpenBookRecord } from '@cold-thread/contract'
import {
  PROCEDURES,
  progressOf,
  recordDifferences,
  sheetEvents,
  sheetTimes,
  withOwnProcedures,
} from '@cold-thread/core/open'
import { momentsOf, PLAN_RULES, type StepDone } from '@cold-thread/core/plan'
import { literal, UniqueConstraintError } from 'sequelize'
import { CalloutRow, ObservationRow, OpenBookRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { listObservations } from './observations.ts'

const EMPTY: OpenBook = { closures: [], procedures: [] }

export async function currentOpenBook(): Promise<OpenBookRecord> {
  const row = await OpenBookRow.findOne({ order: [['version', 'DESC']] })
  return row ? toRecord(row) : { book: EMPTY, version: 0, savedAt: null, savedBy: null }
}

function toRecord({ book, version, savedAt, savedBy }: OpenBookRow): OpenBookRecord {
  return { book, version, savedAt: savedAt.toISOString(), savedBy }
}

/**
 * Saves a new version of the book; all earlier ones are kept, and sheets that were begun keep their own steps.
 * @param readVersion the version that the change was made on
 * @throws ProcedureError for procedures that could not be followed
 */
export async function saveOpenBook(
  book: OpenBook,
  readVersion: number,
  by: string,
  now: Date,
): Promise<OpenBookRecord> {
  withOwnProcedures(PROCEDURES, book.procedures)
  const twice = book.closures.find(({ model }, i) => book.closures.findIndex((one) => one.model === model) !== i)
  if (twice) throw new AppError('procedure-refused', `the closure “${twice.model}” is there twice`, 'closures')
  const current = await currentOpenBook()
  const stale = `the book is at version ${current.version}, this change was made on ${readVersion}`
  if (current.version !== readVersion) throw new AppError('stale-edit', stale, 'version')
  try {
    return toRecord(await OpenBookRow.create({ version: readVersion + 1, book, savedAt: now, savedBy: by }))
  } catch (error) {
    if (error instanceof UniqueConstraintError) throw new AppError('stale-edit', stale, 'version')
    throw error
  }
}

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

/** Minutes of parts of sheets, as the plan counts its steps. */
export async function sheetStepTimes(): Promise<StepDone[]> {
  const logs = new Map<string, Observation[]>()
  const out: StepDone[] = []
  for (const { id, calloutId } of await entriesOfKinds('sheet')) {
    const log = logs.get(calloutId) ?? (await listObservations(calloutId))
    logs.set(calloutId, log)
    const begun = log.find((one) => one.id === id)
    if (begun?.entry.kind !== 'sheet' || begun.superseded) continue
    for (const { kind, minutes } of sheetTimes(begun.entry.sheet, sheetEvents(id, log)))
      out.push({ kind, minutes, byRules: momentsOf(PLAN_RULES.steps[kind].minutes).mean })
  }
  return out
}
