import type { TraceEvent } from '../events/events.ts'
import type { TraceAnalysis } from '../analyze.ts'
import { longSigmaAt, meanSigma, sigmaAt, SIGNAL_LOST_DB, type Noise } from '../noise/noise.ts'
import { startOfTransition, type TransitionSearch } from '../events/edge.ts'
import { PrefixSums } from '../noise/prefixSums.ts'
import type { Ramp } from '../events/ramps.ts'
import type { StepSearch } from '../events/steps.ts'
import { pulseLengthOf } from '../trace.ts'

/**
 * Present minus baseline on one grid, where the fiber's own slope and the events common to both cancel.
 * A fault stands out here even when the traces look alike.
 */
export interface Difference {
  /** m on the baseline's scale of the first point, and between points */
  firstDistance: number
  spacing: number
  /** dB, level at the beginning set to zero; NaN where one trace has no signal */
  values: Float64Array
  /** 0 where the pulses of the two traces leave different transitions: not used for measuring. */
  use: Uint8Array
  /** The stretch where both traces have signal, ready for a search of steps. */
  search: StepSearch
  indexAt(distance: number): number
  distanceAt(index: number): number
  /** Added loss at a step: level before minus level after, from the stretches up to the neighbouring steps. */
  measure(
    step: Ramp,
    previous: number,
    next: number,
  ): {
    distance: number
    distanceSigma: number
    /** Inside a transition that both traces show: the place is that stretch. */
    masked: boolean
    delta: number
    deltaSigma: number
    /** m over which the loss is spread when it is many transitions long; 0 otherwise. */
    extent: number
  } | null
}

/** Attenuation of one fiber is the same in both traces; instruments differ by about this much in linearity, dB/m. */
const SLOPE_SPREAD = 0.005e-3
const GRID_POINTS_PER_PULSE = 8
/** A loss found over more transitions than this is placed by its stretch, not by its edge. */
const LONG_SPREAD = 4
/** A loss must stand over the scatter of a mean by so much before its spread can be told. */
const TELLS_SPREAD = 20
/** A spread loss is looked for within this of the step it was found as, m. */
const SPREAD_REACH = 400
/** A step lies within so many transitions of where it was found. */
const NEAR_GAPS = 2
/** A change is measured within this of its place, m, or so many transitions, and no further than to the neighbouring changes. */
const MEASURING_REACH = 1500
const MEASURING_TRANSITIONS = 4

/**
 * @param scale m of the baseline's index per m of the present's
 * @param offset m: present·scale + offset = baseline
 * @param matches events that both traces show
 */
export function differenceOf(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  scale: number,
  offset: number,
  matches: readonly [baseline: number, present: number][],
): Difference {
  const b = resampler(baseline, 1, 0)
  const p = resampler(present, scale, offset)
  const pulse = Math.max(pulseLengthOf(baseline.trace), pulseLengthOf(present.trace))
  // Nothing on a trace is sharper than its pulse: many points to a pulse are averaged before they are subtracted.
  const spacing = Math.max(b.spacing, p.spacing, pulse / GRID_POINTS_PER_PULSE)
  const firstDistance = Math.max(b.from, p.from)
  const count = Math.max(0, Math.floor((Math.min(b.to, p.to) - firstDistance) / spacing))
  const distanceAt = (index: number) => firstDistance + index * spacing
  const indexAt = (distance: number) => (distance - firstDistance) / spacing
  const values = new Float64Array(count)
  const use = new Uint8Array(count).fill(1)
  b.addTo(values, firstDistance, spacing, -1)
  p.addTo(values, firstDistance, spacing, 1)
  // A step that only the present trace shows is what is looked for: it stays.
  const known = new Set(matches.map(([, i]) => i))
  maskTransitions(use, baseline, baseline.events, indexAt, 1, 0, spacing)
  // Reflections and echoes stand over the fiber's level: they say nothing of it.
  const common = present.events.filter(
    (event, i) => known.has(i) || event.reflectance !== null || event.kind === 'ghost',
  )
  maskTransitions(use, present, common, indexAt, scale, offset, spacing)
  const margin = Math.max(marginOf(baseline.trace.spacing, spacing), marginOf(present.trace.spacing, spacing))
  const noise = combinedNoise(values, b, p, distanceAt, spacing)
  levelOut(values, use)
  const sums = new PrefixSums(values, use)
  const transition = Math.max(...[baseline, present].map(({ working, trace }) => working.gap * trace.spacing))
  const gap = Math.ceil(transition / spacing) + 1
  const search: StepSearch = { sums, noise, gap, slope: 0, slopeSigma: SLOPE_SPREAD * spacing, from: 0, to: count }
  const own = present.working.response
  const inGrid = (present.trace.spacing * scale) / spacing
  const transitions: TransitionSearch = {
    ...search,
    pulsePoints: pulse / spacing,
    response: {
      middle: own.middle * inGrid,
      middleSigma: own.middleSigma * inGrid,
      settled: Math.max(own.settled * inGrid, gap),
      lead: own.lead * inGrid,
    },
  }
  return {
    firstDistance,
    spacing,
    values,
    use,
    search,
    indexAt,
    distanceAt,
    measure: (step, previous, next) =>
      measureStep({ ...search, from: previous, to: next }, transitions, values, use, step, spacing, margin, distanceAt),
  }
}

