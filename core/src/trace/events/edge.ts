import { powerFromDisplayLevel } from '../../units/decibel.ts'
import { longSigmaAt, meanSigma, type Noise } from '../noise/noise.ts'
import type { Step } from './steps.ts'
import type { Working } from '../working.ts'

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
  const faint = placeOfFaint(levels, working, step, place.start, left, right)
  if (faint) return { ...faint, extent: 0 }
  const extent = extentOf(working, place.start, left, right)
  return { start: place.start - extent / 2, sigma: Math.hypot(place.sigma, 0.15 * extent), extent }
}

/** A step that stands out of a pulse's noise by less is placed by the course of the light, and not by its middle. */
const FAINT = 8
/** It is sought within so many pulses, in parts of one. */
const SOUGHT = 3
const PARTS = 8

/**
 * A change of level in white noise is placed with this standard deviation, in samples, times the squared ratio of a
 * sample's noise to the change, where that is not small (Yao, Annals of Statistics 15, 1987: variance 26; from memory).
 * A pulse's means are such samples. Of a large step a shift is known to the ratio itself.
 */
const CHANGE_POINT = Math.sqrt(26)

/**
 * Where a faint step begins: where a step's course between the fiber's lines on both sides explains the levels best. What
 * noise moves the middle of the light by grows with the way it is looked at; the best place is moved by what is near it.
 */
function placeOfFaint(
  levels: Float64Array,
  working: Working,
  { rise }: Step,
  roughly: number,
  left: number,
  right: number,
): { start: number; sigma: number } | null {
  const { noise, pulsePoints, response, gap } = working
  const scatter = meanSigma(noise, roughly, Math.max(1, pulsePoints))
  if (Math.abs(rise) > FAINT * scatter) return null
  const reach = Math.ceil(SOUGHT * Math.max(pulsePoints, 2))
  const [z0, z1] = [Math.floor(roughly - reach), Math.ceil(roughly + reach + response.settled)]
  const side = LINE_GAPS * gap
  const [a, b] = [Math.max(Math.ceil(left), z0 - side), Math.min(Math.floor(right), z1 + side)]
  if (z0 - a < gap || b - z1 < gap) return null
  const [before, after] = [lineBeside(working, a, z0), lineBeside(working, z1, b)]
  if (!before || !after) return null
  const lineOf = (line: typeof before) => (x: number) => line.mean + line.slope * (x - line.center)
  const [from, to] = [lineOf(before), lineOf(after)]
  const length = Math.max(1, 2 * response.middle)
  let best = { start: roughly, misfit: Infinity }
  for (let start = roughly - reach; start <= roughly + reach; start += Math.max(0.5, pulsePoints / PARTS)) {
    let misfit = 0
    for (let i = z0; i < z1; i++) {
      const part = Math.max(0, Math.min(1, (i - start) / length))
      misfit += (levels[i]! - (1 - part) * from(i) - part * to(i)) ** 2
    }
    if (misfit < best.misfit) best = { start, misfit }
  }
  const inPulses = scatter / Math.max(1e-4, Math.abs(rise))
  const sigma = Math.max(0.29, pulsePoints * Math.hypot(inPulses, CHANGE_POINT * inPulses ** 2))
  return { start: best.start, sigma: Math.hypot(sigma, response.middleSigma) }
}

/** A loss must stand over the scatter by so much before its spread can be told. */
const MEASURABLE_EXTENT = 30

/** What is needed to place a transition in a series. */
export type TransitionSearch = Pick<Working, 'sums' | 'slope' | 'slopeSigma' | 'response' | 'pulsePoints' | 'gap'> & {
  noise: Noise
}

/** Zones narrow from round to round until the place stands still to this, points. */
const STANDS_STILL = 0.1
const MOST_ROUNDS = 8
/** Lines beside a transition are laid over so many times its length, where nothing stands nearer. */
const LINE_GAPS = 8

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
  let sigma = gap / 2
  let moved = gap / 2
  for (let round = 0; round < MOST_ROUNDS && moved > STANDS_STILL; round++) {
    const margin = Math.ceil(Math.max(0.35 * pulsePoints + 1, Math.min(2.5 * Math.max(sigma, moved), 1.25 * gap)))
    const zone = {
      from: start - margin,
      to: start + response.settled + margin,
      middle: start + response.middle,
    }
    const found = middleOfTransition(levels, search, zone, left, right)
    if (!found) break
    const next = Math.min(right, Math.max(left, found.middle - response.middle))
    moved = Math.abs(next - start)
    start = next
    const points = found.to - found.from
    const light = meanSigma(noise, start, points) * points
    const rise = Math.max(Math.abs(found.rise), 1e-3)
    sigma = Math.min(right - left, Math.hypot(0.29, light / rise, found.lever / rise))
  }
  return { start, sigma: Math.hypot(sigma, response.middleSigma) }
}

