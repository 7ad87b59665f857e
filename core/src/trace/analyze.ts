import { CodedError } from '../errors/index.ts'
import { powerFromDisplayLevel } from '../units/decibel.ts'
import { typicalFiber } from '../fiber/backscatter.ts'
import { edgeOfStep } from './events/edge.ts'
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
import { joinRamps, withoutStaircases, type Ramp } from './events/ramps.ts'
import { cornersWithin, measureSections } from './events/sections.ts'
import { separate, type Pair } from './events/separate.ts'
import { findSteps } from './events/steps.ts'
import { MOST_PULSES, stepsTogether, type StepTogether } from './events/together/stepsTogether.ts'
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
/** Steps are measured together where a pulse has so many points: else its course can't be told. */
const FEWEST_IN_PULSE = 16
/** With fewer points in a pulse, steps under it are not told apart. */
const FEWEST_IN_CROWD = 6
/** A step is measured by the lines on both sides of it where they are so many transitions long. */
const ROOM_GAPS = 2.5
/** A step smaller than this is not reported, dB. */
const SMALLEST_STEP_DB = 0.008

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

interface Mark {
  start: number
  /** points */
  sigma: number
  /** Points before `start` up to which the trace runs straight. */
  lead: number
  settled: number
  /** Points over which a loss is spread beyond the instrument's own response. */
  extent: number
  peak: Peak | null
  /** Where it was measured together with its neighbours. */
  measured?: { loss: number; sigma: number }
  /** Two losses under one pulse, told apart. */
  pair?: MarkedPair
}

/** Both marks of a pair, and which part of the whole loss is the first one's. */
interface MarkedPair extends Pick<Pair, 'share' | 'shareSigma'> {
  first: Mark
  second: Mark
}

function locateSteps(trace: Trace, working: Working, peaks: readonly Peak[]): Mark[] {
  const { noise, gap, slope, slopeSigma, from, to, response } = working
  const bounds = [from, ...peaks.flatMap((peak) => [Math.floor(peak.start), Math.min(to, Math.ceil(peak.settled))]), to]
  const found: Mark[] = []
  for (let k = 0; k + 1 < bounds.length; k += 2) {
    const a = bounds[k]!
    const b = bounds[k + 1]! - (peaks[k / 2]?.lead ?? 0)
    if (b - a < gap + 8) continue
    const isShort = b - a < MOST_PULSES * working.pulsePoints && working.pulsePoints >= FEWEST_IN_PULSE
    const together = isShort ? stepsTogether(working, a, b, trace.spacing, SMALLEST_STEP_DB) : []
    const ramps = isShort
      ? together.map(({ start, end, loss }): Ramp => {
          const [first, last] = [Math.round(start), Math.round(end)]
          return { first, last, index: Math.round((first + last) / 2), rise: -loss, significance: Infinity }
        })
      : withoutStaircases(
          working,
          joinRamps(
            working,
            findSteps({
              sums: working.sums,
              noise,
              gap,
              slope,
              slopeSigma,
              from: a,
              to: b,
              smallest: SMALLEST_STEP_DB,
            }),
          ),
          a,
          b,
        )
    const marks: Mark[] = []
    ramps.forEach((step, n) => {
      const left = n === 0 ? a : ramps[n - 1]!.last + gap
      const right = n + 1 < ramps.length ? ramps[n + 1]!.first : b
      const own = together[n]
      const hasRoom = own && Math.min(own.start - left, right - own.end - gap) >= ROOM_GAPS * gap
      // With room on both sides a step is placed by its own edge.
      if (own && !hasRoom) {
        marks.push(markOf(own, response))
        return
      }
      const edge = edgeOfStep(working.levels, working, step, left, right)
      const parts = separate(working, edge.start, edge.extent, left, right)
      if (parts?.kind === 'pair') marks.push(...marksOf(parts, response))
      else {
        const isSplit = parts && edge.extent === 0
        const { start, extent } = isSplit ? parts : edge
        // A loss that may be shared unevenly over its stretch begins no more surely than that.
        const sigma = isSplit ? Math.hypot(edge.sigma, extent / 4) : edge.sigma
        const { lead, settled } = response
        const measured = own && own.end === own.start && extent === 0 ? { loss: own.loss, sigma: own.lossSigma } : null
        marks.push({
          start,
          sigma,
          lead,
          extent,
          settled: start + settled + extent,
          peak: null,
          ...(measured ? { measured } : {}),
        })
      }
    })
    found.push(...(isShort ? marks : withCrowds(trace, working, marks, a, b)))
  }
  return found
}

/** What lies around crowded steps, in pulses: they are measured from there, and found anew within the nearer bound. */
const CROWD = { room: 8, core: 2 }
/** A line between two steps takes at least so much of a transition. */
const CROWDED_GAPS = 0.5

/**
 * Steps, those that leave no line between them found and measured anew together: a piece of other fiber, spliced in at a
 * repair, changes the level at one end and back at the other.
 * @param from,to their stretch without reflections, points
 */
function withCrowds(trace: Trace, working: Working, marks: Mark[], from: number, to: number): Mark[] {
  const { pulsePoints, response } = working
  if (pulsePoints < FEWEST_IN_CROWD) return marks
  let kept = marks
  for (const crowd of crowdedStretches(working, marks)) {
    const [first, last] = [crowd.from - CROWD.core * pulsePoints, crowd.to + CROWD.core * pulsePoints]
    const isCore = ({ start }: { start: number }) => start >= first && start < last
    const [a, b] = [crowd.from - CROWD.room * pulsePoints, crowd.to + CROWD.room * pulsePoints]
    const room = [Math.max(from, Math.floor(a)), Math.min(to, Math.ceil(b))] as const
    const anew = stepsTogether(working, ...room, trace.spacing, SMALLEST_STEP_DB).filter(isCore)
    kept = [...kept.filter((mark) => !isCore(mark)), ...anew.map((step) => markOf(step, response))]
  }
  return kept.sort((one, other) => one.start - other.start)
}

/** A step as it was measured together with its neighbours. */
function markOf({ start, end, startSigma, loss, lossSigma }: StepTogether, { lead, settled }: Response): Mark {
  const measured = { loss, sigma: lossSigma }
  return { start, sigma: startSigma, lead, settled: end + settled, extent: 0, peak: null, measured }
}

/** Where two steps, each found by itself, leave no room for a line between them, points; those near each other in one. */
function crowdedStretches({ gap, pulsePoints }: Working, marks: readonly Mark[]): { from: number; to: number }[] {
  const crowds: { from: number; to: number }[] = []
  marks.slice(1).forEach((mark, k) => {
    const before = marks[k]!
    const isPair = mark.pair !== undefined && mark.pair === before.pair
    if (isPair || beginOf(mark) - before.settled >= CROWDED_GAPS * gap) return
    const last = crowds.at(-1)
    if (last && before.start - last.to < CROWD.room * pulsePoints) last.to = mark.start
    else crowds.push({ from: before.start, to: mark.start })
  })
  return crowds
}

/** Up to where the trace runs straight before a mark, points. */
function beginOf({ start, lead }: Mark): number {
  return start - lead
}

function marksOf({ starts, sigmas, share, shareSigma }: Pair, { lead, settled }: Response): Mark[] {
  const [first, second] = starts.map((start, k): Mark => ({
    start,
    sigma: sigmas[k]!,
    extent: 0,
    lead,
    settled: start + settled,
    peak: null,
  })) as [Mark, Mark]
  first.pair = second.pair = { first, second, share, shareSigma }
  return [first, second]
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
