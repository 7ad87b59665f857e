import { fiberOf, type Calibration } from './calibrate.ts'
import type { Pairing } from '../posterior/candidates.ts'
import type { LocateWarning } from '../shots/shot.ts'

/**
 * Says aloud which joints lie elsewhere than in the baseline: slack was pulled, or fiber let into the link, since then.
 * Their loss is what it was, so that they are no fault; but distances counted from the old places would be wrong.
 */
export function warnMoved(calibration: Calibration, pairing: Pairing, warnings: LocateWarning[]): void {
  const { comparison, present, baseline, ends } = pairing
  const moved = comparison.changes.filter((change) => change.kind === 'moved' && change.distance < linkEnd(pairing))
  if (moved.length === 0) return
  const thread = calibration.threads[present.direction]
  const places = moved.map((change) => {
    const at = fiberOf(thread, baseline.analysis.trace, ends, change.distance)
    return `${at.toFixed(0)} m (${change.movedBy! > 0 ? '+' : '−'}${Math.abs(change.movedBy!).toFixed(0)} m)`
  })
  const many = moved.length > 1
  warnings.push({
    code: 'event-moved',
    message: `${present.name} shows ${many ? `${moved.length} joints` : 'a joint'} elsewhere than the baseline does, with the same loss: at ${places.join(', ')} of fiber from the instrument. Slack was pulled or fiber let in since the baseline: check the record before distances are counted from ${many ? 'them' : 'it'}`,
  })
}

function linkEnd({ ends }: Pairing): number {
  return ends.end?.distance ?? Infinity
}
