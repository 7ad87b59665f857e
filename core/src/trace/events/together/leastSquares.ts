import { inverse, Matrix } from 'ml-matrix'
import { levelPart, type Course } from './course.ts'

/** What a stretch is fitted with. */
export interface Model {
  rows: Rows
  course: Course
  /** Of a change of slope, points a dB. */
  slopePrior: number
  /** Length of the pulse, points. */
  pulse: number
  /** What an edge before the stretch leaves at its beginning, in which it falls by e in so many points. */
  before: { at: number; constant: number }
}

/** What an edge before a stretch leaves there is a tenth of a dB at most, one standard deviation (judgement). */
const LEFT_PRIOR = 0.1

function left({ at, constant }: Model['before'], x: number): number {
  return Math.exp(-(x - at) / constant)
}

/** The levels of a stretch, in cells. */
export interface Rows {
  values: Float64Array
  /** Middle of each cell, points. */
  at: Float64Array
  weight: Float64Array
}

/** Where a step's edge begins, points, and about how high it is, dB: of that its level's course depends. */
export interface Placed {
  at: number
  height: number
  /** Whether a faint reflection stands on it. */
  reflects?: boolean
}

/** A reflection's light over the fiber's, of a height of 1: the pulse itself, which a step gathers. */
function reflection(course: Course, x: number, pulse: number): number {
  return pulse * (course.part(x + 0.5) - course.part(x - 0.5))
}

/** Steps are a few dB at most, one standard deviation. */
const HEIGHT_PRIOR = 2

/** Orthonormal columns that stand for a level, a slope, and for each step its course and the change of slope behind it. */
export class Basis {
  readonly #model: Model
  readonly #columns: Float64Array[] = []
  readonly #rest: Float64Array
  readonly #size: number

  constructor(model: Model, steps: readonly Placed[]) {
    const { rows, course, slopePrior, pulse } = model
    this.#model = model
    // Below the cells a row for each change of slope, and one for what is left of the edge before, holds it near none.
    this.#size = rows.at.length + steps.length + 1
    this.#rest = new Float64Array(this.#size)
    for (let k = 0; k < rows.at.length; k++) this.#rest[k] = rows.values[k]! * rows.weight[k]!
    const middle = rows.at[rows.at.length >> 1] ?? 0
    this.#add(() => 1)
    this.#add((x) => (x - middle) / Math.max(1, rows.at.length))
    this.#add((x) => left(model.before, x), this.#size - 1, 1 / LEFT_PRIOR)
    steps.forEach(({ at, height, reflects }, k) => {
      this.#add((x) => levelPart(course.part(x - at), height))
      if (reflects) this.#add((x) => reflection(course, x - at, pulse))
      this.#add((x) => course.sum(x - at), rows.at.length + k, slopePrior)
    })
  }

