import { DB_PER_RELATIVE_POWER, powerFromDisplayLevel } from '../../units/decibel.ts'
import { upperTailQuantile } from '../../units/normal.ts'
import { meanSigma, powerMeanSigma, powerSigmaAt, sigmaAt, SIGNAL_LOST_DB, type TraceNoise } from '../noise/noise.ts'
import type { PrefixSums } from '../noise/prefixSums.ts'
import { edgeLead } from './edgeLead.ts'

/** A reflection: from `start` to `settled` the points do not lie on the fiber's line. Places in points, with fractions. */
export interface Peak {
  /** Where its rise is at half its height in power. */
  start: number
  /** Standard deviation of `start`, points. */
  startSigma: number
  /** Points before `start` from which the trace rises. */
  lead: number
  /** Where it has fallen to half its height. */
  fallen: number
  /** First point after it from which the trace runs straight again. */
  settled: number
  /** One-way height over the line before, dB. */
  height: number
  saturated: boolean
  /** Another reflection stands in its tail: no line can be laid between them. */
  overlapped?: boolean
  /** Stands in the noise, where there is no backscatter to measure its height from. */
  inNoise?: boolean
}

export interface PeakSearch {
  levels: Float64Array
  sums: PrefixSums
  noise: TraceNoise
  /** Length of the pulse, points (may be below one). */
  pulsePoints: number
  /** The fiber's own slope, dB a point (negative). */
  slope: number
  from: number
  to: number
}

/** A rise smaller than this is not called a reflection, dB. */
const SMALLEST_PEAK_DB = 0.04
const FALSE_ALARM = 0.005
/** A pulse that rises slowly begins to do so at most so many pulse lengths before half its height. */
const FARTHEST_FOOT = 1.5
/** Levels that differ by less are the same: files count in steps of 0.001 dB. */
const SAME_LEVEL_DB = 0.0015
/** A block's noise is itself an estimate. */
const SIGMA_ALLOWANCE = 1.1

/** Finds reflections: the trace rises within a pulse and falls back below the rise. */
export function findPeaks(search: PeakSearch): Peak[] {
  const { levels, sums, noise, pulsePoints, from, to } = search
  const rising = Math.max(1, Math.floor(pulsePoints / 2))
  const before = Math.max(4, Math.ceil(pulsePoints))
  const after = Math.ceil(1.5 * pulsePoints) + 2
  const z = upperTailQuantile(FALSE_ALARM / Math.max(1, to - from))
  let fullScale: number | null = null
  const ceiling = () => (fullScale ??= highestLevel(levels))
  const stride = Math.max(1, Math.floor(rising / 4))
  const peaks: Peak[] = []
  let sigma = NaN
  let least = NaN
  let sameNoise = 0
  let dip: Dip | null = null
  for (let i = Math.max(from, before + 1); i + rising < to; i += stride) {
    if (i > sameNoise) {
      sigma = SIGMA_ALLOWANCE * sigmaAt(noise, i - 1)
      const spread = SIGMA_ALLOWANCE * Math.hypot(meanSigma(noise, i - 1, rising), meanSigma(noise, i - 1, before))
      least = sigma < SIGMA_ALLOWANCE * SIGNAL_LOST_DB ? Math.max(SMALLEST_PEAK_DB, z * spread) : Infinity
      sameNoise = (Math.floor((i - 1) / noise.blockSize) + 1) * noise.blockSize
    }
    const until = Math.min(sameNoise + 1, to - rising)
    i = sums.nextRise(i, until, stride, -1 - before, before, 0, rising, least, -Infinity)
    if (i >= until) {
      i -= stride
      continue
    }
    if (!(sums.rise(i - 1 - before, before, i, rising) >= least)) continue
    // Just behind another reflection it rises from the dip between both.
    const base = dip && i - dip.at < before ? dip.level : sums.mean(i - 1 - before, i - 1)
    const weaker = weakerThanBlock(noise, i - 1, base)
    if (!(sums.rise(i - 1 - before, before, i, rising) >= weaker * least)) continue
    const afterwards = Math.min(to, i + after + before)
    const top = highest(levels, i, Math.min(to, i + after))
    // The fiber's own slope is taken off: over a long pulse it falls by more than a faint reflection rises.
    const settledLevel =
      afterwards - (i + after) >= 1
        ? sums.mean(i + after, afterwards) - search.slope * (sums.center(i + after, afterwards) - i - rising / 2)
        : -Infinity
    const [over, scatter] = [weaker * least, weaker * sigma]
    const falls = sums.mean(i, i + rising) - settledLevel >= over || levels[top]! - settledLevel >= over + 2 * scatter
    // A stronger reflection just behind hides whether it falls back; the dip between both shows it.
    const behind = dipAfter(search, i, falls ? Math.min(to, i + after) : afterwards, base)
    if (!falls && behind === null) continue
    if (scatter > WEAK_LIGHT_DB && !standsOut(search, i, before, rising, z)) continue
    dip = behind
    const peak = measurePeak(search, i, base, ceiling, dip)
    const previous = peaks.at(-1)
    if (previous && previous.settled > peak.start - 1) previous.overlapped = true
    peaks.push(peak)
    i = Math.max(i, Math.ceil(peak.settled) - stride)
  }
  return peaks
}

