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

/** Sums of x·y are asked for seldom: every eighth is kept, and those between are added up from there. */
const SHIFT = 3
/** Windows that begin and end at multiples of this cost nothing to add up. */
export const WHOLE_SUMS = 1 << SHIFT

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
  readonly #left: LeftOut | null

  /**
   * @param use 0 where a point is left out
   * @param correct changes the values that are summed; those given stay as they are
   */
  constructor(values: Float64Array, use?: Uint8Array | null, correct?: (values: Float64Array) => void) {
    const n = values.length
    const middle = Math.floor(n / 2)
    // One array for both, values and then their sums: to ask for memory takes longer than to add.
    const sums = new Float64Array(n + 1)
    sums.set(values, 1)
    correct?.(sums.subarray(1))
    const offset = sums[middle + 1] ?? 0
    const products = new Float64Array((n >> SHIFT) + 1)
    this.length = n
    this.#offset = offset
    this.#middle = middle
    this.#y = sums
    this.#xy = products
    this.#left = use ? new LeftOut(use, middle) : null
    let y = 0
    let xy = 0
    let i = 0
    for (let k = 0; k < products.length; k++) {
      products[k] = xy
      const end = Math.min(n, (k + 1) << SHIFT)
      if (use)
        for (; i < end; i++) {
          const value = use[i] === 0 ? 0 : sums[i + 1]! - offset
          y += value
          xy += (i - middle) * value
          sums[i + 1] = y
        }
      else
        for (; i < end; i++) {
          const value = sums[i + 1]! - offset
          y += value
          xy += (i - middle) * value
          sums[i + 1] = y
        }
    }
  }

  /** Σ(x − middle)·(value − offset) of the points in use before `i`. */
  #sumXY(i: number): number {
    const y = this.#y
    const middle = this.#middle
    const k = i >> SHIFT
    let sum = this.#xy[k]!
    // The differences of neighbouring sums are the values themselves, without those left out.
    for (let j = k << SHIFT; j < i; j++) sum += (j - middle) * (y[j + 1]! - y[j]!)
    return sum
  }

  /** Number of points in use in [i0, i1). */
  count(i0: number, i1: number): number {
    return i1 - i0 - (this.#left ? this.#left.count(i0, i1) : 0)
  }

  /** The point at `i` as it was summed; a point that is left out counts as the value in the middle of the series. */
  value(i: number): number {
    return this.#y[i + 1]! - this.#y[i]! + this.#offset
  }

  /** Mean of the points in use in [i0, i1); NaN when there is none. */
  mean(i0: number, i1: number): number {
    return (this.#y[i1]! - this.#y[i0]!) / this.count(i0, i1) + this.#offset
  }

  /**
   * Adds, times a sign, the means of cells that follow each other to `out`; a cell outside the series takes its end.
   * @param from where the first cell begins, points
   * @param width of a cell, over 1 point
   */
  addCellMeans(out: Float64Array, from: number, width: number, sign: 1 | -1): void {
    const y = this.#y
    const offset = this.#offset
    const length = this.length
    let edge = from + 0.5
    let i0 = Math.min(length - 1, Math.max(0, Math.floor(edge)))
    let before = y[i0]!
    for (let k = 0; k < out.length; k++) {
      edge += width
      // Cells within the series begin where the last one ended.
      let i1 = Math.floor(edge)
      if (i1 <= i0) i1 = i0 + 1
      if (i1 > length) i1 = length
      const after = y[i1]!
      out[k]! += sign * ((after - before) / (i1 - i0) + offset)
      if (i1 < length) {
        i0 = i1
        before = after
      } else {
        i0 = length - 1
        before = y[i0]!
      }
    }
  }

  /**
   * Mean of [right, right + nRight) minus mean of [left, left + nLeft): the glance of a search. NaN where either holds a
   * point that is left out.
   */
  rise(left: number, nLeft: number, right: number, nRight: number): number {
    const out = this.#left
    if (out !== null && (out.count(left, left + nLeft) > 0 || out.count(right, right + nRight) > 0)) return NaN
    const y = this.#y
    return (y[right + nRight]! - y[right]!) / nRight - (y[left + nLeft]! - y[left]!) / nLeft
  }

  /**
   * The first of `first`, `first` + `stride`, … whose two windows, given as offsets from it, differ in mean by `rise` or
   * more or by `fall` or less, or hold a point that is left out; `last` or the first one beyond it where none does.
   */
  nextRise(
    first: number,
    last: number,
    stride: number,
    left: number,
    nLeft: number,
    right: number,
    nRight: number,
    rise: number,
    fall: number,
  ): number {
    const out = this.#left
    const y = this.#y
    const perLeft = 1 / nLeft
    const perRight = 1 / nRight
    const left1 = left + nLeft
    const right1 = right + nRight
    for (let i = first; ; i += stride) {
      if (i >= last) return i
      const difference = (y[i + right1]! - y[i + right]!) * perRight - (y[i + left1]! - y[i + left]!) * perLeft
      if (difference >= rise || difference <= fall) return i
      if (out !== null && (out.count(i + left, i + left1) > 0 || out.count(i + right, i + right1) > 0)) return i
    }
  }

  /** Mean index of the points in use in [i0, i1). */
  center(i0: number, i1: number): number {
    return this.#sumX(i0, i1) / this.count(i0, i1) + this.#middle
  }

  /** Σ(x − center)² of the points in use in [i0, i1). */
  spread(i0: number, i1: number): number {
    const n = i1 - i0
    const whole = (n * (n * n - 1)) / 12
    // With no point left out the closed form is exact; the sums of squares of a long series are not.
    if (this.count(i0, i1) === n) return whole
    const all = whole + n * ((i0 + i1 - 1) / 2 - this.#middle) ** 2
    const sx = this.#sumX(i0, i1)
    return all - this.#left!.sumXX(i0, i1) - (sx * sx) / this.count(i0, i1)
  }

  /** Σ(x − center)·(y − mean) of the points in use in [i0, i1): over the spread, the slope of their line. */
  tilt(i0: number, i1: number): number {
    return this.#sumXY(i1) - this.#sumXY(i0) - (this.#sumX(i0, i1) * (this.#y[i1]! - this.#y[i0]!)) / this.count(i0, i1)
  }

  /** Σ(x − middle) of the points in use in [i0, i1). */
  #sumX(i0: number, i1: number): number {
    const all = ((i0 + i1 - 1) / 2 - this.#middle) * (i1 - i0)
    const out = this.#left
    return out && out.count(i0, i1) > 0 ? all - out.sumX(i0, i1) : all
  }

  /**
   * Means, centers, tilts and spreads of two windows at once, for the loop that looks for steps.
   * @param out receives count, mean, center, tilt, spread of [left0, left1) and then of [right0, right1)
   */
  twoWindows(left0: number, left1: number, right0: number, right1: number, out: Float64Array): void {
    const sy = this.#y
    for (let k = 0; k < 2; k++) {
      const i0 = k === 0 ? left0 : right0
      const i1 = k === 0 ? left1 : right1
      const n = this.count(i0, i1)
      const y = sy[i1]! - sy[i0]!
      const sx = this.#sumX(i0, i1)
      out[5 * k] = n
      out[5 * k + 1] = y / n + this.#offset
      out[5 * k + 2] = sx / n + this.#middle
      out[5 * k + 3] = this.#sumXY(i1) - this.#sumXY(i0) - (sx * y) / n
      out[5 * k + 4] = n === i1 - i0 ? (n * (n * n - 1)) / 12 : this.spread(i0, i1)
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

/** The points of a series that are left out, as a few runs: counted at every point, their moments by closed forms. */
class LeftOut {
  readonly #counts: Int32Array
  readonly #from: number[] = []
  readonly #to: number[] = []
  readonly #middle: number

  constructor(use: Uint8Array, middle: number) {
    const counts = new Int32Array(use.length + 1)
    let count = 0
    for (let i = 0; i < use.length; i++) {
      if (use[i] === 0) {
        count++
        if (i === 0 || use[i - 1] !== 0) this.#from.push(i)
        if (i + 1 === use.length || use[i + 1] !== 0) this.#to.push(i + 1)
      }
      counts[i + 1] = count
    }
    this.#counts = counts
    this.#middle = middle
  }

  /** How many of [i0, i1) are left out. */
  count(i0: number, i1: number): number {
    return this.#counts[i1]! - this.#counts[i0]!
  }

  /** Σ(x − middle) of those of [i0, i1) that are left out. */
  sumX(i0: number, i1: number): number {
    let sum = 0
    for (let k = this.#firstRun(i0); k < this.#from.length && this.#from[k]! < i1; k++) {
      const a = Math.max(i0, this.#from[k]!)
      const b = Math.min(i1, this.#to[k]!)
      sum += (b - a) * ((a + b - 1) / 2 - this.#middle)
    }
    return sum
  }

  /** Σ(x − middle)² of those of [i0, i1) that are left out. */
  sumXX(i0: number, i1: number): number {
    let sum = 0
    for (let k = this.#firstRun(i0); k < this.#from.length && this.#from[k]! < i1; k++) {
      const a = Math.max(i0, this.#from[k]!)
      const b = Math.min(i1, this.#to[k]!)
      const n = b - a
      sum += (n * (n * n - 1)) / 12 + n * ((a + b - 1) / 2 - this.#middle) ** 2
    }
    return sum
  }

  /** The first run that does not end before `index`. */
  #firstRun(index: number): number {
    let low = 0
    let high = this.#to.length
    while (low < high) {
      const half = (low + high) >> 1
      if (this.#to[half]! > index) high = half
      else low = half + 1
    }
    return low
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
