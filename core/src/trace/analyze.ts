import { typicalFiber } from '../fiber/backscatter.ts'
import { findFiberEnd, findSignalLoss } from './end.ts'
import type { Section, TraceEvent } from './events.ts'
import { edgeOfStep } from './edge.ts'
import {
  estimateNoise,
  medianOf,
  quietLastBlocks,
  sigmaAt,
  SIGNAL_LOST_DB,
  unbiasedLevels,
  type Noise,
} from './noise.ts'
import { findPeaks, settle, type Peak } from './peaks.ts'
import { lossBetween } from './loss.ts'
import { PrefixSums } from './prefixSums.ts'
import { reflectanceOf } from './reflectance.ts'
import { findSteps } from './steps.ts'
import type { TraceWarning } from './sr4731/error.ts'
import { linkTotals, type LinkTotals } from './totals.ts'
import { distanceOf, indexOf, pulseLengthOf, type Trace } from './trace.ts'
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

/** How far one fiber's attenuation may lie from its neighbours', dB/m (common practice: a few hundredths per km). */
const SLOPE_SPREAD = 0.03e-3
const MIN_POINTS = 40
/** A step smaller than this is not reported, dB. */
const SMALLEST_STEP_DB = 0.008

/**
 * Finds the events of a trace and measures them: losses by least squares on each side extrapolated to the event's
 * start, reflectance from the peak's height, attenuation of the sections between. Linear in the number of points.
 * @throws RangeError when the trace has too few points to say anything
 */