function middleOfTransition(
  levels: Float64Array,
  search: TransitionSearch,
  zone: { from: number; to: number; middle: number },
  left: number,
  right: number,
): { middle: number; rise: number; from: number; to: number; lever: number } | null {
  const z0 = Math.max(left + 3, Math.floor(zone.from))
  const z1 = Math.min(right - 3, Math.ceil(zone.to))
  if (z1 - z0 < 2) return null
  const w = Math.max(8, Math.min(3 * (z1 - z0), LINE_GAPS * search.gap))
  const before = lineBeside(search, Math.max(Math.ceil(left), z0 - w), z0)
  const after = lineBeside(search, z1, Math.min(Math.floor(right), z1 + w))
  if (!before || !after) return null
  // Two cables that are joined attenuate differently: the line turns where the step is.
  const corner = Math.min(z1, Math.max(z0, zone.middle))
  const turn = after.slope - before.slope
  const base = (x: number) => before.mean + before.slope * (x - before.center)
  const rise = after.mean + after.slope * (corner - after.center) - base(corner)
  const ratio = powerFromDisplayLevel(rise)
  if (Math.abs(ratio - 1) < 1e-4) return null
  let moved = 0
  for (let i = z0; i < z1; i++)
    moved += powerFromDisplayLevel(levels[i]! - base(i) - turn * Math.max(0, i - corner)) - 1
  const light = moved / (ratio - 1)
  // A wrong slope moves light on its own side of the corner; beyond it the rise is wrong by as much.
  const lever = Math.hypot(
    before.slopeSigma * (corner - z0) * ((corner - z0) / 2 + z0 - before.center),
    after.slopeSigma * (z1 - corner) * ((z1 - corner) / 2 + after.center - z1),
  )
  return { middle: z1 - 0.5 - light, rise, from: z0, to: z1, lever }
}

/** The fiber's line in [from, to): its slope by its own points and by what is typical of the trace; null with too few. */
function lineBeside(
  { sums, noise, slope, slopeSigma }: Omit<TransitionSearch, 'response'>,
  from: number,
  to: number,
): { mean: number; center: number; slope: number; slopeSigma: number } | null {
  if (to - from < 3 || sums.count(from, to) < 3) return null
  const own = to - from > 5 ? sums.line(from, to) : null
  const prior = 1 / slopeSigma ** 2
  const weight = own ? 1 / (own.slopeVariance * longSigmaAt(noise, own.center) ** 2) : 0
  return {
    mean: sums.mean(from, to),
    center: sums.center(from, to),
    slope: (slope * prior + (own ? own.slope * weight : 0)) / (prior + weight),
    slopeSigma: 1 / Math.sqrt(prior + weight),
  }
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
  const [left1, right0] = [Math.floor(start - gap), Math.ceil(start + 2 * gap)]
  const slopeLeft = lineBeside(working, from, left1)?.slope ?? working.slope
  const slopeRight = lineBeside(working, right0, to)?.slope ?? working.slope
  const corner = start + response.middle - w / 2
  const before = sums.mean(from, from + w)
  const level = (i: number) =>
    sums.mean(i, i + w) - before - slopeLeft * (i - from) - (slopeRight - slopeLeft) * Math.max(0, i - corner)
  const whole = level(to - w)
  const scatter = Math.SQRT2 * meanSigma(noise, start, w)
  if (Math.abs(whole) < MEASURABLE_EXTENT * scatter) return 0
  const step = Math.max(1, w >> 3)
  let first = from
  while (first < to - w && level(first) / whole < 0.1) first += step
  let last = first
  while (last < to - w && level(last) / whole < 0.9) last += step
  const extent = (last - first - 0.8 * (response.settled + w)) / 0.8
  return extent > response.settled / 4 && extent < 3 * gap ? extent : 0
}
