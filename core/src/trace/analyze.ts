import { CodedError } from '../errors/index.ts'
import { powerFromDisplayLevel } from '../units/decibel.ts'
import { typicalFiber } from '../fiber/backscatter.ts'
import { endInFront, findFiberEnd, type FiberEnd } from './events/end.ts'
import type { Section, TraceEvent } from './events/events.ts'
import { nameGhosts } from './events/ghosts.ts'
import { lossBetween } from './events/loss.ts'
import { sigmaAt, SIGNAL_LOST_DB, type TraceNoise } from './noise/noise.ts'
import type { Peak } from './events/peaks.ts'
import type { PrefixSums } from './noise/prefixSums.ts'
import { SLOWEST_RECOVERY } from './noise/tails.ts'
import { reflectanceOf } from './events/reflectance.ts'
import type { Response } from './events/response.ts'
import { cornersWithin, measureSections } from './events/sections.ts'
import { beginOf, locateSteps, SMALLEST_STEP_DB, type Mark } from './marks.ts'
import type { TraceWarning } from './sr4731/error.ts'
import { linkTotals, type LinkTotals } from './totals.ts'
import { distanceOf, indexOf, pulseLengthOf, type Trace } from './trace.ts'
import { TAIL_KNOWN, tailAt, typicalSlope, withoutTails } from './withoutTails.ts'
import type { Working } from './working.ts'

/** A trace with all that was found in it; the input of comparison, placing and proof. */
export interface TraceAnalysis extends LinkTotals {
  trace: Trace
  events: TraceEvent[]
  sections: Section[]
  warnings: TraceWarning[]
  /** Display level that equals the noise of one point, dB; null when the trace never reaches it. */
  noiseFloor: number | null
  /** What later steps measure with. */
  working: Working
}

const MIN_POINTS = 40

/**
 * Finds the events of a trace and measures them: losses by least squares on each side extrapolated to the event's
 * start, reflectance from the peak's height, attenuation of the sections between. Linear in the number of points.
 * @throws CodedError when the trace has too few points to say anything
 */
export function analyzeTrace(trace: Trace): TraceAnalysis {
  if (trace.levels.length < MIN_POINTS)
    throw new CodedError(
      'not-enough',
      `a trace of ${trace.levels.length} points is too short to analyze (at least ${MIN_POINTS})`,
    )
  const warnings = [...trace.warnings]
  const pulsePoints = pulseLengthOf(trace) / trace.spacing
  const typical = (-typicalFiber(trace.wavelength).attenuation / 1000) * trace.spacing
  const { levels, noise, sums, lost, from, peaks, last, response } = withoutTails(trace, pulsePoints, typical)
  const edge = last
    ? { start: last.start, startSigma: last.startSigma, lost: last.settled, peak: last }
    : lost === null
      ? null
      : findFiberEnd(levels, sums, noise, pulsePoints, typical, response, peaks, lost)
  const isInFront = edge?.start != null && edge.start - response.lead <= from
  const end = isInFront ? endInFront(trace.levels, pulsePoints, from, edge.lost) : edge
  if (lost === null && !last)
    warnings.push({ code: 'no-end', message: 'the trace stops before the fiber ends: its range is too short' })
  else if (!last && (end === null || end.start === null))
    warnings.push({ code: 'fades', message: 'the fiber fades into the noise: what lies beyond is not seen' })
  const to = Math.max(
    from,
    Math.floor(Math.min((end?.start ?? Infinity) - (end?.peak?.lead ?? response.lead), lost ?? levels.length)),
  )
  const inner = peaks.filter((peak) => peak !== end?.peak && peak.start < to)
  const working = prepare(trace, levels, sums, noise, pulsePoints, response, from, to, inner)
  const steps = locateSteps(trace, working, inner)
  const marks = [
    ...inner.map((peak): Mark => ({
      start: peak.start,
      sigma: peak.startSigma,
      lead: peak.lead,
      settled: Math.min(peak.settled, to),
      extent: 0,
      peak,
    })),
    ...steps,
  ].sort((a, b) => a.start - b.start)
  const kept = pruneAndMeasure(trace, working, marks)
  const inNoise = (end?.before ?? []).map((peak) => eventInNoise(trace, noise, peak))
  const found: TraceEvent[] = [startEvent(trace, from), ...kept, ...inNoise]
  if (end?.start != null) found.push(endEvent(trace, noise, end, response.lead))
  const events = nameGhosts(trace, working, found)
  working.spans = events.map((event) => [indexOf(trace, event.begins), indexOf(trace, event.settled)])
  const sections = measureSections(trace, working)
  return {
    trace,
    events,
    sections,
    warnings,
    ...linkTotals(trace, working, events),
    noiseFloor: noiseLevel(trace, working),
    working,
  }
}