interface Resampler {
  spacing: number
  /** Usable stretch on the baseline's scale, m. */
  from: number
  to: number
  degreesOfFreedom: number
  /** Adds the levels, times a sign, to a grid: interpolated, or averaged where the grid is coarser. */
  addTo(values: Float64Array, gridFrom: number, grid: number, sign: 1 | -1): void
  sigma(at: number, width: number): number
  /** Of means over many points of a grid, as one point of it would need it. */
  longSigma(at: number, grid: number): number
}

function resampler(analysis: TraceAnalysis, scale: number, offset: number): Resampler {
  const { trace, working } = analysis
  const spacing = trace.spacing * scale
  const first = trace.firstDistance * scale + offset
  const index = (at: number) => (at - first) / spacing
  return {
    spacing,
    degreesOfFreedom: working.noise.degreesOfFreedom,
    from: first + working.from * spacing,
    to: first + working.to * spacing,
    addTo(values, gridFrom, grid, sign) {
      const { sums } = working
      const step = grid / spacing
      let x = index(gridFrom)
      if (step > 1.5) {
        sums.addCellMeans(values, x - step / 2, step, sign)
        return
      }
      const last = sums.length - 2
      for (let k = 0; k < values.length; k++, x += step) {
        const i = Math.min(last, Math.max(0, Math.floor(x)))
        const here = sums.value(i)
        values[k]! += sign * (here + (x - i) * (sums.value(i + 1) - here))
      }
    },
    sigma(at, width) {
      return meanSigma(working.noise, index(at), Math.max(1, width / spacing))
    },
    longSigma: (at, width) => longSigmaAt(working.noise, index(at)) * Math.sqrt(spacing / width),
  }
}

function combinedNoise(
  values: Float64Array,
  b: Resampler,
  p: Resampler,
  distanceAt: (index: number) => number,
  spacing: number,
): Noise {
  const blockSize = Math.max(16, Math.min(128, Math.floor(values.length / 12)))
  const blocks = new Float64Array(Math.max(1, Math.ceil(values.length / blockSize)))
  const long = blocks.slice()
  for (let k = 0; k < blocks.length; k++) {
    const at = distanceAt((k + 0.5) * blockSize)
    blocks[k] = Math.hypot(b.sigma(at, spacing), p.sigma(at, spacing))
    long[k] = Math.hypot(b.longSigma(at, spacing), p.longSigma(at, spacing))
  }
  return {
    blockSize,
    blocks,
    long,
    degreesOfFreedom: Math.min(b.degreesOfFreedom, p.degreesOfFreedom),
  }
}

/** Points of a grid that are left out on both sides of an event, whose edge never lands on the same points twice. */
function marginOf(traceSpacing: number, spacing: number): number {
  return 2 + Math.ceil(traceSpacing / spacing)
}

/** Transitions differ when the pulses do, and a reflection's edge never lands on the same points twice. */
function maskTransitions(
  use: Uint8Array,
  analysis: TraceAnalysis,
  events: readonly TraceEvent[],
  indexAt: (distance: number) => number,
  scale: number,
  offset: number,
  spacing: number,
): void {
  const margin = marginOf(analysis.trace.spacing, spacing)
  for (const event of events) {
    if (event.kind === 'start') continue
    const from = Math.floor(indexAt(event.begins * scale + offset)) - margin
    const to = Math.ceil(indexAt((event.settled - event.extent) * scale + offset)) + margin
    for (let i = Math.max(0, from); i < Math.min(use.length, to); i++) use[i] = 0
  }
}

/** Two instruments send different power: the level at the beginning counts as zero. */
function levelOut(values: Float64Array, use: Uint8Array): void {
  const head: number[] = []
  for (let i = 0; i < values.length && head.length < 200; i++) if (use[i] === 1) head.push(values[i]!)
  const zero = head.sort((a, b) => a - b)[head.length >> 1] ?? 0
  for (let i = 0; i < values.length; i++) values[i]! -= zero
}