export function analyzeTrace(trace: Trace): TraceAnalysis {
  const { levels } = trace
  if (levels.length < MIN_POINTS)
    throw new RangeError(`a trace of ${levels.length} points is too short to analyze (at least ${MIN_POINTS})`)
  const warnings = [...trace.warnings]
  const pulsePoints = pulseLengthOf(trace) / trace.spacing
  const plainSums = new PrefixSums(levels)
  const noise = estimateNoise(levels, plainSums, pulsePoints)
  const lost = findSignalLoss(levels, plainSums, noise, pulsePoints)
  const portIndex = Math.max(0, Math.ceil(indexOf(trace, 0)))
  const from = firstUsable(trace, plainSums, noise, pulsePoints, portIndex)
  const peakZoneEnd = lost ?? levels.length
  const peaks =
    from < peakZoneEnd
      ? findPeaks({
          levels,
          sums: plainSums,
          noise,
          pulsePoints,
          from,
          to: Math.min(levels.length, peakZoneEnd + Math.ceil(pulsePoints)),
        })
      : []
  const end = lost === null ? null : findFiberEnd(levels, plainSums, noise, pulsePoints, peaks, lost)
  if (lost === null)
    warnings.push({ code: 'no-end', message: 'the trace stops before the fiber ends: its range is too short' })
  else if (end?.start === null || end === null)
    warnings.push({ code: 'fades', message: 'the fiber fades into the noise: what lies beyond is not seen' })
  const to = Math.max(from, Math.floor(Math.min(end?.start ?? levels.length, lost ?? levels.length)))
  quietLastBlocks(noise, to, pulsePoints)
  const inner = peaks.filter((peak) => peak !== end?.peak && peak.start < to)
  const sums = new PrefixSums(unbiasedLevels(levels, noise))
  const working = prepare(trace, sums, noise, pulsePoints, from, to, inner)
  const steps = locateSteps(trace, working, inner)
  const marks = [
    // The edge lies somewhere between the last point on the line and the first above it.
    ...inner.map((peak) => ({ start: peak.start - 0.5, sigma: 0.3, settled: Math.min(peak.settled, to), peak })),
    ...steps.map((step) => ({ ...step, peak: null })),
  ].sort((a, b) => a.start - b.start)
  const kept = pruneAndMeasure(trace, working, marks)
  const events: TraceEvent[] = [startEvent(trace, from), ...kept]
  if (end?.start != null) events.push(endEvent(trace, working, end))
  working.spans = events.map((event) => [indexOf(trace, event.distance), indexOf(trace, event.settled)])
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

/** After the port's own reflection: the first point that lies on the fiber. */
function firstUsable(trace: Trace, sums: PrefixSums, noise: Noise, pulsePoints: number, portIndex: number): number {
  const search = { levels: trace.levels, sums, noise, pulsePoints, to: trace.levels.length }
  return settle(search, portIndex + Math.ceil(pulsePoints))
}

function prepare(
  trace: Trace,
  sums: PrefixSums,
  noise: Noise,
  pulsePoints: number,
  from: number,
  to: number,
  peaks: readonly Peak[],
): Working {
  const { slope, slopeSigma } = typicalSlope(trace, sums, noise, from, to, peaks)
  const gap = Math.ceil(1.3 * pulsePoints) + 2
  return { sums, noise, pulsePoints, gap, slope, slopeSigma, from, to, spans: [] }
}

/** Median slope between neighbouring blocks: events are few, so that the median passes them by. */
function typicalSlope(
  trace: Trace,
  sums: PrefixSums,
  noise: Noise,
  from: number,
  to: number,
  peaks: readonly Peak[],
): { slope: number; slopeSigma: number } {
  const spread = SLOPE_SPREAD * trace.spacing
  const typical = (-typicalFiber(trace.wavelength).attenuation / 1000) * trace.spacing
  const size = Math.max(noise.blockSize, Math.floor((to - from) / 200))
  const slopes: number[] = []
  for (let i = from; i + 2 * size <= to; i += size) {
    if (peaks.some((peak) => peak.start < i + 2 * size && peak.settled > i)) continue
    if (sigmaAt(noise, i + 2 * size) < SIGNAL_LOST_DB)
      slopes.push((sums.mean(i + size, i + 2 * size) - sums.mean(i, i + size)) / size)
  }
  if (slopes.length < 5) return { slope: typical, slopeSigma: 4 * spread }
  const middle = medianOf(Float64Array.from(slopes))
  const scatter = medianOf(Float64Array.from(slopes, (s) => Math.abs(s - middle))) / 0.6745
  return { slope: middle, slopeSigma: Math.hypot(spread, (1.25 * scatter) / Math.sqrt(slopes.length)) }
}

interface Mark {
  start: number
  /** points */
  sigma: number
  settled: number
  peak: Peak | null
}

function locateSteps(trace: Trace, working: Working, peaks: readonly Peak[]): Omit<Mark, 'peak'>[] {
  const { noise, gap, slope, slopeSigma, from, to, pulsePoints } = working
  const bounds = [from, ...peaks.flatMap((peak) => [peak.start, Math.min(to, peak.settled)]), to]
  const found: Omit<Mark, 'peak'>[] = []
  for (let k = 0; k + 1 < bounds.length; k += 2) {
    const [a, b] = [bounds[k]!, bounds[k + 1]!]
    if (b - a < 2 * gap) continue
    const steps = findSteps({
      sums: working.sums,
      noise,
      gap,
      slope,
      slopeSigma,
      from: a,
      to: b,
      smallest: SMALLEST_STEP_DB,
    })
    steps.forEach((step, n) => {
      const left = n === 0 ? a : steps[n - 1]!.index + gap
      const right = n + 1 < steps.length ? steps[n + 1]!.index : b
      const edge = edgeOfStep(trace.levels, working, step, left, right)
      found.push({ start: edge.start, sigma: edge.sigma, settled: edge.start + 1.3 * pulsePoints + 2 })
    })
  }
  return found
}

/**
 * Measures all marks. A step that turns out no larger than its uncertainty goes; one that has no fiber between itself
 * and its neighbour is part of that neighbour. Then the rest is measured again.
 */
function pruneAndMeasure(trace: Trace, working: Working, marks: Mark[]): TraceEvent[] {
  let current = marks
  for (;;) {
    const events = current.map((_, k) => measureMark(trace, working, current, k))
    const weak = events.findIndex((event, k) => !current[k]!.peak && isWeak(event))
    if (weak < 0) return events
    current = current.filter((_, k) => k !== weak)
  }
}

function isWeak(event: TraceEvent): boolean {
  return event.loss === null || Math.abs(event.loss) < Math.max(3 * event.lossSigma!, SMALLEST_STEP_DB)
}

function measureMark(trace: Trace, working: Working, marks: readonly Mark[], k: number): TraceEvent {
  const mark = marks[k]!
  const left0 = k === 0 ? working.from : marks[k - 1]!.settled
  const right1 = k + 1 < marks.length ? marks[k + 1]!.start - 1 : working.to - 1
  const measured = lossBetween(working, left0, mark.start - 1, mark.settled, right1, mark.start)
  const distance = distanceOf(trace, mark.start)
  const base = {
    distance,
    distanceSigma: Math.max(mark.sigma, 0.29) * trace.spacing,
    loss: measured?.loss ?? null,
    lossSigma: measured?.sigma ?? null,
    settled: distanceOf(trace, mark.settled),
    ...(measured ? {} : { why: { loss: 'overlap' as const } }),
  }
  if (!mark.peak)
    return { ...base, kind: measured && measured.loss < 0 ? 'gain' : 'step', reflectance: null, saturated: false }
  return { ...base, kind: 'reflective', ...reflectanceOf(trace, mark.peak) }
}

function startEvent(trace: Trace, from: number): TraceEvent {
  return {
    distance: 0,
    distanceSigma: trace.spacing / Math.sqrt(12),
    kind: 'start',
    loss: null,
    lossSigma: null,
    reflectance: null,
    saturated: false,
    settled: Math.max(0, distanceOf(trace, from)),
    why: { loss: 'inside-dead-zone', reflectance: 'inside-dead-zone' },
  }
}

function endEvent(
  trace: Trace,
  working: Working,
  end: { start: number | null; startSigma: number; lost: number; peak: Peak | null },
): TraceEvent {
  const distance = distanceOf(trace, end.start!)
  return {
    distance,
    distanceSigma: Math.max(0.29, end.startSigma) * trace.spacing,
    kind: 'end',
    loss: null,
    lossSigma: null,
    settled: distanceOf(trace, Math.max(end.lost, end.start!)),
    ...(end.peak ? reflectanceOf(trace, end.peak) : { reflectance: null, saturated: false }),
    why: { loss: 'below-noise', ...(end.peak?.inNoise ? { reflectance: 'below-noise' as const } : {}) },
  }
}

function measureSections(trace: Trace, working: Working): Section[] {
  const sections: Section[] = []
  const { spans, sums, noise } = working
  for (let k = 0; k < spans.length; k++) {
    const i0 = Math.ceil(Math.max(working.from, spans[k]![1]))
    const i1 = Math.floor(Math.min(working.to, k + 1 < spans.length ? spans[k + 1]![0] - 1 : working.to))
    const line = i1 - i0 >= 5 ? sums.line(i0, i1) : null
    if (!line) continue
    const sigma = sigmaAt(noise, line.center)
    if (!(sigma < SIGNAL_LOST_DB)) continue
    sections.push({
      from: distanceOf(trace, i0),
      to: distanceOf(trace, i1 - 1),
      attenuation: -line.slope / trace.spacing,
      attenuationSigma: (sigma * Math.sqrt(line.slopeVariance * noise.correlation)) / trace.spacing,
    })
  }
  return sections
}

function noiseLevel(trace: Trace, working: Working): number | null {
  const lost = working.to + Math.ceil(2 * working.pulsePoints) + 2 * working.noise.blockSize
  const i = Math.min(working.to, trace.levels.length) - 1
  const sigma = sigmaAt(working.noise, Math.max(0, i - working.noise.blockSize))
  if (lost >= trace.levels.length || !(sigma < SIGNAL_LOST_DB) || i < working.from) return null
  // σ in dB = (5/ln 10)·σ/P, so that the level where σ = P lies 5·log10(P/σ) lower.
  return working.sums.mean(Math.max(0, i - 16), i) - 5 * Math.log10(5 / Math.LN10 / sigma)
}
