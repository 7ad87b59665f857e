import { PrefixSums } from './prefixSums.ts'

/** Noise of a trace along its length, told from the trace itself. */
export interface Noise {
  /** Points to a block of the estimate. */
  blockSize: number
  /** One standard deviation of a single point in each block, dB. */
  blocks: Float64Array
  /** How much larger the variance of a mean of neighbouring points is than for independent points; 1 or more. */
  correlation: number
}

/** Beyond this the level is noise rather than fiber: one standard deviation of a point, dB. */
export const SIGNAL_LOST_DB = 0.6

/** A trace is stored in steps of 0.001 dB; no noise can be known to be less than the rounding. */
const ROUNDING_SIGMA_DB = 0.001 / Math.sqrt(12)
/** Median of |N(0,1)| and of a chi-squared variable with one degree of freedom. */
const MEDIAN_ABS_NORMAL = 0.674_49
const MEDIAN_CHI2_1 = 0.454_94
const MAX_SAMPLES_PER_BLOCK = 256

/**
 * Noise from second differences a pulse apart: they cancel level and slope, and their median ignores events.
 * A running median over five blocks removes blocks that are full of an event.
 * @param pulsePoints length of the pulse in points
 */
export function estimateNoise(levels: Float64Array, sums: PrefixSums, pulsePoints: number): Noise {
  const n = levels.length
  const lag = Math.max(1, Math.round(pulsePoints))
  const blockSize = Math.max(16, Math.min(Math.max(64, 8 * lag), Math.floor(n / 12)))
  const blockCount = Math.max(1, Math.floor(n / blockSize))
  const raw = new Float64Array(blockCount)
  for (let b = 0; b < blockCount; b++) raw[b] = blockSigma(levels, b * blockSize, blockSize, lag)
  const clipped = clippedFloor(levels)
  for (let b = 0; b < blockCount; b++)
    if (clipped !== null && shareAtOrBelow(levels, b * blockSize, blockSize, clipped) > 0.2) raw[b] = Infinity
  const blocks = runningMedian(raw, 2)
  for (let b = 0; b < blockCount; b++) blocks[b] = Math.max(blocks[b]!, ROUNDING_SIGMA_DB)
  const noise = { blockSize, blocks, correlation: 1 }
  return { ...noise, correlation: correlationFactor(sums, noise, lag) }
}

/** One standard deviation of a single point at `index`, dB. */
export function sigmaAt(noise: Noise, index: number): number {
  const block = Math.min(noise.blocks.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  return noise.blocks[block]!
}

/**
 * Levels with the bias of the logarithm taken off: the mean of 5·log10 of a noisy power lies below the level of its
 * mean by σ²·ln(10)/10 (second order; σ in dB). Left in, more noise would look like more loss.
 * Points in the noise floor are left as they are.
 */
export function unbiasedLevels(levels: Float64Array, noise: Noise): Float64Array {
  const { blocks, blockSize } = noise
  const smooth = blocks.map((_, b) => {
    const near = blocks.subarray(Math.max(0, b - 2), b + 3).filter((sigma) => sigma < SIGNAL_LOST_DB)
    return near.length > 0 ? near.reduce((sum, sigma) => sum + sigma, 0) / near.length : NaN
  })
  return levels.map((level, i) => {
    const x = i / blockSize - 0.5
    const b = Math.min(blocks.length - 1, Math.max(0, Math.floor(x)))
    const next = Math.min(blocks.length - 1, b + 1)
    const part = Math.min(1, Math.max(0, x - b))
    const sigma = smooth[b]! + part * (smooth[next]! - smooth[b]!)
    return sigma < SIGNAL_LOST_DB ? level + (sigma * sigma * Math.LN10) / 10 : level
  })
}

/** The blocks at the fiber's end are half noise floor: there the noise of the fiber just before them is used. */
export function quietLastBlocks(noise: Noise, to: number, pulsePoints: number): void {
  const first = Math.max(1, Math.floor((to - 2 * pulsePoints) / noise.blockSize))
  const last = Math.min(noise.blocks.length - 1, Math.floor(to / noise.blockSize))
  for (let b = first; b <= last; b++) noise.blocks[b] = Math.min(noise.blocks[b]!, 1.3 * noise.blocks[first - 1]!)
}

function blockSigma(levels: Float64Array, start: number, size: number, lag: number): number {
  const from = Math.max(lag, start)
  const to = Math.min(levels.length - lag, start + size)
  if (to - from < 4) return Infinity
  const stride = Math.max(1, Math.floor((to - from) / MAX_SAMPLES_PER_BLOCK))
  const out = new Float64Array(Math.ceil((to - from) / stride))
  let k = 0
  for (let i = from; i < to; i += stride) out[k++] = Math.abs(levels[i - lag]! - 2 * levels[i]! + levels[i + lag]!)
  return medianOf(out.subarray(0, k)) / (MEDIAN_ABS_NORMAL * Math.sqrt(6))
}

/** The lowest level, when so many points stand exactly there that it must be the instrument's clipped floor. */
function clippedFloor(levels: Float64Array): number | null {
  let lowest = Infinity
  for (const level of levels) if (level < lowest) lowest = level
  const share = shareAtOrBelow(levels, 0, levels.length, lowest)
  return share > 0.005 ? lowest : null
}

function shareAtOrBelow(levels: Float64Array, start: number, size: number, level: number): number {
  const end = Math.min(levels.length, start + size)
  let count = 0
  for (let i = start; i < end; i++) if (levels[i]! <= level) count++
  return count / Math.max(1, end - start)
}

/** Compares the scatter of window means with what independent points would give. */
function correlationFactor(sums: PrefixSums, noise: Omit<Noise, 'correlation'>, lag: number): number {
  const w = Math.max(8, 4 * lag)
  const ratios: number[] = []
  for (let i = 0; i + 3 * w <= sums.length; i += w) {
    const sigma = sigmaAt({ ...noise, correlation: 1 }, i + 1.5 * w)
    if (!(sigma < SIGNAL_LOST_DB)) continue
    const second = sums.mean(i, i + w) - 2 * sums.mean(i + w, i + 2 * w) + sums.mean(i + 2 * w, i + 3 * w)
    ratios.push((second * second * w) / (6 * sigma * sigma))
  }
  if (ratios.length < 8) return 1
  const factor = medianOf(Float64Array.from(ratios)) / MEDIAN_CHI2_1
  return Math.min(Math.max(1, factor), 4 * lag + 2)
}

/** Median; sorts the array it is given. */
export function medianOf(values: Float64Array): number {
  if (values.length === 0) return NaN
  values.sort()
  const half = values.length >> 1
  return values.length % 2 ? values[half]! : (values[half - 1]! + values[half]!) / 2
}

/** A block much quieter than its neighbours keeps its own figure: the noise beyond a fiber's end must not reach back. */
function runningMedian(values: Float64Array, reach: number): Float64Array {
  return values.map((own, i) => {
    const median = medianOf(values.slice(Math.max(0, i - reach), i + reach + 1))
    return own < median / 2 ? own : median
  })
}
