import { DB_PER_RELATIVE_POWER, powerFromDisplayLevel } from '../../units/decibel.ts'
import { medianOf, sampleInto, SAMPLES_PER_BLOCK, SIGNAL_LOST_DB, type TraceNoise } from './noise.ts'

/** Over a block whose bias grows by a smaller part, its course can't be told from a line. */
const NEARLY_LINEAR = 0.2

/** A block's own line shows so many times the noise told of it where most of it is dark. */
const MOSTLY_DARK = 3

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
    // Most of a block that holds the end is dark: what is lit in it has the noise told of it, and no course of its own.
    if (db > MOSTLY_DARK * typical) {
      const bias = (typical * typical * Math.LN10) / 10
      for (let i = from; i < to; i++) levels[i]! += bias
      continue
    }
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
