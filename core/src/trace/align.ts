import type { TraceAnalysis } from './analyze.ts'
import type { TraceEvent } from './events.ts'
import { pulseLengthOf } from './trace.ts'

/** How far the present trace must be moved to lie on the baseline: present + offset = baseline, m. */
export interface Alignment {
  offset: number
  offsetSigma: number
  /** Events that both traces show, as indices into their event lists. */
  matches: [baseline: number, present: number][]
}

/** Offsets beyond this can't be a difference of cords, m. */
const LARGEST_OFFSET = 3000

/**
 * Aligns two traces of one fiber by the events that they share.
 * Every pair of events proposes an offset; the one that matches most events wins, the smallest among equals.
 * @param baseline events of the baseline
 * @param scale m of the baseline's index per m of the present's
 * @param expected offset known from the cords, if they are
 */
export function alignTraces(
  baseline: TraceAnalysis,
  present: TraceAnalysis,
  scale: number,
  expected: number | null,
): Alignment {
  const grid = Math.max(baseline.trace.spacing, present.trace.spacing)
  const pulses = Math.abs(pulseLengthOf(baseline.trace) - pulseLengthOf(present.trace))
  const slack = 2 * grid + 0.25 * pulses + 0.5
  const pairs = candidatePairs(baseline.events, present.events, scale)
  const proposals = [expected ?? 0, ...pairs.map((pair) => pair.offset)].filter(
    (offset) => Math.abs(offset - (expected ?? 0)) < (expected === null ? LARGEST_OFFSET : 10 + slack),
  )
  let best = { score: -1, offset: expected ?? 0, matched: [] as Pair[] }
  for (const offset of proposals) {
    const matched = oneToOne(pairs.filter((pair) => Math.abs(pair.offset - offset) <= slack + 3 * pair.sigma))
    const score = matched.reduce((sum, pair) => sum + pair.weight, 0)
    const better = score > best.score + 1e-9
    const nearer =
      Math.abs(score - best.score) < 1e-9 &&
      Math.abs(offset - (expected ?? 0)) < Math.abs(best.offset - (expected ?? 0))
    if (better || nearer) best = { score, offset, matched }
  }
  if (best.matched.length === 0)
    return { offset: best.offset, offsetSigma: expected === null ? grid : grid + 0.5, matches: [] }
  const weights = best.matched.map((pair) => 1 / (pair.sigma ** 2 + (0.3 * grid) ** 2))
  const total = weights.reduce((a, b) => a + b, 0)
  const offset = best.matched.reduce((sum, pair, k) => sum + pair.offset * weights[k]!, 0) / total
  return {
    offset,
    offsetSigma: Math.hypot(1 / Math.sqrt(total), 0.1 * pulses),
    matches: best.matched.map((pair) => [pair.baseline, pair.present]),
  }
}

interface Pair {
  baseline: number
  present: number
  offset: number
  sigma: number
  weight: number
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
