import type { Account, EvidenceEntry, LogEntry } from '@cold-thread/contract'
import { checkSheet } from '@cold-thread/core/open'
import { buildThread, fiberAtChainage, type PlantBundle, type Thread } from '@cold-thread/core/plant'
import { ObservationRow } from './db/models.ts'
import { AppError } from './errors.ts'

/**
 * Refuses a log entry that can't be of this link, while the person can still mend it.
 * @throws AppError naming the field
 */
export function checkEntry(plant: PlantBundle, linkId: string, entry: LogEntry): void {
  if (entry.kind === 'sheet') checkSheet(entry.sheet)
  const node = entry.kind === 'closure-state' ? entry.node : entry.kind === 'sheet' ? entry.sheet.facts.node : null
  if (node !== null && !plant.nodes.some(({ id }) => id === node))
    throw new AppError('invalid-request', `the plant record has no node "${node}"`, 'entry.node')
  for (const link of linksIn(entry))
    if (!plant.links.some(({ id }) => id === link))
      throw new AppError('invalid-request', `the plant record has no link "${link}"`, 'entry.link')
  if (
    entry.kind !== 'evidence' &&
    entry.kind !== 'splice' &&
    entry.kind !== 'splice-session' &&
    entry.kind !== 'cleaning' &&
    entry.kind !== 'end-face'
  )
    return
  const thread = buildThread(plant, linkId)
  if (entry.kind === 'evidence') return checkPlace(thread, entry.evidence)
  if (entry.node !== null && !thread.nodes.some((node) => node.id === entry.node))
    throw new AppError('invalid-request', `the link does not pass node "${entry.node}"`, 'entry.node')
  if (entry.kind === 'splice' || entry.kind === 'splice-session')
    checkChainage(thread, entry.chainage, 'entry.chainage')
}

/** Links that an entry names. */
function linksIn(entry: LogEntry): string[] {
  switch (entry.kind) {
    case 'loss-reading':
      return [entry.link]
    case 'received-power':
      return [entry.power.link]
    case 'continuity':
      return entry.arrivesAt === null ? [entry.link] : [entry.link, entry.arrivesAt]
    default:
      return []
  }
}

function checkPlace(thread: Thread, evidence: EvidenceEntry['evidence']): void {
  const place = 'place' in evidence ? evidence.place : 'node' in evidence ? { node: evidence.node } : null
  if (place === null) return
  if ('chainage' in place) return checkChainage(thread, place.chainage, 'entry.evidence.place.chainage')
  if (!thread.nodes.some((node) => node.id === place.node))
    throw new AppError('invalid-request', `the link does not pass node "${place.node}"`, 'entry.evidence.node')
}

function checkChainage(thread: Thread, chainage: number, field: string): void {
  try {
    fiberAtChainage(thread, chainage)
  } catch {
    throw new AppError('invalid-request', `the link does not pass chainage ${chainage} m`, field)
  }
}

/** What an entry belongs to: an earlier one of this kind, which the field names; null for one that stands alone. */
function ownerOf(entry: LogEntry): { id: string; kind: LogEntry['kind']; field: string; words: string } | null {
  switch (entry.kind) {
    case 'splice':
    case 'arc-calibration':
    case 'session-care':
    case 'splice-queue':
    case 'session-end':
      // A splice may be logged by hand, without a session.
      return entry.sessionId === undefined
        ? null
        : { id: entry.sessionId, kind: 'splice-session', field: 'entry.sessionId', words: 'splicing session' }
    case 'reference-look':
    case 'loss-reading':
      return { id: entry.referenceId, kind: 'loss-reference', field: 'entry.referenceId', words: 'reference' }
    case 'trunk-test':
      return entry.test.referenceId === undefined
        ? null
        : {
            id: entry.test.referenceId,
            kind: 'trunk-reference',
            field: 'entry.test.referenceId',
            words: 'reference of a trunk tester',
          }
    default:
      return null
  }
}

/**
 * Refuses an entry that belongs to another one which is not of this callout.
 * @throws AppError naming the field
 */
export async function checkOwner(calloutId: string, entry: LogEntry): Promise<void> {
  const owner = ownerOf(entry)
  if (owner === null) return
  const row = await ObservationRow.findByPk(owner.id)
  if (row?.calloutId !== calloutId || row.entry.kind !== owner.kind)
    throw new AppError('not-found', `the callout has no such ${owner.words}`, owner.field)
}

/**
 * Refuses what can't be of a sheet: one that is not of this callout, a step it does not have, a lead's word from somebody
 * else. What stands against a step otherwise is judged from the log: entries are facts, and kept.
 * @throws AppError naming the field
 */
export async function checkSheetEntry(calloutId: string, entry: LogEntry, { role }: Account): Promise<void> {
  if (entry.kind !== 'sheet-step' && entry.kind !== 'sheet-release' && entry.kind !== 'hand-over') return
  const row = await ObservationRow.findByPk(entry.sheetId)
  if (row?.calloutId !== calloutId || row.entry.kind !== 'sheet')
    throw new AppError('not-found', 'the callout has no such run sheet', 'entry.sheetId')
  if (entry.kind === 'hand-over') return
  const step = row.entry.sheet.steps.find(({ id }) => id === entry.step)
  if (!step) throw new AppError('invalid-request', `the sheet has no step “${entry.step}”`, 'entry.step')
  if (entry.kind === 'sheet-step') return
  if (step.hold === undefined)
    throw new AppError('invalid-request', `“${entry.step}” does not wait for a lead`, 'entry.step')
  if (role !== 'lead') throw new AppError('no-right', 'Only a lead gives the word for this step.', 'entry.step')
}
