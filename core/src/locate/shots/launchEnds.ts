import { offsetOfCords, type ExpectedOffset } from '../../trace/compare/align.ts'
import { foundStart, offsetFrom } from './launchFound.ts'
import { launchSeen, type LinkEnds, type TraceMark } from './linkEnds.ts'
import type { Shot } from './shot.ts'

/** Cords of fiber with other indices at other wavelengths differ by so much of their length (G.652, from memory). */
const INDEX_SPREAD = 5e-4
const SAME_SPACING = 0.01

/**
 * The shots with the end of their launch cord where other traces of the same survey show it. A front reflection or a
 * receiver at its limit hides the connection in one trace and not in another, and an instrument shows every edge later
 * than its zero by the same part of the pulse: its own trace tells the place better than the cord's recorded length.
 */
export function withLaunchEnds(shots: readonly Shot[]): Shot[] {
  const seen = shots.map(launchSeen)
  return shots.map((shot, k) => {
    if (seen[k] || !shot.launch) return shot
    const marks = seen.filter((mark, i): mark is TraceMark => mark !== null && isSameSurvey(shot, shots[i]!))
    if (marks.length === 0) return shot
    const distance = marks.reduce((sum, mark) => sum + mark.distance, 0) / marks.length
    const spread = Math.max(...marks.map((mark) => Math.hypot(mark.sigma, mark.distance - distance)))
    return { ...shot, launchEnd: { distance, sigma: Math.hypot(spread, 0.5, INDEX_SPREAD * shot.launch) } }
  })
}

/** One instrument with one pulse and one length of cord. */
function isSameSurvey(a: Shot, b: Shot): boolean {
  const [one, other] = [a.analysis.trace, b.analysis.trace]
  return (
    a.launch === b.launch &&
    one.instrument === other.instrument &&
    one.pulseWidth === other.pulseWidth &&
    one.groupIndex === other.groupIndex &&
    Math.abs(one.spacing / other.spacing - 1) < SAME_SPACING
  )
}

/**
 * What the launch cords tell of how two traces of one end lie on each other. Where a cord is not known, the link begins in the
 * present trace behind the port, or at one of its reflections: where most of its events then fit the baseline's.
 * @param ends of the link in the baseline; null where a cord that is not known is not looked for
 * @returns null when a cord is not known and is not looked for
 */
export function expectedOffset(baseline: Shot, present: Shot, ends: LinkEnds | null = null): ExpectedOffset | null {
  const [before, now] = [baseline.analysis.trace, present.analysis.trace]
  if (baseline.launch === null || present.launch === null)
    return ends && offsetFrom({ baseline, present, ends }, present.launchEnd ?? foundStart({ baseline, present, ends }))
  const [a, b] = [placeOf(baseline), placeOf(present)]
  if (!a || !b || (launchSeen(baseline) && launchSeen(present)))
    return offsetOfCords(before, now, baseline.launch, present.launch)
  const scale = now.groupIndex / before.groupIndex
  return { offset: a.distance - b.distance * scale, sigma: Math.hypot(1, a.sigma, b.sigma) }
}

function placeOf(shot: Shot): TraceMark | null {
  return launchSeen(shot) ?? shot.launchEnd ?? null
}