function measureStep(
  search: StepSearch,
  transitions: TransitionSearch,
  values: Float64Array,
  use: Uint8Array,
  { first, last, index }: Ramp,
  spacing: number,
  margin: number,
  distanceAt: (index: number) => number,
): ReturnType<Difference['measure']> {
  const { sums, noise, gap } = search
  const reach = Math.max(Math.floor(MEASURING_REACH / spacing), MEASURING_TRANSITIONS * gap)
  const left0 = Math.max(search.from, first + 1 - reach)
  const right0 = last + gap
  const right1 = Math.min(search.to, right0 + reach)
  const nLeft = sums.count(left0, first + 1)
  const nRight = right1 > right0 ? sums.count(right0, right1) : 0
  if (nLeft < 3 || nRight < 3) return null
  const sigmaLeft = sigmaAt(noise, sums.center(left0, first + 1))
  const sigmaRight = sigmaAt(noise, sums.center(right0, right1))
  if (!(sigmaLeft < SIGNAL_LOST_DB && sigmaRight < SIGNAL_LOST_DB)) return null
  const delta = sums.mean(left0, first + 1) - sums.mean(right0, right1)
  const deltaSigma = Math.sqrt(
    longSigmaAt(noise, sums.center(left0, first + 1)) ** 2 / nLeft +
      longSigmaAt(noise, sums.center(right0, right1)) ** 2 / nRight,
  )
  // The step's own transition ends in the stretch, too; what was left out beside its events belongs to none.
  const { settled } = transitions.response
  const within = ({ from, to }: { from: number; to: number }) => ({
    distance: distanceAt(from + margin + Math.max(0, to - from - 2 * margin - settled) / 2),
    distanceSigma: (spacing * (to - from)) / Math.sqrt(12),
    masked: true,
    delta,
    deltaSigma,
    extent: 0,
  })
  const masked = first === last ? stretchOutOfUse(use, index, right0) : null
  if (masked) return within(masked)
  // A loss spread over many transitions may be meant by any place in it.
  if (last - first > LONG_SPREAD * gap)
    return {
      distance: distanceAt((first + last) / 2),
      distanceSigma: (spacing * (last - first)) / Math.sqrt(12),
      masked: false,
      delta,
      deltaSigma,
      extent: spacing * (last - first),
    }
  const spreadOut = rangeOfFall(search, transitions, use, first, right0, Math.round(SPREAD_REACH / spacing))
  if (spreadOut)
    return {
      distance: distanceAt(spreadOut.middle - transitions.response.middle),
      distanceSigma: (spacing * spreadOut.extent) / Math.sqrt(12),
      masked: false,
      delta,
      deltaSigma,
      extent: spacing * spreadOut.extent,
    }
  const placed = startOfTransition(values, transitions, index + 1, search.from, search.to)
  const away = Math.abs(placed.start - index)
  // The light beside a stretch out of use does not tell where in its transition a step is.
  const beside = away > gap ? stretchOutOfUse(use, Math.max(0, index - NEAR_GAPS * gap), right0) : null
  if (first === last && beside) return within({ from: beside.from, to: Math.max(beside.to, index + 1) })
  // Where the search found it, it is: light that seems to lie elsewhere is something else's.
  const { start, sigma } = first === last && away > NEAR_GAPS * gap ? { start: index + 1, sigma: gap } : placed
  // What was found as several steps may be meant by any of them.
  const spread = (last - first) / Math.sqrt(12)
  return {
    distance: distanceAt(start),
    distanceSigma: spacing * Math.hypot(sigma, spread),
    masked: false,
    delta,
    deltaSigma,
    extent: 0,
  }
}

/**
 * Where a loss that is spread comes, from where a tenth of it has to where nine tenths have, read from means over half a
 * transition; null where it comes as a step does, or the noise or an event hides it. In points.
 */
function rangeOfFall(
  { sums, noise, from, to }: StepSearch,
  { response }: TransitionSearch,
  use: Uint8Array,
  first: number,
  right0: number,
  farthest: number,
): { middle: number; extent: number } | null {
  const w = Math.max(4, Math.ceil(response.settled / 2))
  const reach = Math.min(Math.max(farthest, 4 * w), Math.floor((first - from) / 2), Math.floor((to - right0) / 2))
  const [a, b] = [first - reach, right0 + reach]
  if (reach < 2 * w) return null
  const [before, after] = [sums.mean(Math.max(from, a - reach), a), sums.mean(b, Math.min(to, b + reach))]
  const scatter = meanSigma(noise, first, w)
  if (!(Math.abs(after - before) > TELLS_SPREAD * scatter)) return null
  const part = (i: number) => (sums.mean(i, i + w) - before) / (after - before)
  const step = Math.max(1, w >> 3)
  // From its middle outwards: further off, noise alone may reach a tenth. Where an event hides all points of a window its
  // mean is none.
  let low = a
  while (low < b - w && !(part(low) >= 0.5)) low += step
  let high = low
  while (low > a && !(part(low) < 0.1)) low -= step
  while (high < b - w && !(part(high) >= 0.9)) high += step
  if (use.subarray(low, high + w).includes(0)) return null
  // A step's own transition, seen through the window, takes its four fifths of both.
  const extent = (high - low) / 0.8 - response.settled - w
  return extent > response.settled / 2 ? { middle: (low + high + w) / 2, extent } : null
}

/** The masked stretch that the step's gap touches, if any: the step may lie anywhere in it. */
function stretchOutOfUse(use: Uint8Array, from: number, to: number): { from: number; to: number } | null {
  for (let i = Math.min(to, use.length - 1); i >= from; i--) {
    if (use[i] !== 0) continue
    let a = i
    let b = i
    while (a > 0 && use[a - 1] === 0) a--
    while (b + 1 < use.length && use[b + 1] === 0) b++
    return { from: a, to: b + 1 }
  }
  return null
}
