import { delayToFiber, groupIndexOf, type Thread } from '../../plant/thread.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { SPEED_OF_LIGHT } from '../../units/light.ts'
import type { Calibration } from '../records/calibrate.ts'
import { findLinkEnds } from './linkEnds.ts'
import { FACTOR_SIGMA } from '../records/recordErrors.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** Cords and mating leave this much in a length between two cords, m. */
const ALLOWANCE = 10

/**
 * Baselines that are of the path as it was before a recorded rerouting: between their cords they show another length than
 * the record, while a present trace shows the record's. They are left out, aloud: compared with them, every metre beyond
 * the rerouting would be a change. A length that no trace confirms is said, and the baseline kept.
 * @returns the baselines that are of the path as it is recorded
 */
export function withoutOutdated(
  threads: Calibration['threads'],
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): Shot[] {
  const recordConfirmed = presents.some((shot) => {
    const miss = lengthMiss(shot, threads[shot.direction])
    return miss !== null && Math.abs(miss.metres) < miss.slack
  })
  return baselines.filter((shot) => {
    const miss = lengthMiss(shot, threads[shot.direction])
    if (miss === null || Math.abs(miss.metres) < miss.slack) return true
    const taken = shot.analysis.trace.takenAt.slice(0, 10)
    const found = `${shot.name}, taken ${taken}, shows ${miss.seen.toFixed(0)} m between its cords, ${Math.abs(miss.metres).toFixed(0)} m ${miss.metres > 0 ? 'more' : 'less'} than the record`
    warnings.push(
      recordConfirmed
        ? {
            code: 'baseline-outdated',
            message: `${found}, which the present traces confirm: it is older than a rerouting or of another fiber, and is left out`,
          }
        : {
            code: 'baseline-length',
            message: `${found}: it is older than a rerouting, of another fiber, a cord's length is wrong, or the record is; what is computed from it stands on that`,
          },
    )
    return !recordConfirmed
  })
}

/** How much longer than the record the fiber between a trace's cords is, m on the trace; null where it can't be seen. */
function lengthMiss(shot: Shot, thread: Thread): { metres: number; seen: number; slack: number } | null {
  const { trace, events } = shot.analysis
  const end = events.at(-1)!
  if (end.kind !== 'end' || end.reflectance === null || shot.launch === null || shot.receive === null) return null
  const cordScale = groupIndexOf(thread.cables.get(thread.pieces[0]!.cable)!, trace.wavelength) / trace.groupIndex
  const length = (delayToFiber(thread, thread.fiberLength, trace.wavelength) * SPEED_OF_LIGHT) / trace.groupIndex
  const seen = end.distance - shot.receive * cordScale - findLinkEnds(shot, thread).start.distance
  const cords = 0.02 * (shot.launch + shot.receive)
  const slack = ALLOWANCE + pulseLengthOf(trace) + 2 * trace.spacing + 4 * FACTOR_SIGMA * length + cords
  return { metres: seen - length, seen, slack }
}
