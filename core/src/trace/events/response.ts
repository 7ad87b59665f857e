import { powerFromDisplayLevel } from '../../units/decibel.ts'
import { powerMeanSigma, type TraceNoise } from '../noise/noise.ts'
import type { Peak } from './peaks.ts'
import type { PrefixSums } from '../noise/prefixSums.ts'
import { edgeLead } from './edgeLead.ts'

/** How an instrument shows a sudden change, told from its own trace. All in points. */
export interface Response {
  /** From where an edge begins (half height of a reflection's rise) to the middle of the light of the pulse. */
  middle: number
  /** Standard uncertainty of the middle: with it every step of the trace may be shifted. */
  middleSigma: number
  /** From where an edge begins until the change is complete but for a few per cent. */
  settled: number
  /** Points before the edge's start from which a step shows. */
  lead: number
  /** How a step comes, where an undisturbed reflection of the same trace shows it. */
  shape?: StepShape
}

/** The course of a step of 1: its value so many points after the edge's start, for `from`, `from` + 1, … */
export interface StepShape {
  from: number
  values: Float64Array
  /** How far a value may be off, of 1 (one standard uncertainty). */
  sigma: number
}

/** Value of a step's course at a place after its start, points. */
export function stepAt(shape: StepShape, x: number): number {
  const at = x - shape.from
  if (at <= 0) return 0
  const i = Math.floor(at)
  const last = shape.values.length - 1
  if (i >= last) return 1
  return shape.values[i]! + (at - i) * (shape.values[i + 1]! - shape.values[i]!)
}

const FEWEST_POINTS = 4
const LEAST_HEIGHT_DB = 0.7

/**
 * The middle of a pulse whose shape is not known, in pulse lengths: 0.5 for a rectangle, 0.7 for a source that switches
 * off slowly before a slow receiver (judgement).
 */
const TYPICAL_MIDDLE = 0.56
const TYPICAL_MIDDLE_SIGMA = 0.08
/** What a reflection tells of the pulse is disturbed by so much of the fiber's own light beside it. */
const DISTURBANCE = 0.1
const SHAPE_SIGMA = 0.02
/** A step is not seen before so much of it has come. */
const FIRST_PART = 0.005

/** A receiver follows its pulse, and is no slower than this for any of them, s (judgement: a few tenths of a µs). */
const SLOWEST_LAG = 0.3e-6

/**
 * What the nominal pulse says when no reflection shows its shape.
 * @param pulseWidth s
 */
export function nominalResponse(pulsePoints: number, pulseWidth: number): Response {
  const most = slowestLag(pulsePoints, pulseWidth)
  const lag = Math.min((TYPICAL_MIDDLE - 0.5) * pulsePoints, most)
  return {
    middle: 0.5 * pulsePoints + lag,
    middleSigma: Math.min(TYPICAL_MIDDLE_SIGMA * pulsePoints, most),
    settled: pulsePoints + Math.min(0.3 * pulsePoints, 5 * most) + 2,
    lead: edgeLead(pulsePoints),
  }
}

/** The most that a receiver lags, points. */
function slowestLag(pulsePoints: number, pulseWidth: number): number {
  return (SLOWEST_LAG / pulseWidth) * pulsePoints
}

/**
 * The response told from the reflections of the trace: each unsaturated one shows the pulse as this instrument sends
 * and receives it. The middle of its light over its rise is where a step's middle will be too.
 */
export function measuredResponse(
  levels: Float64Array,
  sums: PrefixSums,
  noise: TraceNoise,
  pulsePoints: number,
  pulseWidth: number,
  peaks: readonly Peak[],
): Response {
  const nominal = nominalResponse(pulsePoints, pulseWidth)
  // What is wider is more than one reflection.
  const widest = 0.5 * pulsePoints + Math.min(0.7 * pulsePoints, 5 * slowestLag(pulsePoints, pulseWidth)) + 2
  let best: { response: Response; quality: number } | null = null
  for (const peak of peaks) {
    const usable = !peak.saturated && !peak.inNoise && !peak.overlapped && peak.height > LEAST_HEIGHT_DB
    if (!usable || peak.settled - peak.start < FEWEST_POINTS) continue
    const measured = shapeOf(levels, sums, noise, pulsePoints, peak)
    if (!measured || measured.middle < 0.3 * pulsePoints || measured.middle > widest) continue
    if (!best || measured.quality > best.quality) best = { response: measured, quality: measured.quality }
  }
  if (!best || best.quality < 30) return nominal
  const { response } = best
  const [prior, own] = [nominal.middleSigma ** -2, response.middleSigma ** -2]
  return {
    middle: (nominal.middle * prior + response.middle * own) / (prior + own),
    middleSigma: 1 / Math.sqrt(prior + own),
    settled: Math.max(response.settled, pulsePoints + 2),
    lead: Math.max(response.lead, nominal.lead),
    ...(response.shape ? { shape: response.shape } : {}),
  }
}

function shapeOf(
  levels: Float64Array,
  sums: PrefixSums,
  noise: TraceNoise,
  pulsePoints: number,
  peak: Peak,
): (Response & { quality: number }) | null {
  const lead = Math.ceil(pulsePoints * 0.6) + 2
  const from = Math.max(1, Math.floor(peak.start) - lead)
  const to = Math.min(levels.length, Math.ceil(peak.settled))
  const side = Math.max(4, Math.ceil(pulsePoints))
  if (from - side < 0 || to + side > levels.length) return null
  const before = powerFromDisplayLevel(sums.mean(from - side, from))
  const after = powerFromDisplayLevel(sums.mean(to, to + side))
  const turn = peak.start + pulsePoints / 2
  let light = 0
  let moment = 0
  for (let i = from; i < to; i++) {
    // What lies over the fiber's own light; the fiber's own changes at the event.
    const over = powerFromDisplayLevel(levels[i]!) - (i < turn ? before : after)
    light += over
    moment += over * (i - peak.start)
  }
  if (!(light > 0)) return null
  let gathered = 0
  let settled = peak.start + pulsePoints
  const course = new Float64Array(to - from)
  for (let i = from; i < to; i++) {
    gathered += powerFromDisplayLevel(levels[i]!) - (i < turn ? before : after)
    if (gathered < 0.98 * light) settled = i + 1
    course[i - from] = gathered / light
  }
  const scatter = powerMeanSigma(noise, from, to - from) * (to - from)
  const disturbed = Math.hypot(SHAPE_SIGMA, DISTURBANCE / (powerFromDisplayLevel(peak.height) - 1))
  return {
    middle: moment / light,
    middleSigma: pulsePoints * disturbed,
    settled: settled - peak.start + 1,
    lead: Math.ceil(peak.start - from - course.findIndex((part) => part > FIRST_PART)),
    // Light gathered up to a point is what a step shows half a point later.
    shape: { from: from + 0.5 - peak.start, values: course, sigma: Math.hypot(disturbed, scatter / light) },
    quality: light / Math.max(scatter, 1e-30),
  }
}