function prepare(
  trace: Trace,
  levels: Float64Array,
  sums: PrefixSums,
  noise: TraceNoise,
  pulsePoints: number,
  response: Response,
  from: number,
  to: number,
  peaks: readonly Peak[],
): Working {
  const { slope, slopeSigma } = typicalSlope(trace, sums, noise, from, to, peaks)
  const gap = Math.ceil(response.settled)
  return { levels, sums, noise, pulsePoints, response, gap, slope, slopeSigma, from, to, spans: [] }
}

/**
 * Measures all marks. A step that turns out no larger than its uncertainty goes; one that has no fiber between itself
 * and its neighbour is part of that neighbour. Then the rest is measured again.
 */
function pruneAndMeasure(trace: Trace, working: Working, marks: Mark[]): TraceEvent[] {
  let current = marks
  for (;;) {
    const corners = cornersBetween(trace, working, current)
    const events = current.map((_, k) => measureMark(trace, working, current, corners, k))
    const weak = events.findIndex((event, k) => {
      const mark = current[k]!
      return !mark.peak && isWeak(event, tailAt(trace, working, mark.start), leftBy(trace, working, current, events, k))
    })
    if (weak < 0) return withBounds(working, current, events)
    const gone = current[weak]!
    current = current.filter((mark) => mark !== gone && (!mark.pair || mark.pair !== gone.pair))
  }
}

/**
 * Events that run into each other have no line of fiber between them: what is lost over all of them together is told,
 * which none of them exceeds unless another one gains.
 */
function withBounds(working: Working, marks: readonly Mark[], events: readonly TraceEvent[]): TraceEvent[] {
  const out = [...events]
  for (let first = 0; first < out.length; first++) {
    let last = first
    while (last + 1 < marks.length && beginOf(marks[last + 1]!) - marks[last]!.settled < 3) last++
    if (last === first) continue
    const left0 = first === 0 ? working.from : marks[first - 1]!.settled
    const right1 = last + 1 < marks.length ? beginOf(marks[last + 1]!) : working.to
    const begin = beginOf(marks[first]!)
    const measured = lossBetween(working, left0, begin, marks[last]!.settled, right1, marks[first]!.start)
    if (measured)
      for (let k = first; k <= last; k++)
        if (out[k]!.loss === null) out[k] = { ...out[k]!, together: { ...measured, events: last - first + 1 } }
    first = last
  }
  return out
}

/** What pulse and receiver leave of an edge within so many transitions: of a step, and of a reflection's light (judgement). */
const LEFT = { within: 4, ofStep: 0.05, ofPeak: 5e-4, ofPort: 0.02 }
/** A receiver has recovered after so many of its slowest time constants. */
const RECOVERED = 3

/** The most that may be left there of the edges before it, dB. */
function leftBy(
  trace: Trace,
  working: Working,
  marks: readonly Mark[],
  events: readonly TraceEvent[],
  k: number,
): number {
  const recovered = (RECOVERED * SLOWEST_RECOVERY.usual * working.pulsePoints) / trace.pulseWidth
  const within = Math.min(LEFT.within * working.gap, recovered)
  // The port is an edge, too.
  let most = marks[k]!.start - working.from < within ? LEFT.ofPort : 0
  for (let i = k - 1; i >= 0 && marks[k]!.start - marks[i]!.settled < within; i--) {
    const { peak } = marks[i]!
    if (peak) most = Math.max(most, LEFT.ofPeak * powerFromDisplayLevel(peak.height))
    most = Math.max(most, LEFT.ofStep * Math.abs(events[i]!.loss ?? 0))
  }
  return most
}

/**
 * @param taken dB of a reflection's tail that was taken off there
 * @param left dB that edges before it may have left
 */
function isWeak(event: TraceEvent, taken: number, left: number): boolean {
  return (
    event.loss === null ||
    Math.abs(event.loss) < Math.max(4 * event.lossSigma!, SMALLEST_STEP_DB, TAIL_KNOWN * taken, left)
  )
}

/** Points between the marks where the fiber's attenuation changes: no line may be laid across them. */
function cornersBetween(trace: Trace, working: Working, marks: readonly Mark[]): number[] {
  return [...marks.keys(), marks.length].flatMap((k) => {
    const from = k === 0 ? working.from : marks[k - 1]!.settled
    return cornersWithin(trace, working, from, k < marks.length ? beginOf(marks[k]!) : working.to)
  })
}

