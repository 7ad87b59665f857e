/**
 * A straight line through points i0 … i1−1: value(x) = mean + slope·(x − center), x in points.
 * `meanVariance` and `slopeVariance` are per unit of the points' own variance; mean and slope are uncorrelated.
 */
export interface LineFit {
  mean: number
  slope: number
  center: number
  count: number
  meanVariance: number
  slopeVariance: number
}

/**
 * Running sums over a series, so that the mean or the least-squares line of any window costs the same few operations.
 * Points where `use` is 0 are left out. Sums are kept about the series' mean and middle to stay exact.
 */
export class PrefixSums {
  readonly length: number
  readonly #offset: number
  readonly #middle: number
  readonly #n: Float64Array
  readonly #x: Float64Array
  readonly #xx: Float64Array
  readonly #y: Float64Array
  readonly #xy: Float64Array

  constructor(values: Float64Array, use?: Uint8Array) {
    const n = values.length
    this.length = n
    let sum = 0
    for (let i = 0; i < n; i++) sum += values[i]!
    this.#offset = n > 0 ? sum / n : 0
    this.#middle = Math.floor(n / 2)
    this.#n = new Float64Array(n + 1)
    this.#x = new Float64Array(n + 1)
    this.#xx = new Float64Array(n + 1)
    this.#y = new Float64Array(n + 1)
    this.#xy = new Float64Array(n + 1)
    for (let i = 0; i < n; i++) {
      const weight = use && use[i] === 0 ? 0 : 1
      const x = (i - this.#middle) * weight
      const y = (values[i]! - this.#offset) * weight
      this.#n[i + 1] = this.#n[i]! + weight
      this.#x[i + 1] = this.#x[i]! + x
      this.#xx[i + 1] = this.#xx[i]! + x * x
      this.#y[i + 1] = this.#y[i]! + y
      this.#xy[i + 1] = this.#xy[i]! + x * y
    }
  }

  /** Number of points in use in [i0, i1). */
  count(i0: number, i1: number): number {
    return this.#n[i1]! - this.#n[i0]!
  }

  /** Mean of the points in use in [i0, i1); NaN when there is none. */
  mean(i0: number, i1: number): number {
    return (this.#y[i1]! - this.#y[i0]!) / this.count(i0, i1) + this.#offset
  }

  /** Mean index of the points in use in [i0, i1). */
  center(i0: number, i1: number): number {
    return (this.#x[i1]! - this.#x[i0]!) / this.count(i0, i1) + this.#middle
  }

  /** Least-squares line of the points in use in [i0, i1), or null with fewer than three. */
  line(i0: number, i1: number): LineFit | null {
    const n = this.count(i0, i1)
    if (n < 3) return null
    const sx = this.#x[i1]! - this.#x[i0]!
    const sy = this.#y[i1]! - this.#y[i0]!
    // With no point left out the closed form is exact; the sums of squares of a long series are not.
    const sxx = n === i1 - i0 ? (n * (n * n - 1)) / 12 : this.#xx[i1]! - this.#xx[i0]! - (sx * sx) / n
    const sxy = this.#xy[i1]! - this.#xy[i0]! - (sx * sy) / n
    if (!(sxx > 0)) return null
    return {
      mean: sy / n + this.#offset,
      slope: sxy / sxx,
      center: sx / n + this.#middle,
      count: n,
      meanVariance: 1 / n,
      slopeVariance: 1 / sxx,
    }
  }
}

/** Value of a fitted line at x (points). */
export function lineAt(line: LineFit, x: number): number {
  return line.mean + line.slope * (x - line.center)
}

/** Variance of a fitted line at x, for points of the given variance. */
export function lineVarianceAt(line: LineFit, x: number, pointVariance: number): number {
  return pointVariance * (line.meanVariance + line.slopeVariance * (x - line.center) ** 2)
}
