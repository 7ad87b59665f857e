import { powerFromDisplayLevel } from '../../units/decibel.ts'

/** Noise of a series along its length. */
export interface Noise {
  /** Points to a block of the estimate. */
  blockSize: number
  /** One standard deviation of a single point in each block, dB. */
  blocks: Float64Array
  /** How much larger the variance of a mean of many neighbouring points is than for independent points; 1 or more. */
  correlation: number
  /** How sure a block's standard deviation is: as sure as one from so many independent values would be. */
  degreesOfFreedom: number
}

/** Noise of a trace, told from the trace itself. */
export interface TraceNoise extends Noise {
  /** One standard deviation of a single point in each block as received power, relative to full scale. */
  power: Float64Array
}

/** Beyond this the level is noise rather than fiber: one standard deviation of a point, dB. */
export const SIGNAL_LOST_DB = 0.6

/** A small part of power is this many dB on the one-way display: 5/ln 10. */
export const DB_PER_RELATIVE_POWER = 5 / Math.LN10

/** A trace is stored in steps of 0.001 dB; no noise can be known to be less than the rounding. */
const ROUNDING_SIGMA_DB = 0.001 / Math.sqrt(12)
/** Median of |N(0,1)|. */
const MEDIAN_ABS_NORMAL = 0.674_49
const SAMPLES_PER_BLOCK = 96
/**
 * What the running median of the blocks' medians of absolute second differences is worth, against a standard deviation
 * of as many independent values: 0.37 for the median of absolute values, 2/π for the median of medians, and 0.72 seen
 * in simulation for values that share their neighbours.
 */
const EFFICIENCY = 0.17
/** A standard deviation known as well as one from so many values leaves thresholds near those of the normal distribution. */
const ENOUGH_FREEDOM = 25
/** Noise within a fiber's light may be so much larger than beyond its end. */
const FLOOR_ALLOWANCE = 2
/** Blocks before, in reaches of the running median, that say what a block's noise may be. */
const BLOCKS_BEFORE = 3
/** Of those, only blocks whose light is no more than this times the block's own: no reflections. */
const MUCH_LIGHTER = 4
/** From there to a block noise falls by no more than this: receivers filter weak light harder (judgement). */
const MOST_FALL = 4
/** A block whose level is so many times its noise shows light; others show the receiver's floor. */
const CLEARLY_LIT = 10
/** Over a block whose bias grows by a smaller part, its course can't be told from a line. */
const NEARLY_LINEAR = 0.2
/** Up to here a level in dB scatters like its power does. */
const LINEAR_LIMIT_DB = 0.3
/** An autocorrelation smaller than this can't be told from none. */
const SMALLEST_CORRELATION = 0.06

/**
 * Noise from second differences a pulse apart: they cancel level and slope, and their median ignores events.
 * A receiver's noise is much the same in power along a trace, so that the estimates are smoothed as power and then
 * turned to dB at each block's own level: in dB the noise grows towards the noise floor.
 * @param pulsePoints length of the pulse in points
 */
export function estimateNoise(levels: Float64Array, pulsePoints: number): TraceNoise {
  const n = levels.length
  const lag = Math.max(1, Math.min(Math.round(pulsePoints), Math.floor(n / 8)))
  const blockSize = Math.max(16, Math.min(1024, Math.floor(n / 200)))
  const blockCount = Math.max(1, Math.floor(n / blockSize))
  const raw = new Float64Array(blockCount)
  const light = new Float64Array(blockCount)
  const median = new Float64Array(blockCount)
  const some = new Float64Array(SAMPLES_PER_BLOCK)
  const differences = new Float64Array(2 * SAMPLES_PER_BLOCK)
  for (let b = 0; b < blockCount; b++) {
    const [from, to] = [b * blockSize, (b + 1) * blockSize]
    // At both ends of the trace, where there is no point a pulse away, the nearest place that has one is asked.
    const start = Math.min(Math.max(from, lag), n - lag - blockSize)
    const sigma = Math.max(
      ROUNDING_SIGMA_DB,
      secondDifferenceSigma(levels, Math.max(0, start), blockSize, lag, differences),
    )
    const level = powerFromDisplayLevel(medianOf(some, sampleInto(some, levels, from, to)))
    median[b] = level
    if (sigma < LINEAR_LIMIT_DB) {
      raw[b] = (sigma * level) / DB_PER_RELATIVE_POWER
      light[b] = level
    } else {
      // Instruments clip or fold negative readings: what is left is half a normal distribution where there is no light.
      const { mean, positive } = powersOf(sampled(levels, from, to))
      const nothing = positive.length > 0 ? medianOf(positive) / MEDIAN_ABS_NORMAL : 0
      raw[b] = sigma < SIGNAL_LOST_DB ? Math.min((sigma * mean) / DB_PER_RELATIVE_POWER, nothing) : nothing
      light[b] = mean
    }
  }
  // Wide enough that the reflections at a fiber's end, with their slow recovery, are the lesser part of a window.
  const reach = Math.min(Math.max(8, Math.ceil((6 * lag) / blockSize)), Math.max(2, blockCount >> 3))
  const first = smoothed({ levels, lag, blockSize, raw, light, median }, reach)
  if (first.degreesOfFreedom >= ENOUGH_FREEDOM) return first
  // Neighbours that share most of their noise say little of its size: then more of the trace is asked.
  const wider = Math.min(Math.ceil((reach * ENOUGH_FREEDOM) / first.degreesOfFreedom), Math.max(2, blockCount >> 2))
  return wider > reach ? smoothed({ levels, lag, blockSize, raw, light, median }, wider) : first
}

