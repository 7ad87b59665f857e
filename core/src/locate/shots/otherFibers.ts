import { pulseLengthOf } from '../../trace/trace.ts'
import { baselineOf, jointsThatFit, jointsThatFitFromEnd, type Threads } from './jointsThatFit.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** Records are off by less than this part of a link's length, and cords by less than this, m (judgement). */
const RECORD_ERROR = 0.03
const LEAST_METRES = 100
const CORD_METRES = 5

/**
 * Leaves out traces of another fiber: one that ends with a connection and the far end's cord was seen whole, and when its
 * length is neither the record's nor the baseline's and no joint lies where the baseline has one, it is not the fiber that was asked for. Taken
 * for this link's it would look like a break.
 */
export function withoutOtherFibers(
  threads: Threads,
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): Shot[] {
  return presents.filter((shot) => {
    const length = wholeLength(shot)
    const recorded = threads[shot.direction].fiberLength
    const baseline = baselineOf(shot, baselines)
    const lengths = [recorded, baseline ? wholeLength(baseline) : null].filter((one) => one !== null)
    const near = Math.max(LEAST_METRES, RECORD_ERROR * recorded)
    if (length === null || lengths.some((one) => Math.abs(length - one) < near)) return true
    const fit = jointsThatFit(threads, shot, baselines)
    if (fit === null || fit.matched > 0 || jointsThatFitFromEnd(threads, shot, baselines) > 0) return true
    warnings.push({
      code: 'other-fiber',
      message: `${shot.name} ends with a connection and ${shot.receive!.toFixed(0)} m of cord: it shows a whole fiber of ${length.toFixed(0)} m, not the ${recorded.toFixed(0)} m of this link, and none of its joints. It is another fiber, or patched otherwise: it is left out; check panel, port and fiber`,
    })
    return false
  })
}

/** m of fiber between the cords of a trace that shows the far cord's connection; null when it does not, or a cord is not known. */
function wholeLength({ analysis, launch, receive }: Shot): number | null {
  const { events, trace } = analysis
  const end = events.at(-1)!
  if (end.kind !== 'end' || launch === null || receive === null || receive < LEAST_METRES) return null
  const near = CORD_METRES + 2 * pulseLengthOf(trace)
  const connection = events.find(
    (event) => event.kind === 'reflective' && Math.abs(end.distance - event.distance - receive) < near,
  )
  return connection ? connection.distance - launch : null
}
