import { Matrix, solve } from 'ml-matrix'
import { errorFunction, median } from 'simple-statistics'

/** y = base + slope·x by least squares, and the sum of squares that it leaves. */
export function straightThrough(
  x: readonly number[],
  y: readonly number[],
): { slope: number; base: number; left: number } {
  const n = x.length
  let [sx, sxx, sy, sxy] = [0, 0, 0, 0]
  for (let i = 0; i < n; i++) {
    sx += x[i]!
    sxx += x[i]! ** 2
    sy += y[i]!
    sxy += x[i]! * y[i]!
  }
  const determinant = n * sxx - sx * sx
  const slope = Math.abs(determinant) < 1e-9 ? 0 : (n * sxy - sx * sy) / determinant
  const base = (sy - slope * sx) / n
  let left = 0
  for (let i = 0; i < n; i++) left += (y[i]! - base - slope * x[i]!) ** 2
  return { slope, base, left }
}

/** A disc of level 1 blurred by a Gaussian of standard deviation 1, at a distance from its center. */
export function blurredDisc(r: number, radius: number): number {
  // Strips across the line from the center to the place: the Gaussian's integral along each is known.
  const steps = 80
  const [from, to] = [Math.max(-radius, r - 5), Math.min(radius, r + 5)]
  if (to <= from) return 0
  let sum = 0
  for (let i = 0; i < steps; i++) {
    const x = from + ((to - from) * (i + 0.5)) / steps
    sum += Math.exp(-((x - r) ** 2) / 2) * errorFunction(Math.sqrt(radius ** 2 - x ** 2) / Math.SQRT2)
  }
  return (sum * (to - from)) / steps / Math.sqrt(2 * Math.PI)
}

/**
 * Least squares of a sum of terms, by its normal equations: for few terms of like size, and many values.
 * @param rows the terms of each value
 * @param used which of the rows count; all without
 * @returns a factor for each term
 */
export function throughTerms(
  rows: readonly (readonly number[])[],
  values: readonly number[],
  used?: readonly number[],
): number[] {
  const terms = rows[0]!.length
  const products = new Float64Array(terms * terms)
  const sums = new Float64Array(terms)
  for (let n = 0; n < (used?.length ?? rows.length); n++) {
    const i = used ? used[n]! : n
    const row = rows[i]!
    for (let a = 0; a < terms; a++) {
      const one = row[a]!
      sums[a]! += one * values[i]!
      for (let b = a; b < terms; b++) products[a * terms + b]! += one * row[b]!
    }
  }
  const square = Matrix.zeros(terms, terms)
  for (let a = 0; a < terms; a++)
    for (let b = 0; b < terms; b++) square.set(a, b, products[Math.min(a, b) * terms + Math.max(a, b)]!)
  return solve(square, Matrix.columnVector(Array.from(sums))).to1DArray()
}

/** The same through most of the values: what stands off by three standard deviations is left out, step by step. */
export function throughMost(rows: readonly (readonly number[])[], values: readonly number[]): number[] {
  let kept = rows.map((_, i) => i)
  let terms: number[] = []
  for (let round = 0; round < 4; round++) {
    terms = throughTerms(rows, values, kept)
    const off = rows.map((row, i) => Math.abs(values[i]! - row.reduce((sum, one, k) => sum + one * terms[k]!, 0)))
    const most = Math.max(1e-3, 3 * 1.4826 * median(off))
    kept = rows.flatMap((_, i) => (off[i]! <= most ? [i] : []))
  }
  return terms
}