/** What is read from each block by itself. */
interface BlockReadings {
  levels: Float64Array
  lag: number
  blockSize: number
  /** Noise as power, and the power of the fiber's light and its median, relative to full scale. */
  raw: Float64Array
  light: Float64Array
  median: Float64Array
}

/** The noise along the trace, from the running median over so many blocks to each side. */
function smoothed(readings: BlockReadings, reach: number): TraceNoise {
  const { levels, lag, blockSize, raw, median } = readings
  const light = readings.light.slice()
  const typical = likeBefore(runningMedian(raw, reach), light, reach)
  const lit = typical.map((sigma, b) => (light[b]! > CLEARLY_LIT * sigma ? 1 : 0))
  const power = likeBefore(runningMedian(raw, reach, lit), light, reach)
  // A reflection or the fiber's end in a block makes its mean another thing than the level of the fiber beside it.
  for (let b = 0; b < light.length; b++)
    if (median[b]! > CLEARLY_LIT * power[b]!) light[b] = Math.min(light[b]!, median[b]!)
  const floor = floorSigma(raw, light)
  // Where the fiber's light is weak, nothing but the receiver's own noise is left: slow tails of reflections are no noise.
  if (floor !== null)
    power.forEach((sigma, b) => {
      if (light[b]! < 200 * floor) power[b] = Math.min(sigma, FLOOR_ALLOWANCE * floor)
    })
  const blocks = power.map((sigma, b) =>
    Math.max(light[b]! > 0 ? (DB_PER_RELATIVE_POWER * sigma) / light[b]! : Infinity, ROUNDING_SIGMA_DB),
  )
  const noise = { blockSize, blocks, power, correlation: 1, degreesOfFreedom: Infinity }
  const correlation = correlationFactor(levels, noise, Math.min(Math.max(4, lag), levels.length >> 2))
  const windowBlocks = Math.min(light.length, 2 * reach + 1)
  const samples = windowBlocks * Math.min(SAMPLES_PER_BLOCK, blockSize / Math.max(1, correlation))
  return { ...noise, correlation, degreesOfFreedom: Math.max(4, EFFICIENCY * samples) }
}

