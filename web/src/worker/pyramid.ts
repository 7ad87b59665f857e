import type { Pyramid } from './view.ts'

const COARSEST = 64

/** Builds the min/max pyramid of a series; NaN is passed over. */
export function buildPyramid(values: ArrayLike<number>): Pyramid {
  const base = Float32Array.from(values)
  const low = [base]
  const high = [base]
  while (low.at(-1)!.length > COARSEST) {
    const l = low.at(-1)!
    const h = high.at(-1)!
    const n = Math.ceil(l.length / 2)
    const nextLow = new Float32Array(n)
    const nextHigh = new Float32Array(n)
    for (let i = 0; i < n; i++) {
      nextLow[i] = known(Math.min, l[2 * i]!, l[2 * i + 1] ?? NaN)
      nextHigh[i] = known(Math.max, h[2 * i]!, h[2 * i + 1] ?? NaN)
    }
    low.push(nextLow)
    high.push(nextHigh)
  }
  return { low, high }
}

function known(choose: (a: number, b: number) => number, a: number, b: number): number {
  if (Number.isNaN(a)) return b
  return Number.isNaN(b) ? a : choose(a, b)
}

/** Lowest and highest value of points [from, to), read from the coarsest level that still resolves them. */
export function rangeOf(pyramid: Pyramid, from: number, to: number): [number, number] | null {
  const out: [number, number] = [0, 0]
  return readRange(pyramid, from, to, out) ? out : null
}

/**
 * As {@link rangeOf}, for thousands of columns in a frame: makes no object.
 * @param out receives lowest and highest
 * @returns false where there is no point
 */
export function readRange(pyramid: Pyramid, from: number, to: number, out: [number, number]): boolean {
  const n = pyramid.low[0]!.length
  const a = Math.max(0, Math.floor(from))
  const b = Math.min(n, Math.max(a + 1, Math.ceil(to)))
  if (a >= n || b <= 0) return false
  const level = Math.min(pyramid.low.length - 1, 31 - Math.clz32(Math.max(1, (b - a) >> 1)))
  const low = pyramid.low[level]!
  const high = pyramid.high[level]!
  const last = Math.min(low.length - 1, (b - 1) >> level)
  let min = Infinity
  let max = -Infinity
  for (let i = a >> level; i <= last; i++) {
    if (low[i]! < min) min = low[i]!
    if (high[i]! > max) max = high[i]!
  }
  out[0] = min
  out[1] = max
  return min <= max
}
