import { median } from 'simple-statistics'

/** Fainter than this nobody sees it (judgement). */
export const LEAST_CONTRAST = 0.04

/** The median of values, which are put in order by it: faster than of any list. */
export function medianOf(values: Float64Array): number {
  values.sort()
  const half = values.length >> 1
  return values.length % 2 === 1 ? values[half]! : (values[half - 1]! + values[half]!) / 2
}

/** Smoothed by a Gaussian along rows, then columns; NaN is passed over. */
export function smoothed(values: Float32Array, width: number, height: number, sigma: number): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma))
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigma ** 2)),
  )
  const rows = smoothedAlong(values, weights, reach, { lines: height, between: width, length: width, step: 1 })
  return smoothedAlong(rows, weights, reach, { lines: width, between: 1, length: height, step: width })
}

/** @param way so many lines, this far between them, each of so many values this far from each other */
function smoothedAlong(
  input: Float32Array,
  weights: Float64Array,
  reach: number,
  { lines, between, length, step }: { lines: number; between: number; length: number; step: number },
): Float32Array {
  const out = new Float32Array(input.length).fill(NaN)
  // One line at a time, with room on both sides for the weights: what is not known is 0 there, and counted beside it.
  const known = new Float64Array(length + 2 * reach)
  const line = new Float64Array(length + 2 * reach)
  const unknown = new Int32Array(length + 2 * reach + 1).fill(reach)
  const [width, whole] = [weights.length, weights.reduce((sum, weight) => sum + weight, 0)]
  for (let n = 0; n < lines; n++) {
    let any = false
    for (let at = 0, i = n * between; at < length; at++, i += step) {
      const value = input[i]!
      const isKnown = value === value
      any ||= isKnown
      known[at + reach] = isKnown ? 1 : 0
      line[at + reach] = isKnown ? value : 0
      unknown[at + reach + 1] = unknown[at + reach]! + (isKnown ? 0 : 1)
    }
    if (!any) continue
    // Beyond both ends nothing is known.
    for (let at = 0; at < reach; at++) {
      unknown[at] = at
      unknown[length + reach + at + 1] = unknown[length + reach + at]! + 1
    }
    for (let at = 0, i = n * between; at < length; at++, i += step) {
      if (known[at + reach] === 0) continue
      let sum = 0
      let weight = whole
      for (let k = 0; k < width; k++) sum += weights[k]! * line[at + k]!
      if (unknown[at + width]! !== unknown[at]!) {
        weight = 0
        for (let k = 0; k < width; k++) weight += weights[k]! * known[at + k]!
      }
      out[i] = sum / weight
    }
  }
  return out
}

/** Standard deviation of what is there without features: from the middle of all distances from the middle. */
export function noiseOf(values: Float32Array, inside: (i: number) => boolean): number {
  const some: number[] = []
  const every = Math.max(1, Math.floor(values.length / 60_000))
  for (let i = 0; i < values.length; i += every) {
    const value = values[i]!
    if (!Number.isNaN(value) && inside(i)) some.push(Math.abs(value))
  }
  return some.length === 0 ? 0 : 1.4826 * median(some)
}