/** A block's light goes with its noise down to this part of it. */
const WEAKER = 1 / 2

/** How many times weaker the light is at a place than most of its block's, and the noise in dB larger; 1 where it is alike. */
function weakerThanBlock(noise: TraceNoise, i: number, level: number): number {
  const usual = (DB_PER_RELATIVE_POWER * powerSigmaAt(noise, i)) / sigmaAt(noise, i)
  const light = powerFromDisplayLevel(level)
  return light < WEAKER * usual ? usual / light : 1
}

/** Where a point's noise is more than this, dB, levels no longer scatter like the power that noise adds to. */
const WEAK_LIGHT_DB = 0.1

/** Whether a rise stands out of the noise as power, which the logarithm stretches downwards where light is weak. */
function standsOut({ levels, noise }: PeakSearch, i: number, before: number, rising: number, z: number): boolean {
  const mean = (from: number, to: number) => {
    let sum = 0
    for (let k = from; k < to; k++) sum += powerFromDisplayLevel(levels[k]!)
    return sum / (to - from)
  }
  const spread = Math.hypot(powerMeanSigma(noise, i, before), powerMeanSigma(noise, i, rising))
  return mean(i, i + rising) - mean(i - 1 - before, i - 1) > z * SIGMA_ALLOWANCE * spread
}

function measurePeak(search: PeakSearch, found: number, base: number, ceiling: () => number, dip: Dip | null): Peak {
  const { levels, noise, pulsePoints, to } = search
  const reach = dip?.at ?? Math.min(to, found + Math.ceil(1.5 * pulsePoints) + 2)
  const { level, at } = plateau(search, found, reach)
  const saturated = isFlat(levels, highest(levels, found, reach), ceiling, pulsePoints)
  const start = halfRise(levels, Math.min(at, to - 1), base, level, Math.ceil(1.5 * pulsePoints) + 3)
  const fallen = halfFall(levels, Math.max(at, Math.ceil(start)), base, level, to)
  const { settled, rises } =
    dip === null
      ? settle(search, Math.max(fallen, Math.floor(start + pulsePoints)), saturated)
      : { settled: Math.max(dip.at, Math.ceil(start) + 1), rises: true }
  const slopeOfEdge = Math.max(0.05, (level - base) / Math.max(1, pulsePoints / 4))
  return {
    start,
    startSigma: Math.hypot(0.29, sigmaAt(noise, start - 1) / slopeOfEdge, saturated ? 0.1 * pulsePoints : 0),
    lead: Math.max(edgeLead(pulsePoints), Math.ceil(start - footOf(search, start, base))),
    fallen,
    settled,
    height: level - base,
    saturated,
    ...(rises ? { overlapped: true } : {}),
  }
}

/** One fiber's attenuation differs from the usual by so much of it (common practice: a few hundredths of a dB/km). */
const SLOPES_DIFFER = 0.1

/** Between two reflections the trace falls by so much of the first one's height, at least (judgement), and by this, dB. */
const DIP = { part: 0.08, least: 0.1 }
/** The one behind stands over it by so much: noise does not. */
const STRONGER_DB = 1
/** Where a point's noise is more than this, dB, it dips by itself. */
const CLEAR_LIGHT_DB = 0.03

/** Where a trace falls least between two reflections, points, and to which level. */
interface Dip {
  at: number
  level: number
}

/**
 * Where the trace dips before it rises over a reflection's top once more: a stronger one stands just behind it, as a cord's
 * open end does behind the last connection. Null where it does not, and where there is too little light to tell.
 */
function dipAfter({ sums, noise, pulsePoints }: PeakSearch, from: number, to: number, base: number): Dip | null {
  // A block with a reflection in it tells its own noise too small: the one before it is asked, too.
  if (Math.max(sigmaAt(noise, from), sigmaAt(noise, from - noise.blockSize)) > CLEAR_LIGHT_DB) return null
  const width = Math.max(1, Math.floor(pulsePoints / 8))
  let top = -Infinity
  let lowest: Dip = { at: from, level: Infinity }
  for (let i = from; i + width <= to; i += Math.max(1, width >> 1)) {
    const level = sums.mean(i, i + width)
    const deep = Math.max(DIP.least, DIP.part * (top - base), 5 * meanSigma(noise, i, width))
    const dips = top > base + deep && lowest.level < top - deep
    if (dips && level > top + STRONGER_DB) return lowest
    if (level > top && !dips) {
      top = level
      lowest = { at: from, level: Infinity }
    } else if (level < lowest.level) lowest = { at: i + (width >> 1), level }
  }
  return null
}

