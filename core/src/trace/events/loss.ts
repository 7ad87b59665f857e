import { longSigmaAt, sigmaAt, SIGNAL_LOST_DB, type Noise } from '../noise/noise.ts'
import { lineAt, lineVarianceAt, type LineFit } from '../noise/prefixSums.ts'
import type { Working } from '../working.ts'

/**
 * Least-squares loss across a transition: a line on each side, both extrapolated to the event's start.
 * The trace's typical slope steadies lines that are too short to have a slope of their own.
 * @param left0,left1,right0,right1 windows [left0, left1) and [right0, right1), points
 * @param at where both lines are compared, points
 * @returns loss and its standard uncertainty, dB; null when a side has no room for a line or no signal
 */
export function lossBetween(
  working: Working,
  left0: number,
  left1: number,
  right0: number,
  right1: number,
  at: number,
): { loss: number; sigma: number } | null {
  const left = steadyLine(working, quietFrom(working.noise, left0, left1), Math.floor(left1), at)
  const right = steadyLine(working, Math.ceil(right0), quietTo(working.noise, right0, right1), at)
  if (!left || !right) return null
  return { loss: left.value - right.value, sigma: Math.sqrt(left.variance + right.variance) }
}

/** Value and variance at `at` of the line through [i0, i1), steadied by the trace's typical slope; null without room or signal. */
export function steadyLine(
  working: Working,
  i0: number,
  i1: number,
  at: number,
): { value: number; variance: number } | null {
  const from = Math.max(0, Math.ceil(i0))
  const to = Math.min(working.sums.length, i1)
  if (to - from < 3) return null
  const line = working.sums.line(from, to)
  if (!line) return null
  const sigma = sigmaAt(working.noise, line.center)
  const variance = longSigmaAt(working.noise, line.center) ** 2
  if (!(sigma < SIGNAL_LOST_DB && variance < Infinity)) return null
  const steadied = steadySlope(line, variance, working)
  return {
    value: lineAt(steadied, at),
    variance: Math.max(lineVarianceAt(steadied, at, variance), (sigma ** 2 * 2) / (to - from)),
  }
}

/** Combines a line's own slope with the trace's typical one, each by its weight. */
function steadySlope(line: LineFit, pointVariance: number, working: Working): LineFit {
  const own = line.slopeVariance * pointVariance
  const prior = working.slopeSigma ** 2
  if (own <= 0 || prior <= 0) return line
  const weight = prior / (own + prior)
  return {
    ...line,
    slope: weight * line.slope + (1 - weight) * working.slope,
    slopeVariance: line.slopeVariance * weight,
  }
}

/** A line's window leaves out what is much noisier than the place where it is used. */
function quietTo(noise: Noise, from: number, to: number): number {
  const limit = 2.5 * sigmaAt(noise, from)
  let i = from
  while (i + noise.blockSize < to && sigmaAt(noise, i + noise.blockSize) <= limit) i += noise.blockSize
  return Math.floor(Math.min(to, i + noise.blockSize))
}

function quietFrom(noise: Noise, from: number, to: number): number {
  const limit = 2.5 * sigmaAt(noise, to)
  let i = to
  while (i - noise.blockSize > from && sigmaAt(noise, i - noise.blockSize) <= limit) i -= noise.blockSize
  return Math.max(from, i - noise.blockSize)
}

/** Level of the fiber just before a point, from the means of the pulse before it; null where there is none. */
export function lineLevelBefore(working: Working, index: number): number | null {
  const width = Math.max(3, Math.ceil(working.pulsePoints))
  const to = index - Math.ceil(working.pulsePoints / 2)
  if (to - width < 0 || index > working.sums.length) return null
  return working.sums.mean(to - width, to)
}
