import { powerFromDisplayLevel } from '../units/decibel.ts'
import { meanVariance, sigmaAt, type Noise } from './noise.ts'
import type { Step } from './steps.ts'
import type { Working } from './working.ts'

/** Where a step's edge begins, in points, and over how many points beyond the instrument's own response it is spread. */
export interface Edge {
  start: number
  sigma: number
  extent: number
}

/**
 * Start of a step's edge, to a fraction of a point: the light in a zone around the step, between the line before and
 * the line after, says where the middle of the transition is; its start is the instrument's own half-pulse earlier.
 * The sum does not depend on the pulse's shape. The zone narrows as the place gets known.
 * @param left,right the step's own stretch: neighbouring events lie outside
 */
export function edgeOfStep(levels: Float64Array, working: Working, step: Step, left: number, right: number): Edge {
  const place = startOfTransition(levels, working, step.index + 1, left, right)
  const extent = extentOf(working, place.start, left, right)
  return { start: place.start - extent / 2, sigma: Math.hypot(place.sigma, 0.15 * extent), extent }
}

/** A loss must stand over the scatter by so much before its spread can be told. */
const MEASURABLE_EXTENT = 20

/** What is needed to place a transition in a series. */
export type TransitionSearch = Pick<Working, 'sums' | 'slope' | 'response' | 'pulsePoints' | 'gap'> & { noise: Noise }

/** Where a transition that is known roughly begins, by the middle of its light. All in points. */
export function startOfTransition(
  levels: Float64Array,
  search: TransitionSearch,
  roughly: number,
  left: number,
  right: number,
): { start: number; sigma: number } {
  const { response, noise, pulsePoints, gap } = search
  let start = roughly
  let sigma = gap
  for (let round = 0; round < 4; round++) {
    const margin = Math.ceil(Math.max(0.35 * pulsePoints + 1, Math.min(2.5 * sigma, 4 * gap)))
    const found = middleOfTransition(levels, search, start - margin, start + response.settled + margin, left, right)
    if (!found) break
    start = Math.min(right, Math.max(left, found.middle - response.middle))
    const points = found.to - found.from
    const light = sigmaAt(noise, start) * Math.sqrt(meanVariance(noise, points)) * points
    sigma = Math.min(right - left, Math.hypot(0.29, light / Math.max(Math.abs(found.rise), 1e-3)))
  }
  return { start, sigma: Math.hypot(sigma, response.middleSigma) }
}

function middleOfTransition(
  levels: Float64Array,
  { slope, sums }: TransitionSearch,
  wantedFrom: number,
  wantedTo: number,
  left: number,
  right: number,
): { middle: number; rise: number; from: number; to: number } | null {
  const z0 = Math.max(left + 3, Math.floor(wantedFrom))
  const z1 = Math.min(right - 3, Math.ceil(wantedTo))
  if (z1 - z0 < 2) return null
  const w = Math.max(8, 3 * (z1 - z0))
  const before = Math.max(Math.ceil(left), z0 - w)
  const after = Math.min(Math.floor(right), z1 + w)
  if (z0 - before < 3 || after - z1 < 3 || sums.count(before, z0) < 3 || sums.count(z1, after) < 3) return null
  const base = (x: number) => sums.mean(before, z0) + slope * (x - sums.center(before, z0))
  const rise = sums.mean(z1, after) - base(sums.center(z1, after))
  const ratio = powerFromDisplayLevel(rise)
  if (Math.abs(ratio - 1) < 1e-4) return null
  let moved = 0
  for (let i = z0; i < z1; i++) moved += powerFromDisplayLevel(levels[i]! - base(i)) - 1
  return { middle: z1 - 0.5 - moved / (ratio - 1), rise, from: z0, to: z1 }
}

/**
 * Points over which a loss is spread beyond what the instrument itself spreads: from where a tenth of it has come to
 * where nine tenths have, read from means over half a pulse. 0 where the noise hides it.
 */
function extentOf(working: Working, start: number, left: number, right: number): number {
  const { sums, response, noise, gap } = working
  const w = Math.max(4, Math.ceil(response.settled / 2))
  const reach = 4 * gap
  const from = Math.max(Math.ceil(left), Math.floor(start - reach))
  const to = Math.min(Math.floor(right), Math.ceil(start + response.settled + reach))
  if (to - from < 6 * w) return 0
  const slope = slopeBeside(working, from, start - gap, start + 2 * gap, to)
  const before = sums.mean(from, from + w)
  const level = (i: number) => sums.mean(i, i + w) - before - slope * (i - from)
  const whole = level(to - w)
  const scatter = sigmaAt(noise, start) * Math.sqrt(2 * meanVariance(noise, w))
  if (Math.abs(whole) < MEASURABLE_EXTENT * scatter) return 0
  const step = Math.max(1, w >> 3)
  let first = from
  while (first < to - w && level(first) / whole < 0.1) first += step
  let last = first
  while (last < to - w && level(last) / whole < 0.9) last += step
  const extent = (last - first - 0.8 * (response.settled + w)) / 0.8
  return extent > response.settled / 4 && extent < 3 * gap ? extent : 0
}

/** Slope of the fiber on both sides of a step, each by its weight, with what is typical of the trace. */
function slopeBeside(working: Working, left0: number, left1: number, right0: number, right1: number): number {
  const { sums, noise, slope, slopeSigma } = working
  let weight = 1 / slopeSigma ** 2
  let sum = slope * weight
  for (const [a, b] of [
    [Math.ceil(left0), Math.floor(left1)],
    [Math.ceil(right0), Math.floor(right1)],
  ] as const) {
    const line = b - a > 5 ? sums.line(a, b) : null
    if (!line) continue
    const own = 1 / (line.slopeVariance * sigmaAt(noise, line.center) ** 2 * noise.correlation)
    weight += own
    sum += line.slope * own
  }
  return sum / weight
}