/** The last point before a rise that still lies on the fiber's line. */
function footOf({ sums, noise, pulsePoints, slope }: PeakSearch, start: number, base: number): number {
  const stretch = Math.max(1, Math.floor(pulsePoints / 8))
  const last = Math.max(stretch, Math.floor(start - FARTHEST_FOOT * pulsePoints))
  let i = Math.floor(start)
  for (; i > last; i -= Math.max(1, stretch >> 1)) {
    const over = sums.mean(i - stretch, i) - base - slope * (i - start)
    if (over < Math.max(0.003, 2 * meanSigma(noise, i, stretch))) break
  }
  return i
}

/**
 * First point at or after `from` from which two neighbouring stretches lie on one line of the fiber's slope: the trace
 * has stopped falling. Used after a reflection and after the instrument's own front reflection.
 * @returns `rises` when the trace rises again before it settles: another reflection begins there
 */
export function settle(
  search: Pick<PeakSearch, 'sums' | 'noise' | 'pulsePoints' | 'slope' | 'to'>,
  from: number,
  slowly = false,
): { settled: number; rises: boolean } {
  const { sums, noise, pulsePoints, slope, to } = search
  const stretch = Math.max(3, Math.ceil(slowly ? pulsePoints : pulsePoints / 2))
  const margin = Math.ceil(pulsePoints / 4) + 1
  const step = Math.max(1, Math.floor(stretch / 16))
  for (let i = from; i + 2 * stretch < to; i += step) {
    const fall = sums.mean(i, i + stretch) - sums.mean(i + stretch, i + 2 * stretch) + slope * stretch
    const sigma = Math.SQRT2 * meanSigma(noise, i + stretch, stretch)
    if (fall < -Math.max(SMALLEST_PEAK_DB, 6 * sigma)) return { settled: i + stretch, rises: true }
    if (Math.abs(fall) < Math.max(0.01, 2 * sigma, SLOPES_DIFFER * Math.abs(slope) * stretch))
      return { settled: Math.min(to, i + margin), rises: false }
  }
  return { settled: to, rises: false }
}

/** The highest point in [from, to). */
export function highest(levels: Float64Array, from: number, to: number): number {
  let top = from
  for (let i = from; i < to; i++) if (levels[i]! > levels[top]!) top = i
  return top
}

function highestLevel(levels: Float64Array): number {
  let top = -Infinity
  for (let i = 0; i < levels.length; i++) if (levels[i]! > top) top = levels[i]!
  return top
}

/** The highest mean over an eighth of the pulse, and the point in its middle. */
function plateau({ levels, sums, pulsePoints }: PeakSearch, from: number, to: number): { level: number; at: number } {
  const width = Math.max(1, Math.floor(pulsePoints / 8))
  if (width === 1) {
    const at = highest(levels, from, to)
    return { level: levels[at]!, at }
  }
  let best = { level: -Infinity, at: from }
  for (let i = from; i + width <= to; i += Math.max(1, width >> 1)) {
    const level = sums.mean(i, i + width)
    if (level > best.level) best = { level, at: i + (width >> 1) }
  }
  return best
}

/** Where the rise before `top` crosses half its height in power, between points. */
function halfRise(levels: Float64Array, top: number, base: number, level: number, reach: number): number {
  const half = (powerFromDisplayLevel(base) + powerFromDisplayLevel(level)) / 2
  const threshold = 5 * Math.log10(half)
  let i = top
  while (i > 0 && i > top - reach && levels[i - 1]! > threshold) i--
  if (i === 0 || levels[i]! <= threshold) return i
  const [low, high] = [powerFromDisplayLevel(levels[i - 1]!), powerFromDisplayLevel(levels[i]!)]
  return i - 1 + Math.min(1, Math.max(0, (half - low) / (high - low)))
}

/** Where the fall after `top` crosses half its height in power. */
export function halfFall(levels: Float64Array, top: number, base: number, level: number, to: number): number {
  const threshold = 5 * Math.log10((powerFromDisplayLevel(base) + powerFromDisplayLevel(level)) / 2)
  let i = top
  while (i < to - 1 && levels[i]! > threshold) i++
  return i
}

/** A receiver at its limit shows a top without noise, at the highest level of the whole trace. */
function isFlat(levels: Float64Array, top: number, ceiling: () => number, pulsePoints: number): boolean {
  const wanted = Math.max(2, Math.floor(pulsePoints / 3))
  const stays = (height: number) => {
    let run = 0
    for (let i = top; i < levels.length && levels[i]! >= height - SAME_LEVEL_DB; i++) run++
    return run >= wanted
  }
  // Few tops are flat at all: for them alone the whole trace is gone through.
  if (!stays(levels[top]!)) return false
  return levels[top]! >= ceiling() - SAME_LEVEL_DB && stays(ceiling())
}
