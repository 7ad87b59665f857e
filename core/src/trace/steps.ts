import { upperTailQuantile } from '../units/normal.ts'
import { sigmaAt, SIGNAL_LOST_DB, type Noise } from './noise.ts'
import type { PrefixSums } from './prefixSums.ts'

/** A change of level found in a series: `rise` is right minus left, dB; a loss has a negative rise. */
export interface Step {
  /** Last point of the left level, points. */
  index: number
  rise: number
  /** Size over its own standard deviation. */
  significance: number
}

export interface StepSearch {
  sums: PrefixSums
  noise: Noise
  /** Points that the transition takes (the pulse with its rounding). */
  gap: number
  /** Expected slope, dB a point, and how far a stretch of fiber may differ from it. */
  slope: number
  slopeSigma: number
  from: number
  to: number
  /** Chance of one or more false steps in a series without any. */
  falseAlarm?: number
  /** Steps smaller than this are not looked for, dB. */
  smallest?: number
}

interface Candidate extends Step {
  strength: number
}

const SCALE_RATIO = 2
const POINTS_PER_STRIDE = 8
const MIN_POINTS = 4

/**
 * Finds level changes by comparing the means of a window on each side of a gap, at window lengths that double,
 * and splitting the series at the most significant one until none is left. Each window length has its own threshold,
 * so that the whole search keeps the stated false-alarm rate at the noise of the place.
 * @returns steps in order of place
 */
export function findSteps(search: StepSearch): Step[] {
  const found: Step[] = []
  const open: [number, number][] = [[search.from, search.to]]
  const span = search.to - search.from
  const margin = Math.ceil(search.gap / 3)
  while (open.length > 0) {
    const [from, to] = open.pop()!
    const best = strongest(search, from, to, span)
    if (!best || best.strength < 1) continue
    found.push({ index: best.index, rise: best.rise, significance: best.significance })
    open.push([from, best.index + 1 - margin], [best.index + search.gap + margin, to])
  }
  return found.sort((a, b) => a.index - b.index)
}

function strongest(search: StepSearch, from: number, to: number, span: number): Candidate | null {
  let best: Candidate | null = null
  const first = Math.max(MIN_POINTS, search.gap)
  for (let w = first; w <= Math.max(first, (to - from) / 2); w *= SCALE_RATIO) {
    const stride = Math.max(1, Math.floor(w / POINTS_PER_STRIDE))
    const threshold = thresholdFor(search, span, w)
    const evaluate = (index: number) => candidateAt(search, from, to, index, w, threshold)
    let here: Candidate | null = null
    for (let i = from + MIN_POINTS - 1; i < to - search.gap - MIN_POINTS; i += stride)
      here = stronger(here, evaluate(i))
    if (here) {
      const around = here.index
      for (let i = around - stride + 1; i < around + stride; i++) here = stronger(here, evaluate(i))
    }
    best = stronger(best, here && sharpen(search, from, to, span, here, w))
  }
  return best
}

/** A long window finds a step but does not say where exactly: shorter ones do, as long as they see it too. */
function sharpen(search: StepSearch, from: number, to: number, span: number, found: Candidate, w: number): Candidate {
  const shortest = Math.max(MIN_POINTS, search.gap)
  let place = found
  for (let narrow = Math.floor(w / SCALE_RATIO); narrow >= shortest; narrow = Math.floor(narrow / SCALE_RATIO)) {
    const threshold = thresholdFor(search, span, narrow)
    const around: Candidate[] = []
    for (let i = Math.max(from, place.index - narrow); i <= Math.min(to - 1, place.index + narrow); i++) {
      const candidate = candidateAt(search, from, to, i, narrow, threshold)
      if (candidate) around.push(candidate)
    }
    const top = around.reduce<Candidate | null>(stronger, null)
    if (!top || top.strength < 1) break
    // Wherever the gap covers the whole transition the fit is equally good: the middle of those places is meant.
    const equal = around.filter((candidate) => candidate.significance > top.significance - 1)
    place = { ...top, index: Math.round((equal[0]!.index + equal.at(-1)!.index) / 2) }
  }
  return { ...found, index: place.index }
}

function stronger(a: Candidate | null, b: Candidate | null): Candidate | null {
  if (!a || !b) return a ?? b
  return b.strength > a.strength ? b : a
}

/** The threshold shares the false-alarm rate among window lengths and the places that are independent at this one. */
function thresholdFor(search: StepSearch, span: number, w: number): number {
  const scales = Math.max(1, Math.log2(span / Math.max(MIN_POINTS, search.gap)))
  const places = Math.max(1, (4 * span) / w)
  return upperTailQuantile((search.falseAlarm ?? 0.01) / (2 * scales * places))
}

function candidateAt(
  search: StepSearch,
  from: number,
  to: number,
  index: number,
  w: number,
  threshold: number,
): Candidate | null {
  const { sums, noise, gap } = search
  const left0 = Math.max(from, index + 1 - w)
  const right0 = index + gap
  const right1 = Math.min(to, right0 + w)
  const nLeft = sums.count(left0, index + 1)
  const nRight = right1 > right0 ? sums.count(right0, right1) : 0
  if (nLeft < MIN_POINTS || nRight < MIN_POINTS) return null
  const sigmaLeft = sigmaAt(noise, (left0 + index) / 2)
  const sigmaRight = sigmaAt(noise, (right0 + right1) / 2)
  if (!(sigmaLeft < SIGNAL_LOST_DB && sigmaRight < SIGNAL_LOST_DB)) return null
  const between = sums.center(right0, right1) - sums.center(left0, index + 1)
  const rise = sums.mean(right0, right1) - sums.mean(left0, index + 1) - search.slope * between
  if (Math.abs(rise) < (search.smallest ?? 0)) return null
  const sigma = Math.sqrt(
    meanVariance(noise, nLeft) * sigmaLeft ** 2 +
      meanVariance(noise, nRight) * sigmaRight ** 2 +
      (search.slopeSigma * between) ** 2,
  )
  const significance = Math.abs(rise) / sigma
  return { index, rise, significance, strength: significance / threshold }
}

/** Variance of a mean of n neighbouring points, per unit of a point's variance. */
function meanVariance(noise: Noise, n: number): number {
  return Math.min(1, noise.correlation / n)
}