  #add(of: (x: number) => number, row = -1, prior = 0): void {
    const { at, weight } = this.#model.rows
    const column = new Float64Array(this.#size)
    for (let k = 0; k < at.length; k++) column[k] = of(at[k]!) * weight[k]!
    if (row >= 0) column[row] = prior
    const whole = dot(column, column)
    for (let round = 0; round < 2; round++) for (const known of this.#columns) without(column, known)
    const left = dot(column, column)
    if (!(left > 1e-12 * whole)) return
    const length = Math.sqrt(left)
    for (let k = 0; k < column.length; k++) column[k]! /= length
    const part = dot(column, this.#rest)
    for (let k = 0; k < column.length; k++) this.#rest[k]! -= part * column[k]!
    this.#columns.push(column)
  }

  /**
   * By how much χ² falls with a step more and the change of slope behind it; nothing by a reflection on it that would take
   * light away.
   */
  gainOf({ at: place, height, reflects }: Placed, course = this.#model.course): number {
    const { slopePrior, pulse } = this.#model
    // No joint loses more than some dB: what hardly differs from what is known already would have to.
    const step = this.#seen((x) => levelPart(course.part(x - place), height), 1 / HEIGHT_PRIOR)
    const slope = this.#seen((x) => course.sum(x - place), slopePrior)
    const bySlope = common(step, slope) / step.square
    const slopeLeft = slope.square - bySlope ** 2 * step.square
    const slopePart = slope.part - bySlope * step.part
    const gain = step.part ** 2 / step.square + slopePart ** 2 / slopeLeft
    if (!reflects) return gain
    const peak = this.#seen((x) => reflection(course, x - place, pulse), 1 / HEIGHT_PRIOR)
    const byStep = common(step, peak) / step.square
    const byBoth = (common(slope, peak) - bySlope * byStep * step.square) / slopeLeft
    const left = peak.square - byStep ** 2 * step.square - byBoth ** 2 * slopeLeft
    const part = peak.part - byStep * step.part - byBoth * slopePart
    return part > 0 ? gain + part ** 2 / left : gain
  }

  /** A column with what the known ones explain of it. */
  #seen(of: (x: number) => number, prior: number): Seen {
    const { at, weight } = this.#model.rows
    const column = new Float64Array(at.length)
    for (let k = 0; k < at.length; k++) column[k] = of(at[k]!) * weight[k]!
    const known = Float64Array.from(this.#columns, (one) => dot(column, one))
    const square = Math.max(1e-9, dot(column, column) - dot(known, known)) + prior ** 2
    return { column, known, square, part: dot(column, this.#rest) }
  }
}

/** A column beside orthonormal ones: what it has in common with each, the square of what is left, and that with the rest. */
interface Seen {
  column: Float64Array
  known: Float64Array
  square: number
  part: number
}

/** What two columns have in common beside the known ones. */
function common(a: Seen, b: Seen): number {
  return dot(a.column, b.column) - dot(a.known, b.known)
}

/** Takes off a column what an orthonormal one explains of it. */
function without(column: Float64Array, known: Float64Array): void {
  const part = dot(known, column)
  for (let k = 0; k < column.length; k++) column[k]! -= part * known[k]!
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}

/** Steps of one joint, and what they rise by together. */
export interface Measured {
  parts: readonly Placed[]
  height: number
  sigma: number
  atSigma: number
}

/** Heights of joints by least squares of all their steps, with their places' uncertainty from the fit's curvature. */
export function measure(
  { rows, course, slopePrior, pulse, before }: Model,
  joints: readonly (readonly Placed[])[],
): Measured[] {
  if (joints.length === 0) return []
  const middle = rows.at[rows.at.length >> 1] ?? 0
  const scale = Math.max(1, rows.at.length)
  const columns: { of(x: number): number; prior: number }[] = [
    { of: () => 1, prior: 0 },
    { of: (x) => (x - middle) / scale, prior: 0 },
    { of: (x) => left(before, x), prior: 1 / LEFT_PRIOR },
    ...joints
      .flat()
      .flatMap(({ at, height, reflects }) => [
        { of: (x: number) => levelPart(course.part(x - at), height), prior: 1 / HEIGHT_PRIOR },
        { of: (x: number) => course.sum(x - at), prior: slopePrior },
        ...(reflects ? [{ of: (x: number) => reflection(course, x - at, pulse), prior: 1 / HEIGHT_PRIOR }] : []),
      ]),
  ]
  const size = columns.length
  const sums = new Float64Array(size * size)
  const right = new Float64Array(size)
  const row = new Float64Array(size)
  for (let k = 0; k < rows.at.length; k++) {
    for (let a = 0; a < size; a++) row[a] = columns[a]!.of(rows.at[k]!) * rows.weight[k]!
    const value = rows.values[k]! * rows.weight[k]!
    for (let a = 0; a < size; a++) {
      right[a]! += row[a]! * value
      for (let b = 0; b <= a; b++) sums[a * size + b]! += row[a]! * row[b]!
    }
  }
  const products = Matrix.zeros(size, size)
  for (let a = 0; a < size; a++)
    for (let b = 0; b < size; b++)
      products.set(a, b, sums[Math.max(a, b) * size + Math.min(a, b)]! + (a === b ? columns[a]!.prior ** 2 : 0))
  const covariance = inverse(products)
  const found = covariance.mmul(Matrix.columnVector(Array.from(right))).to1DArray()
  let next = 3
  return joints.map((parts) => {
    const own = parts.map(({ reflects }) => {
      const column = next
      next += reflects ? 3 : 2
      return column
    })
    const height = own.reduce((sum, k) => sum + found[k]!, 0)
    const variance = own.reduce((sum, a) => sum + own.reduce((part, b) => part + covariance.get(a, b), 0), 0)
    // The course rises over a pulse: moved by a point, it changes by its slope there.
    let turn = 0
    for (let i = 0; i < rows.at.length; i++) {
      const x = rows.at[i]! - parts[0]!.at
      turn += ((course.part(x + 0.5) - course.part(x - 0.5)) * rows.weight[i]!) ** 2
    }
    const atSigma = 1 / (Math.max(1e-4, Math.abs(height)) * Math.sqrt(Math.max(turn, 1e-12)))
    return {
      parts: parts.map((part, k) => ({ ...part, height: found[own[k]!]! })),
      height,
      sigma: Math.sqrt(Math.max(0, variance)),
      atSigma,
    }
  })
}
