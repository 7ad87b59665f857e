import type { Peak } from './events/peaks.ts'
import type { Response } from './events/response.ts'
import { edgeOfStep } from './events/edge.ts'
import { joinRamps, withoutStaircases, type Ramp } from './events/ramps.ts'
import { separate, type Pair } from './events/separate.ts'
import { findSteps } from './events/steps.ts'
import { MOST_PULSES, stepsTogether, type StepTogether } from './events/together/stepsTogether.ts'
import type { Trace } from './trace.ts'
import type { Working } from './working.ts'

/** Steps are measured together where a pulse has so many points: else its course can't be told. */
const FEWEST_IN_PULSE = 16
/** With fewer points in a pulse, steps under it are not told apart. */
const FEWEST_IN_CROWD = 6
/** A step is measured by the lines on both sides of it where they are so many transitions long. */
const ROOM_GAPS = 2.5
/** A step smaller than this is not reported, dB. */
export const SMALLEST_STEP_DB = 0.008

/** A reflection or a step where it was found, before it is measured. Places in points. */
export interface Mark {
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

/**
 * The steps of a trace, each with where its edge begins; between reflections, or together where they run into each other.
 * @param peaks its reflections, by place
 */
export function locateSteps(trace: Trace, working: Working, peaks: readonly Peak[]): Mark[] {
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
export function beginOf({ start, lead }: Mark): number {
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
