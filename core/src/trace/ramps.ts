import { sigmaAt } from './noise.ts'
import type { Step, StepSearch } from './steps.ts'

/** A change of level that may be spread: from the first to the last of the steps it was found as, points. */
export interface Ramp extends Step {
  first: number
  last: number
}

/** Parts of one spread loss are found at most so many transitions apart. */
const REACH = 4
/** Between two steps closer than this there is no room for a stretch of fiber. */
const NO_ROOM = 2
const FEWEST_POINTS = 8

/**
 * A loss that is spread over a stretch is found as several steps of one sign; between two splices the trace runs along
 * the fiber's slope. Steps without such a stretch between them are taken as one.
 * @param steps in order of place
 */
export function joinRamps(
  search: Pick<StepSearch, 'sums' | 'noise' | 'slope' | 'slopeSigma' | 'gap'>,
  steps: readonly Step[],
): Ramp[] {
  const ramps: Ramp[] = []
  for (const step of steps) {
    const before = ramps.at(-1)
    if (!before || Math.sign(step.rise) !== Math.sign(before.rise) || !isOneWith(search, before, step.index)) {
      ramps.push({ ...step, first: step.index, last: step.index })
      continue
    }
    before.rise += step.rise
    before.last = step.index
    before.index = Math.round((before.first + before.last) / 2)
  }
  return ramps
}

function isOneWith(search: Parameters<typeof joinRamps>[0], before: Ramp, index: number): boolean {
  const { sums, noise, slope, slopeSigma, gap } = search
  const apart = index - before.last
  if (apart >= REACH * gap) return false
  const from = before.last + gap
  const line = index > from ? sums.line(from, index) : null
  if (!line || line.count < FEWEST_POINTS) return apart < NO_ROOM * gap
  const spread = Math.hypot(slopeSigma, sigmaAt(noise, line.center) * Math.sqrt(line.slopeVariance * noise.correlation))
  return Math.abs(line.slope - slope) > 4 * spread
}
