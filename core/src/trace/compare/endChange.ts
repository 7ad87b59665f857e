import type { TraceAnalysis } from '../analyze.ts'
import { edgesApart, type Alignment } from './align.ts'
import type { Change } from './change.ts'

/** The fiber ends earlier than it did (a break) or later (fiber was added). */
export function endChange(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  scale: number,
  alignment: Alignment,
): Change | null {
  const after = present.events.at(-1)!
  if (after.kind !== 'end') return null
  const distance = after.distance * scale + alignment.offset
  const before = baseline.events.at(-1)!
  const sigma = Math.hypot(after.distanceSigma, alignment.offsetSigma)
  const slack = 3 * Math.hypot(sigma, before.distanceSigma, edgesApart(baseline.trace, present.trace)) + 1
  const lastSeen =
    before.kind === 'end'
      ? before.distance
      : baseline.working.to * baseline.trace.spacing + baseline.trace.firstDistance
  if (distance > lastSeen - slack && (before.kind !== 'end' || distance < lastSeen + slack)) return null
  return {
    distance,
    distanceSigma: sigma,
    kind: distance < lastSeen ? 'break' : 'moved',
    ...(distance < lastSeen ? {} : { movedBy: distance - lastSeen }),
    lossBefore: null,
    lossAfter: null,
    lossDelta: null,
    lossDeltaSigma: null,
    reflectanceBefore: before.kind === 'end' && distance >= lastSeen ? before.reflectance : null,
    reflectanceAfter: after.reflectance,
    extent: 0,
  }
}
