import type { TraceAnalysis } from '../analyze.ts'
import type { TraceEvent } from '../events/events.ts'
import { pulseLengthOf, type Trace } from '../trace.ts'

/** How far the present trace must be moved to lie on the baseline: present + offset = baseline, m. */
export interface Alignment {
  offset: number
  offsetSigma: number
  /** Events that both traces show, as indices into their event lists. */
  matches: [baseline: number, present: number][]
  /** How much speaks for it: reflections that match count 2, ends 1.5, steps 1. */
  score: number
}

/** Offsets beyond this can't be a difference of cords, m. */
const LARGEST_OFFSET = 3000
/** Two instruments place the same edge differently by about this part of their pulses, one standard deviation. */
const EDGE_PART = 0.03

/** How far two traces may put one edge apart that lies on the same place, m, one standard deviation, beyond the noise. */
export function edgesApart(baseline: Trace, present: Trace): number {
  const grid = Math.max(baseline.spacing, present.spacing)
  return Math.hypot(EDGE_PART * Math.hypot(pulseLengthOf(baseline), pulseLengthOf(present)), grid / 2)
}

/** An edge comes later than the instrument's zero by a part of the pulse that differs so much from one to another (judgement). */
const DELAY_PART = 0.06

/** By how much the present trace must be moved, known from the cords: baseline minus present, m. */
export interface ExpectedOffset {
  offset: number
  /** One standard deviation. */
  sigma: number
}

/** How far an edge may stand off where the instrument's zero puts it, m, one standard deviation. */
export function delaySigma(trace: Trace): number {
  return DELAY_PART * pulseLengthOf(trace)
}

/** What two cords' recorded lengths tell: instruments count from a zero that lies before the edges that they show. */
export function offsetOfCords(baseline: Trace, present: Trace, before: number, now: number): ExpectedOffset {
  return {
    offset: before - now,
    sigma: Math.hypot(1, delaySigma(baseline), delaySigma(present)),
  }
}

/**
 * Aligns two traces of one fiber by the events that they share.
 * Every pair of events proposes an offset; the one that matches most events wins, the smallest among equals.
 * Known cords are one more observation of the offset, as sure as the instruments' edges are.
 * @param baseline events of the baseline
 * @param scale m of the baseline's index per m of the present's
 * @param expected offset known from the cords, if they are
 */
export function alignTraces(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  scale: number,
  expected: ExpectedOffset | null,
): Alignment {
  const grid = Math.max(baseline.trace.spacing, present.trace.spacing)
  const edges = EDGE_PART * Math.hypot(pulseLengthOf(baseline.trace), pulseLengthOf(present.trace))
  const slack = 2 * grid + 2 * edges + 0.5
  const known = expected === null ? null : { ...expected, sigma: Math.hypot(expected.sigma, 0.5 * grid) }
  const pairs = candidatePairs(baseline.events, present.events, scale).filter((pair) =>
    known === null
      ? Math.abs(pair.offset) < LARGEST_OFFSET
      : // With other cords the far end of the last cord is another place.
        !pair.ends && Math.abs(pair.offset - known.offset) < 3 * Math.hypot(pair.sigma, known.sigma) + slack,
  )
  const proposals = [known?.offset ?? 0, ...pairs.filter((pair) => pair.sigma < 2 * slack).map((pair) => pair.offset)]
  let best = { score: -1, offset: known?.offset ?? 0, matched: [] as Pair[] }
  for (const offset of proposals) {
    const matched = oneToOne(pairs.filter((pair) => Math.abs(pair.offset - offset) <= slack + 3 * pair.sigma))
    const score = matched.reduce((sum, pair) => sum + pair.weight, 0)
    const away = Math.abs(offset - (known?.offset ?? 0)) - Math.abs(best.offset - (known?.offset ?? 0))
    if (score > best.score + 1e-9 || (Math.abs(score - best.score) < 1e-9 && away < 0))
      best = { score, offset, matched }
  }
  const observed = best.matched.map((pair) => ({
    offset: pair.offset,
    weight: 1 / (pair.sigma ** 2 + (0.3 * grid) ** 2),
  }))
  if (known) observed.push({ offset: known.offset, weight: 1 / known.sigma ** 2 })
  const total = observed.reduce((sum, { weight }) => sum + weight, 0)
  if (total === 0) return { offset: best.offset, offsetSigma: grid, matches: [], score: 0 }
  return {
    offset: observed.reduce((sum, { offset, weight }) => sum + offset * weight, 0) / total,
    offsetSigma: Math.hypot(1 / Math.sqrt(total), 0.05 * edges),
    matches: best.matched.map((pair) => [pair.baseline, pair.present]),
    score: best.score,
  }
}

interface Pair {
  baseline: number
  present: number
  offset: number
  sigma: number
  weight: number
  ends: boolean
}

function candidatePairs(baseline: readonly TraceEvent[], present: readonly TraceEvent[], scale: number): Pair[] {
  const pairs: Pair[] = []
  baseline.forEach((a, i) => {
    present.forEach((b, k) => {
      if (a.kind === 'start' || b.kind === 'start') return
      const bothReflect = a.reflectance !== null && b.reflectance !== null
      const bothPlain = a.reflectance === null && b.reflectance === null
      if ((a.kind === 'end') !== (b.kind === 'end') || (!bothReflect && !bothPlain)) return
      pairs.push({
        baseline: i,
        present: k,
        offset: a.distance - b.distance * scale,
        sigma: Math.hypot(a.distanceSigma, b.distanceSigma),
        weight: a.kind === 'end' ? 1.5 : bothReflect ? 2 : 1,
        ends: a.kind === 'end',
      })
    })
  })
  return pairs
}

/** Keeps the best pair of each event. */
function oneToOne(pairs: Pair[]): Pair[] {
  const left = new Set<number>()
  const right = new Set<number>()
  return [...pairs]
    .sort((a, b) => b.weight - a.weight || a.sigma - b.sigma)
    .filter((pair) => {
      if (left.has(pair.baseline) || right.has(pair.present)) return false
      left.add(pair.baseline)
      right.add(pair.present)
      return true
    })
}
