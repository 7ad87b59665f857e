import { median } from 'simple-statistics'

/** Fainter than this nobody sees it (judgement). */
export const LEAST_CONTRAST = 0.04

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
  for (let line = 0; line < lines; line++)
    for (let at = 0; at < length; at++) {
      const i = line * between + at * step
      if (Number.isNaN(input[i]!)) continue
      let sum = 0
      let weight = 0
      const last = Math.min(reach, length - 1 - at)
      for (let k = Math.max(-reach, -at); k <= last; k++) {
        const value = input[i + k * step]!
        if (Number.isNaN(value)) continue
        sum += weights[k + reach]! * value
        weight += weights[k + reach]!
      }
      out[i] = sum / weight
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
