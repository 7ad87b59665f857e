import { groupWord } from '../../fiber/finder.ts'
import { correctionInWords, type CableCorrection } from '../../plant/correct.ts'
import type { Cable } from '../../plant/types.ts'
import type { RunSheet } from './compile.ts'
import type { Progress } from './progress.ts'

/** Where a sheet found a cable otherwise than its record has it now. */
export interface RecordFinding {
  cable: string
  /** Each with what is on record. */
  words: string[]
  /** What the record would say. */
  changes: CableCorrection
  /** Given with the counts; empty for what was only measured. */
  reason: string
  /** Entries with the counts. */
  entries: string[]
}

/**
 * What a sheet's counts say of the cable's record, and what was measured where the record has nothing. Null where they
 * agree. A group with more or fewer fibers is told, and changes nothing by itself: a fiber may be missing from one, and
 * another size would give every fiber after it another tube and colour.
 */
export function recordFinding({ facts }: RunSheet, progress: Progress, cable: Cable): RecordFinding | null {
  const reasons: string[] = []
  const entries: string[] = []
  const counted = (id: string, onSheet: number | null): number | null => {
    for (const { step, state, by } of progress.steps) {
      const value = by?.entry.values[id]
      if (state !== 'done' || typeof value !== 'number' || !step.fields.some((field) => field.id === id)) continue
      entries.push(by!.id)
      if (onSheet !== null && value !== onSheet && by!.entry.reason !== '') reasons.push(by!.entry.reason)
      return value
    }
    return null
  }
  const groups = counted('groups', facts.groups)
  const inOne = counted('group-fibers', facts.groupFibers)
  const onRecord = Math.ceil(cable.fiberCount / cable.tubeSize)
  const changes: CableCorrection = {}
  if (groups !== null && groups !== onRecord) changes.fiberCount = groups * cable.tubeSize
  if (facts.diameter !== null && cable.outerDiameter === undefined) changes.outerDiameter = facts.diameter
  if (facts.armored && cable.armored === undefined) changes.armored = true
  if (facts.doubleJacket && cable.doubleJacket === undefined) changes.doubleJacket = true
  const words = correctionInWords(cable, changes)
  if (inOne !== null && inOne !== cable.tubeSize)
    words.push(`fibers in the first ${groupWord(cable.construction)}: ${inOne}, on record ${cable.tubeSize}`)
  if (words.length === 0) return null
  return { cable: cable.id, words, changes, reason: [...new Set(reasons)].join('; '), entries }
}
