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
 * Points where `use` is 0 are left out. Sums are kept about a value of the series and its middle to stay exact.
 */
export class PrefixSums {
  readonly length: number
  readonly #offset: number
  readonly #middle: number
  readonly #y: Float64Array
  readonly #xy: Float64Array
  /** Only where points are left out: count, Σx and Σx² have closed forms otherwise. */
  readonly #left: { n: Float64Array; x: Float64Array; xx: Float64Array } | null

  constructor(values: Float64Array, use?: Uint8Array) {
    const n = values.length
    this.length = n
    const offset = n > 0 ? values[n >> 1]! : 0
    const middle = Math.floor(n / 2)
    this.#offset = offset
    this.#middle = middle
    const sy = new Float64Array(n + 1)
    const sxy = new Float64Array(n + 1)
    this.#y = sy
    this.#xy = sxy
    let y = 0
    let xy = 0
    if (!use) {
      this.#left = null
      for (let i = 0; i < n; i++) {
        const value = values[i]! - offset
        y += value
        xy += (i - middle) * value
        sy[i + 1] = y
        sxy[i + 1] = xy
      }
      return
    }
    const left = { n: new Float64Array(n + 1), x: new Float64Array(n + 1), xx: new Float64Array(n + 1) }
    this.#left = left
    for (let i = 0; i < n; i++) {
      const weight = use[i] === 0 ? 0 : 1
      const x = (i - middle) * weight
      const value = weight === 0 ? 0 : values[i]! - offset
      y += value
      xy += x * value
      sy[i + 1] = y
      sxy[i + 1] = xy
      left.n[i + 1] = left.n[i]! + weight
      left.x[i + 1] = left.x[i]! + x
      left.xx[i + 1] = left.xx[i]! + x * x
    }
  }

  /** Number of points in use in [i0, i1). */
  count(i0: number, i1: number): number {
    return this.#left ? this.#left.n[i1]! - this.#left.n[i0]! : i1 - i0
  }

  /** Mean of the points in use in [i0, i1); NaN when there is none. */
  mean(i0: number, i1: number): number {
    return (this.#y[i1]! - this.#y[i0]!) / this.count(i0, i1) + this.#offset
  }

  /** Mean index of the points in use in [i0, i1). */
  center(i0: number, i1: number): number {
    if (!this.#left) return i1 > i0 ? (i0 + i1 - 1) / 2 : NaN
    return (this.#left.x[i1]! - this.#left.x[i0]!) / this.count(i0, i1) + this.#middle
  }

  /** Σ(x − center)² of the points in use in [i0, i1). */
  spread(i0: number, i1: number): number {
    const n = this.count(i0, i1)
    // With no point left out the closed form is exact; the sums of squares of a long series are not.
    if (this.#left === null || n === i1 - i0) return (n * (n * n - 1)) / 12
    const sx = this.#left.x[i1]! - this.#left.x[i0]!
    return this.#left.xx[i1]! - this.#left.xx[i0]! - (sx * sx) / n
  }

  /** Σ(x − center)·(y − mean) of the points in use in [i0, i1): over the spread, the slope of their line. */
  tilt(i0: number, i1: number): number {
    const sx = (this.center(i0, i1) - this.#middle) * this.count(i0, i1)
    return this.#xy[i1]! - this.#xy[i0]! - (sx * (this.#y[i1]! - this.#y[i0]!)) / this.count(i0, i1)
  }

  /**
   * Means, centers, tilts and spreads of two windows at once, for the loop that looks for steps.
   * @param out receives count, mean, center, tilt, spread of [left0, left1) and then of [right0, right1)
   */
  twoWindows(left0: number, left1: number, right0: number, right1: number, out: Float64Array): void {
    const sy = this.#y
    const sxy = this.#xy
    const left = this.#left
    for (let k = 0; k < 2; k++) {
      const i0 = k === 0 ? left0 : right0
      const i1 = k === 0 ? left1 : right1
      const n = left ? left.n[i1]! - left.n[i0]! : i1 - i0
      const y = sy[i1]! - sy[i0]!
      const sx = left ? left.x[i1]! - left.x[i0]! : ((i0 + i1 - 1) / 2 - this.#middle) * n
      out[5 * k] = n
      out[5 * k + 1] = y / n + this.#offset
      out[5 * k + 2] = sx / n + this.#middle
      out[5 * k + 3] = sxy[i1]! - sxy[i0]! - (sx * y) / n
      out[5 * k + 4] = !left || n === i1 - i0 ? (n * (n * n - 1)) / 12 : left.xx[i1]! - left.xx[i0]! - (sx * sx) / n
    }
  }

  /** Least-squares line of the points in use in [i0, i1), or null with fewer than three. */
  line(i0: number, i1: number): LineFit | null {
    const count = this.count(i0, i1)
    if (count < 3) return null
    const spread = this.spread(i0, i1)
    if (!(spread > 0)) return null
    return {
      mean: this.mean(i0, i1),
      slope: this.tilt(i0, i1) / spread,
      center: this.center(i0, i1),
      count,
      meanVariance: 1 / count,
      slopeVariance: 1 / spread,
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
