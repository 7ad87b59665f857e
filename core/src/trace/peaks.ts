import { upperTailQuantile } from '../units/normal.ts'
import { sigmaAt, SIGNAL_LOST_DB, type Noise } from './noise.ts'
import type { PrefixSums } from './prefixSums.ts'

/** A reflection: points `start` … `settled`−1 do not lie on the fiber's line. */
export interface Peak {
  /** First point that departs from the line before. */
  start: number
  /** First point after it from which the trace runs straight again. */
  settled: number
  /** One-way height over the line before, dB. */
  height: number
  saturated: boolean
  /** Stands in the noise, where there is no backscatter to measure its height from. */
  inNoise?: boolean
}

export interface PeakSearch {
  levels: Float64Array
  sums: PrefixSums
  noise: Noise
  /** Length of the pulse, points (may be below one). */
  pulsePoints: number
  from: number
  to: number
}

/** A rise smaller than this is not called a reflection, dB. */
const SMALLEST_PEAK_DB = 0.04
const FALSE_ALARM = 0.005
/** A block's noise is itself an estimate. */
const SIGMA_ALLOWANCE = 1.1

/** Finds reflections: the trace rises within a pulse and falls back below the rise. */
export function findPeaks(search: PeakSearch): Peak[] {
  const { levels, sums, noise, pulsePoints, from, to } = search
  const rising = Math.max(1, Math.floor(pulsePoints / 2))
  const before = Math.max(4, Math.ceil(pulsePoints))
  const after = Math.ceil(1.5 * pulsePoints) + 2
  const z = upperTailQuantile(FALSE_ALARM / Math.max(1, to - from))
  const ceiling = fullScale(levels)
  const peaks: Peak[] = []
  for (let i = Math.max(from, before + 1); i + rising < to; i++) {
    // The block that holds the fiber's end is half noise; what counts is the fiber before the rise.
    const own = sigmaAt(noise, i)
    const estimated = own < SIGNAL_LOST_DB ? own : sigmaAt(noise, i - noise.blockSize)
    if (!(estimated < SIGNAL_LOST_DB) || (own >= SIGNAL_LOST_DB && isNoise(levels, i - 1))) continue
    const sigma = SIGMA_ALLOWANCE * estimated
    const base = sums.mean(i - 1 - before, i - 1)
    const spread = Math.sqrt(Math.min(1, noise.correlation / rising) + Math.min(1, noise.correlation / before))
    const least = Math.max(SMALLEST_PEAK_DB, z * sigma * spread)
    if (sums.mean(i, i + rising) - base < least) continue
    const afterwards = Math.min(to, i + after + before)
    const top = highest(levels, i, Math.min(to, i + after))
    const settledLevel = afterwards - (i + after) >= 1 ? sums.mean(i + after, afterwards) : -Infinity
    if (sums.mean(i, i + rising) - settledLevel < least && levels[top]! - settledLevel < least + 2 * sigma) continue
    const start = walkBack(levels, i, base, Math.max(4 * sigma, 0.03))
    const plateau = plateauLevel(levels, start, pulsePoints, top)
    const settled = settle(search, Math.max(top + 1, start + Math.floor(pulsePoints)))
    peaks.push({ start, settled, height: plateau - base, saturated: isFlat(levels, top, ceiling, pulsePoints) })
    i = settled
  }
  return peaks
}

/**
 * First point at or after `from` from which two neighbouring stretches agree: the trace has stopped falling.
 * Used after a reflection and after the instrument's own front reflection.
 */
export function settle(
  search: Pick<PeakSearch, 'levels' | 'sums' | 'noise' | 'pulsePoints' | 'to'>,
  from: number,
): number {
  const { sums, noise, pulsePoints, to } = search
  const stretch = Math.max(3, Math.ceil(pulsePoints / 2))
  const margin = Math.ceil(pulsePoints / 4) + 1
  for (let i = from; i + 2 * stretch < to; i++) {
    const sigma = sigmaAt(noise, i + stretch)
    const fall = sums.mean(i, i + stretch) - sums.mean(i + stretch, i + 2 * stretch)
    const least = Math.max(0.01, 2 * sigma * Math.sqrt(2 * Math.min(1, noise.correlation / stretch)))
    if (Math.abs(fall) < least) return Math.min(to, i + margin)
  }
  return to
}

/** Whether the points just before `end` scatter as no fiber does. */
function isNoise(levels: Float64Array, end: number): boolean {
  let low = Infinity
  let high = -Infinity
  for (let i = Math.max(0, end - 10); i < end; i++) {
    if (levels[i]! < low) low = levels[i]!
    if (levels[i]! > high) high = levels[i]!
  }
  return high - low > 4 * SIGNAL_LOST_DB
}

function highest(levels: Float64Array, from: number, to: number): number {
  let top = from
  for (let i = from; i < to; i++) if (levels[i]! > levels[top]!) top = i
  return top
}

function fullScale(levels: Float64Array): number {
  let top = -Infinity
  for (const level of levels) if (level > top) top = level
  return top
}

/** The first point of a rise: back from `i` while the trace is above the line before it. */
function walkBack(levels: Float64Array, i: number, base: number, least: number): number {
  let start = i
  while (start < levels.length - 1 && levels[start]! - base < least) start++
  while (start > 0 && levels[start - 1]! - base > least) start--
  return start
}

/** Height of the top: the highest point of a narrow peak; the median of the pulse's second half on a wide one. */
function plateauLevel(levels: Float64Array, start: number, pulsePoints: number, top: number): number {
  if (pulsePoints < 8) return levels[top]!
  const from = start + Math.floor(pulsePoints * 0.5)
  const to = Math.min(levels.length, start + Math.floor(pulsePoints * 0.95))
  const sorted = levels.slice(from, to).sort()
  return sorted[sorted.length >> 1]!
}

/** A receiver at its limit shows a top without noise, at the highest level of the whole trace. */
function isFlat(levels: Float64Array, top: number, ceiling: number, pulsePoints: number): boolean {
  if (levels[top]! < ceiling - 0.0015) return false
  const wanted = Math.max(2, Math.floor(pulsePoints / 3))
  let run = 0
  for (let i = top; i < levels.length && levels[i]! >= ceiling - 0.0015; i++) run++
  return run >= wanted
}
