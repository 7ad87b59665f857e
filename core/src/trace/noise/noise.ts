import { DB_PER_RELATIVE_POWER, powerFromDisplayLevel } from '../../units/decibel.ts'
import { floorCorrelation } from './floorCorrelation.ts'
import { longNoiseOf, shownOfPoints, wholeCorrelation, type LongNoise } from './longNoise.ts'

/** Noise of a series along its length. */
export interface Noise {
  /** Points to a block of the estimate. */
  blockSize: number
  /** One standard deviation of a single point in each block, dB. */
  blocks: Float64Array
  /**
   * Of means over many points, by block: the standard deviation that one point would need for the mean of n of them to have
   * it over √n, dB. Where neighbours share their noise it is larger than that of a point; infinite where light is lost.
   */
  long: Float64Array
  /** How sure a block's standard deviation is: as sure as one from so many independent values would be. */
  degreesOfFreedom: number
}

/** Noise of a trace, told from the trace itself. */
export interface TraceNoise extends Noise {
  /** One standard deviation of a single point in each block as received power, relative to full scale. */
  power: Float64Array
  /** How much larger the variance of a mean of the receiver's own noise is than for independent points; 1 or more. */
  correlation: number
  /** Standard deviation of the backscatter's own roughness, of 1. */
  roughness: number
  /** What told the noise of long means; null where the trace has too little room. */
  told: LongNoise | null
}

/** Beyond this the level is noise rather than fiber: one standard deviation of a point, dB. */
export const SIGNAL_LOST_DB = 0.6

/** A trace is stored in steps of 0.001 dB; no noise can be known to be less than the rounding. */
const ROUNDING_SIGMA_DB = 0.001 / Math.sqrt(12)
/** Median of |N(0,1)|. */
const MEDIAN_ABS_NORMAL = 0.674_49
export const SAMPLES_PER_BLOCK = 96
/**
 * What the running median of the blocks' medians of absolute second differences is worth, against a standard deviation
 * of as many independent values: 0.37 for the median of absolute values, 2/π for the median of medians, and 0.72 seen
 * in simulation for values that share their neighbours.
 */
const EFFICIENCY = 0.17
/** A standard deviation known as well as one from so many values leaves thresholds near those of the normal distribution. */
const ENOUGH_FREEDOM = 25
/** What one difference of windows tells of the noise of long means, against one independent value (judgement). */
const KNOWN_BY_ONE = 0.25
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
/** Where a trace is no more than so many pulses long, joints come and go over most of it, and only shorter differences pass them by. */
const FEW_PULSES = 200
const PART_OF_PULSE = 1 / 10
const FEWEST_LAG = 12
/** Up to here a level in dB scatters like its power does. */
const LINEAR_LIMIT_DB = 0.3

/**
 * Noise from second differences a pulse apart: they cancel level and slope, and their median ignores events.
 * A receiver's noise is much the same in power along a trace, so that the estimates are smoothed as power and then
 * turned to dB at each block's own level: in dB the noise grows towards the noise floor.
 * @param pulsePoints,pulseWidth length of the pulse in points, and in s; light of an endless one is not coherent
 * @param known noise of long means, where another look at the same trace has told it
 */
export function estimateNoise(
  levels: Float64Array,
  pulsePoints: number,
  pulseWidth = Infinity,
  known?: LongNoise | null,
): TraceNoise {
  const n = levels.length
  const whole = Math.max(1, Math.min(Math.round(pulsePoints), Math.floor(n / 8)))
  const isFew = n < FEW_PULSES * pulsePoints
  const lag = isFew ? Math.min(whole, Math.max(Math.round(PART_OF_PULSE * pulsePoints), FEWEST_LAG)) : whole
  const blockSize = Math.max(16, Math.min(1024, Math.floor(n / 200)))
  const blocks = readBlocks(levels, lag, blockSize)
  // What shares its noise over more than that is seen where nothing else is.
  if (lag < whole) withDarkOf(blocks, readBlocks(levels, whole, blockSize))
  const blockCount = blocks.raw.length
  // Wide enough that the reflections at a fiber's end, with their slow recovery, are the lesser part of a window.
  const reach = Math.min(Math.max(8, Math.ceil((6 * lag) / blockSize)), Math.max(2, blockCount >> 3))
  const pulse = { points: pulsePoints, width: pulseWidth }
  const readings: BlockReadings = { levels, lag, pulse, blockSize, ...blocks, known }
  const first = smoothed(readings, reach)
  if (first.degreesOfFreedom >= ENOUGH_FREEDOM) return first
  // Neighbours that share most of their noise say little of its size: then more of the trace is asked.
  const wider = Math.min(Math.ceil((reach * ENOUGH_FREEDOM) / first.degreesOfFreedom), Math.max(2, blockCount >> 2))
  return wider > reach ? smoothed(readings, wider) : first
}

