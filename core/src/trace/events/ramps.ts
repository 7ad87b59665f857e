import { longSigmaAt } from '../noise/noise.ts'
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
/** Part of the mean slope of a staircase that the stretches between its steps must show. */
const STEADY = 0.2

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

/** Fewer steps than this are no staircase. */
const FEWEST_STEPS = 2
/** Cells to a stretch whose misfit to one line is asked, and up to which part of them it is one (judgement). */
const CELLS = 24
const ONE_LINE = 2

/**
 * Steps but those of staircases: where steps of one sign follow each other and one line explains their whole stretch, the
 * fiber attenuates otherwise there, and nothing is joined.
 * @param from,to of the search, points
 */
export function withoutStaircases(
  search: Pick<StepSearch, 'sums' | 'noise' | 'gap'>,
  steps: readonly Ramp[],
  from: number,
  to: number,
): Ramp[] {
  const kept = [...steps]
  for (let length = kept.length; length >= FEWEST_STEPS; length--)
    for (let k = 0; k + length <= kept.length; k++) {
      const run = kept.slice(k, k + length)
      if (run.some(({ rise }) => Math.sign(rise) !== Math.sign(run[0]!.rise))) continue
      const [first, last] = [run[0]!.first, run.at(-1)!.last]
      const beside = (last - first) / (length - 1) / 2
      const before = kept[k - 1] ? kept[k - 1]!.last + search.gap : from
      const after = kept[k + length]?.first ?? to
      const [a, b] = [Math.max(before, first - beside), Math.min(after, last + search.gap + beside)]
      if (!isOneLine(search, Math.ceil(a), Math.floor(b))) continue
      kept.splice(k, length)
      k--
    }
  return kept
}

function isOneLine({ sums, noise }: Pick<StepSearch, 'sums' | 'noise'>, a: number, b: number): boolean {
  const line = b - a > 2 * CELLS ? sums.line(a, b) : null
  if (!line) return false
  const width = Math.floor((b - a) / CELLS)
  let misfit = 0
  for (let k = 0; k < CELLS; k++) {
    const i = a + k * width
    const off = sums.mean(i, i + width) - line.mean - line.slope * (sums.center(i, i + width) - line.center)
    misfit += (off * off * width) / longSigmaAt(noise, i) ** 2
  }
  return misfit < ONE_LINE * (CELLS - 2)
}

/** Fewer changes of one sign in a row than this may be two damages near each other. */
const CROWD = 3

/**
 * Three or more changes of one sign in a row, each near the one before, are one spread loss: in a difference of two
 * traces there is nothing else to make a staircase.
 * @param near points
 */
export function joinCrowds(ramps: readonly Ramp[], near: number): Ramp[] {
  const crowds: Ramp[][] = []
  for (const ramp of ramps) {
    const last = crowds.at(-1)?.at(-1)
    if (last && ramp.first - last.last < near && Math.sign(ramp.rise) === Math.sign(last.rise))
      crowds.at(-1)!.push(ramp)
    else crowds.push([ramp])
  }
  return crowds.flatMap((crowd) => {
    if (crowd.length < CROWD) return crowd
    const [first, last] = [crowd[0]!.first, crowd.at(-1)!.last]
    return [
      {
        first,
        last,
        index: Math.round((first + last) / 2),
        rise: crowd.reduce((sum, ramp) => sum + ramp.rise, 0),
        significance: Math.max(...crowd.map((ramp) => ramp.significance)),
      },
    ]
  })
}

/** Part of a long loss that lies beside it, found on its own, is at most so much of its length off. */
const FRINGE = 0.4

/**
 * A loss over a long stretch, such as fiber that attenuates more than it did, begins and ends without an edge: smaller
 * changes of its sign beside it are its fringe.
 * @param long points from which a ramp counts as long
 */
export function joinFringes(ramps: readonly Ramp[], long: number): Ramp[] {
  const kept = [...ramps]
  for (let k = 0; k < kept.length; k++) {
    const ramp = kept[k]!
    if (ramp.last - ramp.first < long) continue
    const reach = FRINGE * (ramp.last - ramp.first)
    const isFringe = (other: Ramp | undefined) =>
      other !== undefined &&
      Math.sign(other.rise) === Math.sign(ramp.rise) &&
      Math.abs(other.rise) < Math.abs(ramp.rise) &&
      other.first - ramp.last < reach &&
      ramp.first - other.last < reach
    const from = isFringe(kept[k - 1]) ? k - 1 : k
    const to = isFringe(kept[k + 1]) ? k + 1 : k
    if (from === to) continue
    const parts = kept.slice(from, to + 1)
    const [first, last] = [parts[0]!.first, parts.at(-1)!.last]
    const rise = parts.reduce((sum, part) => sum + part.rise, 0)
    kept.splice(from, parts.length, { ...ramp, first, last, rise, index: Math.round((first + last) / 2) })
    k = from - 1
  }
  return kept
}

function isOneWith(search: Parameters<typeof joinRamps>[0], before: Ramp, index: number): boolean {
  const { sums, noise, slope, slopeSigma, gap } = search
  const apart = index - before.last
  const from = before.last + gap
  const line = index > from ? sums.line(from, index) : null
  if (!line || line.count < FEWEST_POINTS) return apart < NO_ROOM * gap
  // Further apart, the stretch between must itself fall as fast as the steps do: a staircase laid over one long slope.
  const falls = (line.slope - slope) * Math.sign(before.rise)
  if (apart >= REACH * gap && falls < (STEADY * Math.abs(before.rise)) / (index - before.first)) return false
  const spread = Math.hypot(slopeSigma, longSigmaAt(noise, line.center) * Math.sqrt(line.slopeVariance))
  return Math.abs(line.slope - slope) > 4 * spread
}