/** One standard deviation of a single point at `index`, dB. */
export function sigmaAt(noise: Noise, index: number): number {
  const block = Math.min(noise.blocks.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  return noise.blocks[block]!
}

/** One standard deviation of a single point at `index` as received power, relative to full scale. */
export function powerSigmaAt(noise: TraceNoise, index: number): number {
  const block = Math.min(noise.power.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  return noise.power[block]!
}

/** Variance of a mean of n neighbouring points, per unit of a point's variance. */
export function meanVariance(noise: Pick<Noise, 'correlation'>, n: number): number {
  return Math.min(1, noise.correlation / n)
}

/**
 * Takes the bias of the logarithm off levels: the mean of 5·log10 of a noisy power lies below the level of its mean by
 * σ²·ln(10)/10 (second order; σ in dB). Left in, more noise would look like more loss.
 * Points in the noise floor are left as they are.
 */
export function takeOffLogBias(levels: Float64Array, noise: TraceNoise): void {
  const some = new Float64Array(SAMPLES_PER_BLOCK / 2)
  for (let b = 0; b < noise.power.length; b++) {
    const sigma = noise.power[b]!
    const typical = noise.blocks[b]!
    const from = b * noise.blockSize
    const to = b + 1 === noise.power.length ? levels.length : from + noise.blockSize
    if (typical < 0.01 || typical >= SIGNAL_LOST_DB) continue
    // The level itself is noisy: the block's own line tells the power that the noise stands against.
    const half = Math.floor((from + to) / 2)
    const first = medianOf(some, sampleInto(some, levels, from, half))
    const second = medianOf(some, sampleInto(some, levels, half, to))
    const slope = (second - first) / Math.max(1, half - from)
    const db = (DB_PER_RELATIVE_POWER * sigma) / powerFromDisplayLevel((first + second) / 2 + slope * (from - half))
    const most = (SIGNAL_LOST_DB * SIGNAL_LOST_DB * Math.LN10) / 10
    // In the block the power falls by the same factor from point to point, and the bias grows by its square.
    let bias = (db * db * Math.LN10) / 10
    const whole = powerFromDisplayLevel(-2 * slope * (to - from))
    if (Math.abs(whole - 1) < NEARLY_LINEAR && bias * Math.max(1, whole) < most) {
      const perPoint = (bias * (whole - 1)) / (to - from)
      for (let i = from; i < to; i++) levels[i]! += bias + (i - from) * perPoint
      continue
    }
    const growth = powerFromDisplayLevel(-2 * slope)
    for (let i = from; i < to; i++) {
      levels[i]! += Math.min(most, bias)
      bias *= growth
    }
  }
}

/**
 * As light gets weaker along a fiber, a receiver's noise stays or falls, and it does not vanish: estimates that jump,
 * for want of quiet fiber between two reflections or beside the end's, are held near those of the fiber before them.
 */
function likeBefore(power: Float64Array, light: Float64Array, reach: number): Float64Array {
  const out = power.slice()
  const similar = new Float64Array(BLOCKS_BEFORE * reach)
  for (let b = reach; b < out.length; b++) {
    let count = 0
    for (let k = Math.max(0, b - similar.length); k < b; k++)
      if (light[k]! > light[b]! / 1.2 && light[k]! < MUCH_LIGHTER * light[b]!) similar[count++] = out[k]!
    if (count < reach) continue
    const usual = medianOf(similar, count)
    out[b] = Math.max(usual / MOST_FALL, Math.min(usual * FLOOR_ALLOWANCE, out[b]!))
  }
  return out
}

/** Mean of the powers behind some levels, and those of them that were not clipped to the lowest reading. */
function powersOf(levels: Float64Array): { mean: number; positive: Float64Array } {
  const powers = new Float64Array(levels.length)
  let lowest = Infinity
  let sum = 0
  for (let k = 0; k < levels.length; k++) {
    const power = powerFromDisplayLevel(levels[k]!)
    powers[k] = power
    sum += power
    if (power < lowest) lowest = power
  }
  let kept = 0
  for (let k = 0; k < powers.length; k++) if (powers[k]! > lowest * 1.001) powers[kept++] = powers[k]!
  return { mean: sum / levels.length, positive: powers.subarray(0, kept) }
}

/** The receiver's own noise, from the trace beyond the fiber's end; null where the trace hardly reaches there. */
function floorSigma(raw: Float64Array, light: Float64Array): number | null {
  let first = raw.length
  while (first > 0 && light[first - 1]! < 2 * raw[first - 1]!) first--
  // The first part may still hold the tail of the end's reflection.
  const tail = raw.slice(first + Math.ceil((raw.length - first) / 3))
  return tail.length < 6 ? null : medianOf(tail)
}

/** @param some room for twice the samples of a block */
function secondDifferenceSigma(
  levels: Float64Array,
  start: number,
  size: number,
  lag: number,
  some: Float64Array,
): number {
  const from = Math.max(lag, start)
  const to = Math.min(levels.length - lag, start + size)
  if (to - from < 4) return Infinity
  const stride = Math.max(1, Math.floor((to - from) / SAMPLES_PER_BLOCK))
  let k = 0
  for (let i = from; i < to; i += stride) some[k++] = Math.abs(levels[i - lag]! - 2 * levels[i]! + levels[i + lag]!)
  return medianOf(some, k) / (MEDIAN_ABS_NORMAL * Math.sqrt(6))
}

/**
 * 1 + 2·Σρ over all lags: ρ from second differences at lags that double, each in units of the place's own noise.
 * With ρ(2k) known, the median of a second difference at lag k gives ρ(k): its variance is 6 − 8ρ(k) + 2ρ(2k).
 * Between the lags ρ is taken to fall exponentially, as a receiver's does; where it can't be told from none, it ends.
 */
function correlationFactor(levels: Float64Array, noise: Noise, longest: number): number {
  const lags: number[] = []
  for (let lag = longest; lag >= 1; lag = lag === 1 ? 0 : Math.floor(lag / 2)) lags.push(lag)
  const whole = scatterAt(levels, noise, longest)
  if (!(whole > 0)) return 1
  // Correlation falls with the lag, so that ρ(1) is (6 − variance)/6 at most: mostly there is none, and no more to look at.
  if (lags.at(-1) === 1 && 1 - (scatterAt(levels, noise, 1) / whole) ** 2 < SMALLEST_CORRELATION) return 1
  const rhoAt = new Map<number, number>()
  let beyond = 0
  for (const lag of lags.slice(1)) {
    const variance = (6 * scatterAt(levels, noise, lag) ** 2) / whole ** 2
    beyond = Math.min(0.999, Math.max(0, (6 - variance + 2 * beyond) / 8))
    rhoAt.set(lag, beyond)
  }
  // The scatter at the longest lag, which all are compared with, is an estimate too: what the smallest ρ is above zero
  // is its error.
  const offset = Math.min(...rhoAt.values(), 2 * SMALLEST_CORRELATION)
  // Σ over whole lags, interval by interval, as geometric series.
  let sum = 0
  let [nearLag, nearRho] = [0, 1]
  for (const lag of lags.toReversed()) {
    const rho = Math.max(((rhoAt.get(lag) ?? 0) - offset) / (1 - offset), SMALLEST_CORRELATION)
    const ratio = Math.min(0.9999, (rho / nearRho) ** (1 / (lag - nearLag)))
    const gone = rho <= SMALLEST_CORRELATION
    if (gone && nearLag === 0) break
    sum += (nearRho * ratio * (1 - ratio ** (lag - nearLag))) / (1 - ratio)
    if (gone) break
    ;[nearLag, nearRho] = [lag, rho]
  }
  return 1 + 2 * sum
}

/** Typical size of second differences at a lag, in units of the place's noise. */
function scatterAt(levels: Float64Array, noise: Noise, lag: number): number {
  const stride = Math.ceil(levels.length / 6000)
  const out = new Float64Array(Math.ceil(levels.length / stride))
  const { blocks, blockSize } = noise
  let k = 0
  let sigma = sigmaAt(noise, lag)
  let blockEnd = (Math.floor(lag / blockSize) + 1) * blockSize
  for (let i = lag; i + lag < levels.length; i += stride) {
    if (i >= blockEnd) {
      const block = Math.floor(i / blockSize)
      if (block < blocks.length) sigma = blocks[block]!
      blockEnd = (block + 1) * blockSize
    }
    if (sigma < LINEAR_LIMIT_DB) out[k++] = Math.abs(levels[i - lag]! - 2 * levels[i]! + levels[i + lag]!) / sigma
  }
  return k < 30 ? 0 : medianOf(out, k)
}

/** At most so many of the values in [from, to), evenly spread. */
function sampled(values: Float64Array, from: number, to: number): Float64Array {
  const size = Math.min(to, values.length) - from
  const out = new Float64Array(Math.max(0, Math.min(size, SAMPLES_PER_BLOCK)))
  sampleInto(out, values, from, to)
  return out
}

/** Fills `out` with values of [from, to), evenly spread, and tells how many there were. */
function sampleInto(out: Float64Array, values: Float64Array, from: number, to: number): number {
  const size = Math.min(to, values.length) - from
  const count = Math.min(size, out.length)
  for (let k = 0; k < count; k++) out[k] = values[from + Math.floor((k * size) / count)]!
  return count
}

/** Median of the first `n` values, by selection in linear time; reorders them. NaN when there is none. */
export function medianOf(values: Float64Array, n = values.length): number {
  if (n <= 0) return NaN
  const half = n >> 1
  const upper = select(values, half, n)
  if (n % 2 === 1) return upper
  let lower = -Infinity
  for (let i = 0; i < half; i++) if (values[i]! > lower) lower = values[i]!
  return (lower + upper) / 2
}

/**
 * The k-th smallest (from 0) of the first n values; afterwards no value before it is larger and none behind it smaller.
 * Source: Hoare's FIND with the middle value as pivot.
 */
function select(values: Float64Array, k: number, n: number): number {
  let from = 0
  let to = n - 1
  while (from < to) {
    const pivot = values[(from + to) >> 1]!
    let i = from
    let j = to
    while (i <= j) {
      while (values[i]! < pivot) i++
      while (pivot < values[j]!) j--
      if (i > j) break
      const swap = values[i]!
      values[i++] = values[j]!
      values[j--] = swap
    }
    if (k <= j) to = j
    else if (k >= i) from = i
    else break
  }
  return values[k]!
}

/**
 * Median of the values around each; at the ends the window stays as wide. Where kinds are given and there are enough of one, only those
 * count: what an instrument shows of its floor may be filtered unlike what it shows of light.
 */
function runningMedian(values: Float64Array, reach: number, kinds?: Float64Array): Float64Array {
  const width = Math.min(values.length, 2 * reach + 1)
  const around = new Float64Array(width)
  const out = new Float64Array(values.length)
  for (let i = 0; i < values.length; i++) {
    const from = Math.min(Math.max(0, i - reach), values.length - width)
    let alike = 0
    for (let k = from; k < from + width; k++) if (!kinds || kinds[k] === kinds[i]) around[alike++] = values[k]!
    if (3 * alike <= width) around.set(values.subarray(from, from + (alike = width)))
    out[i] = medianOf(around, alike)
  }
  return out
}