type Blocks = Pick<BlockReadings, 'raw' | 'light' | 'median'>

/** @param lag points between those whose second differences tell the noise */
function readBlocks(levels: Float64Array, lag: number, blockSize: number): Blocks {
  const n = levels.length
  const blockCount = Math.max(1, Math.floor(n / blockSize))
  const raw = new Float64Array(blockCount)
  const light = new Float64Array(blockCount)
  const median = new Float64Array(blockCount)
  const some = new Float64Array(SAMPLES_PER_BLOCK)
  const differences = new Float64Array(2 * SAMPLES_PER_BLOCK)
  for (let b = 0; b < blockCount; b++) {
    const [from, to] = [b * blockSize, (b + 1) * blockSize]
    // At both ends of the trace, where there is no point so far away, the nearest place that has one is asked.
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
  return { raw, light, median }
}

/** Takes over what differences of whole pulses show beyond the fiber's end. */
function withDarkOf(blocks: Blocks, far: Blocks): void {
  for (let b = darkEnd(far); b < far.raw.length; b++) {
    blocks.raw[b] = far.raw[b]!
    blocks.light[b] = far.light[b]!
  }
}

/** So many of the blocks beyond a fiber's end show it: noise that goes together for long may look like light in a few. */
const MOSTLY_DARK = 0.8

/** The first block from which nearly all show nothing but noise, to the trace's end. */
function darkEnd(blocks: Pick<Blocks, 'raw' | 'light'>): number {
  const count = blocks.raw.length
  let first = count
  let dark = 0
  for (let b = count - 1; b >= 0; b--) {
    if (!isDark(blocks, b)) continue
    dark++
    if (dark >= MOSTLY_DARK * (count - b)) first = b
  }
  return first
}

/** Whether a block shows nothing but noise. */
function isDark({ raw, light }: Pick<Blocks, 'raw' | 'light'>, b: number): boolean {
  return light[b]! < 2 * raw[b]!
}

/** What is read from each block by itself. */
interface BlockReadings {
  levels: Float64Array
  lag: number
  pulse: { points: number; width: number }
  blockSize: number
  /** Noise as power, and the power of the fiber's light and its median, relative to full scale. */
  raw: Float64Array
  light: Float64Array
  median: Float64Array
  /** What is known of long means; not asked of these levels where it is given. */
  known: LongNoise | null | undefined
}

/** The noise along the trace, from the running median over so many blocks to each side. */
function smoothed(readings: BlockReadings, reach: number): TraceNoise {
  const { levels, lag, blockSize, raw, median } = readings
  const light = readings.light.slice()
  const typical = likeBefore(runningMedian(raw, reach), light, reach)
  const lit = typical.map((sigma, b) => (light[b]! > CLEARLY_LIT * sigma ? 1 : 0))
  const power = likeBefore(runningMedian(raw, reach, lit), light, reach)
  // A reflection or the fiber's end in a block makes its mean another thing than the level of the fiber beside it.
  for (let b = 0; b < light.length; b++) {
    if (median[b]! > CLEARLY_LIT * power[b]!) light[b] = Math.min(light[b]!, median[b]!)
    // Most of a block that holds the end is dark: fiber in it has the light of that before it.
    else if (b > 0 && light[b]! > CLEARLY_LIT * power[b]!) light[b] = Math.min(light[b]!, light[b - 1]!)
  }
  const dark = darkFrom(raw, light)
  const floor = raw.length - dark < FEWEST_DARK ? null : medianOf(raw.slice(dark))
  // Where the fiber's light is weak, nothing but the receiver's own noise is left: slow tails of reflections are no noise.
  if (floor !== null)
    power.forEach((sigma, b) => {
      if (light[b]! < 200 * floor) power[b] = Math.min(sigma, FLOOR_ALLOWANCE * floor)
    })
  const inBlocks = () =>
    power.map((sigma, b) =>
      Math.max(light[b]! > 0 ? (DB_PER_RELATIVE_POWER * sigma) / light[b]! : Infinity, ROUNDING_SIGMA_DB),
    )
  let blocks = inBlocks()
  const pulse = Math.max(1, readings.pulse.points)
  const index = (i: number) => Math.min(blocks.length - 1, Math.floor(i / blockSize))
  const told =
    readings.known === undefined
      ? longNoiseOf(levels, readings.pulse, (i) => blocks[index(i)]! < LINEAR_LIMIT_DB)
      : readings.known
  const windowBlocks = Math.min(light.length, 2 * reach + 1)
  const shown = told ? receiverCorrelation(told, blocks, power, light) : pulse
  // Where windows are but a part of a pulse, the noise beyond the end tells better how long it goes together.
  const beyond = told && told.width < pulse ? floorCorrelation(levels, dark * blockSize, levels.length) : null
  const correlation = beyond ?? (told ? wholeCorrelation(shown, told.width, lag) : pulse)
  const part = told ? shownOfPoints(correlation, lag) : 1
  if (part < 1) {
    for (let b = 0; b < power.length; b++) power[b]! /= Math.sqrt(part)
    blocks = inBlocks()
  }
  const roughness = told ? Math.sqrt(told.roughness / pulse) : 0
  const long = blocks.map((sigma, b) => {
    if (!(sigma < SIGNAL_LOST_DB)) return Infinity
    const rough = told ? told.roughness : 0
    const receiver =
      told && beyond === null ? (told.receiver * correlation) / (shown * part) : correlation * power[b]! ** 2
    return Math.max(sigma, DB_PER_RELATIVE_POWER * Math.sqrt(receiver / light[b]! ** 2 + rough))
  })
  const samples = windowBlocks * Math.min(SAMPLES_PER_BLOCK, blockSize / Math.max(1, correlation))
  const degreesOfFreedom = Math.max(4, told ? KNOWN_BY_ONE * told.seen : EFFICIENCY * samples)
  return { blockSize, blocks, long, power, correlation, roughness, told, degreesOfFreedom }
}

/** The receiver's noise of long means over that of its points, where it is the larger part of a point's. */
function receiverCorrelation(
  { receiver, roughness }: LongNoise,
  blocks: Float64Array,
  power: Float64Array,
  light: Float64Array,
): number {
  const ratios: number[] = []
  for (let b = 0; b < blocks.length; b++)
    if (blocks[b]! < LINEAR_LIMIT_DB && roughness * light[b]! ** 2 < receiver) ratios.push(receiver / power[b]! ** 2)
  return Math.max(1, ratios.length > 0 ? medianOf(Float64Array.from(ratios)) : 1)
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

/** Of a mean of many points: what one would need at `index` for n of them to have it over √n, dB. */
export function longSigmaAt(noise: Noise, index: number): number {
  const block = Math.min(noise.long.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  return noise.long[block]!
}

/** One standard deviation of a mean of n neighbouring points at `index`, dB. */
export function meanSigma(noise: Noise, index: number, n: number): number {
  return Math.min(sigmaAt(noise, index), longSigmaAt(noise, index) / Math.sqrt(n))
}

/** One standard deviation of a mean of n neighbouring points at `index` as received power, where there is no light. */
export function powerMeanSigma(noise: TraceNoise, index: number, n: number): number {
  return powerSigmaAt(noise, index) * Math.min(1, Math.sqrt(noise.correlation / n))
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

/** With fewer blocks beyond the fiber's end the trace hardly reaches there. */
const FEWEST_DARK = 6

/** The first block from which the trace shows the receiver's own noise alone, to its end. */
function darkFrom(raw: Float64Array, light: Float64Array): number {
  const first = darkEnd({ raw, light })
  // The first part may still hold the tail of the end's reflection.
  return first + Math.ceil((raw.length - first) / 3)
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

/** At most so many of the values in [from, to), evenly spread. */
function sampled(values: Float64Array, from: number, to: number): Float64Array {
  const size = Math.min(to, values.length) - from
  const out = new Float64Array(Math.max(0, Math.min(size, SAMPLES_PER_BLOCK)))
  sampleInto(out, values, from, to)
  return out
}

/** Fills `out` with values of [from, to), evenly spread, and tells how many there were. */
export function sampleInto(out: Float64Array, values: Float64Array, from: number, to: number): number {
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
