import type { EvidenceEntry, LogEntry } from '@cold-thread/contract'
import { buildThread, fiberAtChainage, type PlantBundle, type Thread } from '@cold-thread/core/plant'
import { AppError } from './errors.ts'

/**
 * Refuses a log entry that can't be of this link, while the person can still mend it.
 * @throws AppError naming the field
 */
export function checkEntry(plant: PlantBundle, linkId: string, entry: LogEntry): void {
  if (entry.kind !== 'evidence' && entry.kind !== 'splice' && entry.kind !== 'cleaning') return
  const thread = buildThread(plant, linkId)
  if (entry.kind === 'evidence') return checkPlace(thread, entry.evidence)
  if (entry.node !== null && !thread.nodes.some((node) => node.id === entry.node))
    throw new AppError('invalid-request', `the link does not pass node "${entry.node}"`, 'entry.node')
  if (entry.kind === 'splice') checkChainage(thread, entry.chainage, 'entry.chainage')
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