function measureMark(
  trace: Trace,
  working: Working,
  marks: readonly Mark[],
  corners: readonly number[],
  k: number,
): TraceEvent {
  const mark = marks[k]!
  const measured = measureLoss(working, marks, corners, mark)
  const distance = distanceOf(trace, mark.start)
  const base = {
    distance,
    distanceSigma: Math.max(mark.sigma, 0.29) * trace.spacing,
    extent: mark.extent * trace.spacing,
    loss: measured?.loss ?? null,
    lossSigma: measured?.sigma ?? null,
    begins: distanceOf(trace, beginOf(mark)),
    settled: distanceOf(trace, mark.settled),
    ...(measured ? {} : { why: { loss: 'overlap' as const } }),
  }
  if (!mark.peak) return { ...base, kind: measured && measured.loss < 0 ? 'gain' : 'step', ...NO_REFLECTION }
  return { ...base, kind: 'reflective', ...reflectanceOf(trace, mark.peak, working.noise) }
}

/** Loss of a mark from the fiber on both sides; two losses under one pulse share what is lost over both. */
function measureLoss(
  working: Working,
  marks: readonly Mark[],
  corners: readonly number[],
  mark: Mark,
): { loss: number; sigma: number } | null {
  if (mark.measured) return mark.measured
  const { first, second } = mark.pair ?? { first: mark, second: mark }
  const [previous, next] = [marks[marks.indexOf(first) - 1], marks[marks.indexOf(second) + 1]]
  const before = corners.findLast((corner) => corner < first.start) ?? -Infinity
  const after = corners.find((corner) => corner > second.settled) ?? Infinity
  const left0 = Math.max(before, previous ? previous.settled : working.from)
  const right1 = Math.min(after, next ? beginOf(next) : working.to)
  const at = (first.start + second.start) / 2
  const whole = lossBetween(working, left0, beginOf(first), second.settled, right1, at)
  if (!whole || !mark.pair) return whole
  const { share, shareSigma } = mark.pair
  const part = mark === first ? share : 1 - share
  return { loss: part * whole.loss, sigma: Math.hypot(part * whole.sigma, whole.loss * shareSigma) }
}

const NO_REFLECTION = { reflectance: null, reflectanceSigma: null, saturated: false }

function startEvent(trace: Trace, from: number): TraceEvent {
  return {
    distance: 0,
    distanceSigma: trace.spacing / Math.sqrt(12),
    extent: 0,
    kind: 'start',
    loss: null,
    lossSigma: null,
    ...NO_REFLECTION,
    begins: 0,
    settled: Math.max(0, distanceOf(trace, from)),
    why: { loss: 'inside-dead-zone', reflectance: 'inside-dead-zone' },
  }
}

/** A reflection that stands alone in the noise: neither its loss nor its reflectance can be told. */
function eventInNoise(trace: Trace, noise: TraceNoise, peak: Peak): TraceEvent {
  const end: FiberEnd = { start: peak.start, startSigma: peak.startSigma, lost: peak.settled, peak }
  return { ...endEvent(trace, noise, end, peak.lead), kind: 'reflective' }
}

function endEvent(trace: Trace, noise: TraceNoise, end: FiberEnd, lead: number): TraceEvent {
  const distance = distanceOf(trace, end.start!)
  return {
    distance,
    distanceSigma: Math.max(0.29, end.startSigma) * trace.spacing,
    extent: 0,
    kind: 'end',
    loss: null,
    lossSigma: null,
    begins: distanceOf(trace, end.start! - (end.peak?.lead ?? lead)),
    settled: distanceOf(trace, Math.max(end.lost, end.start!)),
    ...(end.peak ? reflectanceOf(trace, end.peak, noise) : NO_REFLECTION),
    why: { loss: 'below-noise', ...(end.peak?.inNoise ? { reflectance: 'below-noise' as const } : {}) },
  }
}

function noiseLevel(trace: Trace, working: Working): number | null {
  const lost = working.to + Math.ceil(2 * working.pulsePoints) + 2 * working.noise.blockSize
  const i = Math.min(working.to, trace.levels.length) - 1
  const sigma = sigmaAt(working.noise, Math.max(0, i - working.noise.blockSize))
  if (lost >= trace.levels.length || !(sigma < SIGNAL_LOST_DB) || i < working.from) return null
  // σ in dB = (5/ln 10)·σ/P, so that the level where σ = P lies 5·log10(P/σ) lower.
  return working.sums.mean(Math.max(0, i - 16), i) - 5 * Math.log10(5 / Math.LN10 / sigma)
}
