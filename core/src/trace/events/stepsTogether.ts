import { inverse, Matrix } from 'ml-matrix'
import { studentQuantile, upperTailQuantile } from '../../units/normal.ts'
import { meanSigma } from '../noise/noise.ts'
import type { Working } from '../working.ts'
import { stepAt } from './response.ts'

/** A step that was measured together with all others of its stretch. Places in points. */
export interface StepTogether {
  /** Where its edge begins, and where that of the last step does that belongs to it. */
  start: number
  end: number
  startSigma: number
  /** dB, above 0 is loss. */
  loss: number
  lossSigma: number
}

/** Stretches of at most so many pulses: in longer ones steps stand far enough apart to be found one by one. */
export const MOST_PULSES = 200
/** They are looked through in parts of so many pulses, which overlap by so many. */
const PART_PULSES = 32
const OVERLAP_PULSES = 10
const CELLS_PER_PULSE = 8
/** How far a section's attenuation may differ from that of its neighbours, dB/m (common practice: some hundredths per km). */
const SECTIONS_DIFFER = 0.02e-3
const FALSE_ALARM = 0.01
/** Places are sought to this part of a cell. */
const FINEST = 1 / 8
const MOST_STEPS = 40
/** A step that turns out smaller than so many of its standard deviations, with the others measured, is none. */
const SURE = 3.5

/** What a stretch is made of: a level, a slope, and for each step its course and the change of slope behind it. */
interface Rows {
  values: Float64Array
  /** Middle of each cell, points. */
  at: Float64Array
  weight: Float64Array
}

/**
 * Finds and measures all steps of a stretch together, where it holds few pulses: what one pulse covers, joints beside it
 * change too, so that lines on either side of each step have no room. Steps come one after the other, each where it explains
 * most (orthogonal matching pursuit), and are measured anew by least squares with all others; at each of them the slope may
 * change by as much as sections of fiber differ.
 * @param from,to points
 * @param smallest dB
 */
export function stepsTogether(
  working: Working,
  from: number,
  to: number,
  spacing: number,
  smallest: number,
): StepTogether[] {
  const { pulsePoints } = working
  const parts = Math.max(1, Math.round((to - from) / (PART_PULSES * pulsePoints)))
  const length = (to - from) / parts
  const overlap = parts === 1 ? 0 : (OVERLAP_PULSES * pulsePoints) / 2
  // What lies in the overlap of two parts is taken from that in which it lies farther inside.
  return Array.from(
    { length: parts },
    (_, k) => [from + k * length, k + 1 === parts ? to : from + (k + 1) * length] as const,
  ).flatMap(([first, last]) => {
    const [a, b] = [Math.max(from, Math.floor(first - overlap)), Math.min(to, Math.ceil(last + overlap))]
    return stepsOfPart(working, a, b, spacing, smallest).filter(
      ({ start }) => (start >= first || first === from) && (start < last || last === to),
    )
  })
}

/** Where steps may lie, points. */
interface Room {
  from: number
  to: number
}

function stepsOfPart(working: Working, from: number, to: number, spacing: number, smallest: number): StepTogether[] {
  const rows = rowsOf(working, from, to)
  const { pulsePoints, response, noise } = working
  const cell = Math.max(1, pulsePoints / CELLS_PER_PULSE)
  const model: Model = { rows, course: courseOf(working), slopePrior: 1 / (SECTIONS_DIFFER * spacing) }
  // At either end there is no line on that side.
  const room = { from: from + 2 * cell, to: to - Math.max(pulsePoints / 2, response.middle) }
  const z = upperTailQuantile(FALSE_ALARM / Math.max(2, rows.at.length))
  const enough = studentQuantile(z, noise.degreesOfFreedom) ** 2
  let steps: number[] = []
  while (steps.length < MOST_STEPS) {
    const base = new Basis(model, steps)
    let best = { gain: enough, at: NaN }
    for (const at of placesBetween(room.from, room.to, 2 * cell, steps, pulsePoints / 2)) {
      const gain = base.gainOf(at)
      if (gain > best.gain) best = { gain, at }
    }
    if (Number.isNaN(best.at)) break
    steps = refined(model, [...steps, best.at], cell, room)
  }
  for (;;) {
    const joints = measure(model, clustered(steps, model, pulsePoints))
    const strength = ({ height, sigma }: Measured) => Math.abs(height) / sigma
    const worst = joints.reduce((least, one, k) => (strength(one) < strength(joints[least]!) ? k : least), 0)
    const one = joints[worst]
    if (!one || Math.abs(one.height) >= Math.max(SURE * one.sigma, smallest))
      return joints.map(({ height, sigma, parts, atSigma }) => ({
        start: parts[0]!,
        end: parts.at(-1)!,
        startSigma: Math.hypot(atSigma, response.middleSigma, 0.29),
        loss: -height,
        lossSigma: sigma,
      }))
    steps = steps.filter((place) => !one.parts.includes(place))
  }
}

/** Steps that are nearer to each other than this are one joint or can't be told apart, in pulses (judgement). */
const ONE_JOINT = 0.6
/** A rise and the fall after it within this are a faint reflection on a joint, in pulses. */
const ONE_REFLECTION = 1.4

/** So many steps of one sign, each so near the one before, in pulses, are one loss that is spread (judgement). */
const CROWD = 3
const CROWDED = 0.8

/** Joints, with those together that are one spread loss. */
function withCrowds(joints: readonly number[][], single: readonly Measured[], pulsePoints: number): number[][] {
  const signOf = (joint: readonly number[]) =>
    Math.sign(single.filter(({ parts }) => joint.includes(parts[0]!)).reduce((sum, { height }) => sum + height, 0))
  const crowds: number[][][] = []
  for (const joint of joints) {
    const last = crowds.at(-1)?.at(-1)
    if (last && signOf(last) === signOf(joint) && joint[0]! - last.at(-1)! < CROWDED * pulsePoints)
      crowds.at(-1)!.push(joint)
    else crowds.push([joint])
  }
  return crowds.flatMap((crowd) => (crowd.length < CROWD ? crowd : [crowd.flat()]))
}

/** What a step leaves beside it, of its size, and within so many pulses (judgement). */
const REST = 0.25
const REST_WITHIN = 2

/** Steps in order of place, those together that belong to one joint. */
function clustered(steps: readonly number[], model: Model, pulsePoints: number): number[][] {
  const single = measure(
    model,
    [...steps].sort((a, b) => a - b).map((at) => [at]),
  )
  const joints: number[][] = []
  single.forEach(({ parts: [at], height }, k) => {
    const before = single[k - 1]
    const apart = before ? (at! - before.parts[0]!) / pulsePoints : Infinity
    const isReflection = before !== undefined && before.height > 0 && height < 0 && apart < ONE_REFLECTION
    // A pulse that is not quite as it is taken to be leaves a little of each step beside it.
    const isRest = before !== undefined && Math.abs(height) < REST * Math.abs(before.height) && apart < REST_WITHIN
    if (apart < ONE_JOINT || isReflection || isRest) joints.at(-1)!.push(at!)
    else joints.push([at!])
  })
  return withCrowds(joints, single, pulsePoints)
}

function rowsOf({ sums, noise, pulsePoints }: Working, from: number, to: number): Rows {
  const cell = Math.max(1, Math.floor(pulsePoints / CELLS_PER_PULSE))
  const count = Math.floor((to - from) / cell)
  const [values, at, weight] = [new Float64Array(count), new Float64Array(count), new Float64Array(count)]
  for (let k = 0; k < count; k++) {
    const i = from + k * cell
    values[k] = sums.mean(i, i + cell)
    at[k] = sums.center(i, i + cell)
    // Neighbouring cells share the light's roughness: each counts for as much as it adds to a long mean.
    weight[k] = Math.sqrt(cell) / Math.max(1e-9, longestSigma(noise, i, cell))
  }
  return { values, at, weight }
}

function longestSigma(noise: Working['noise'], index: number, cell: number): number {
  const block = Math.min(noise.long.length - 1, Math.max(0, Math.floor(index / noise.blockSize)))
  const long = noise.long[block]!
  return Number.isFinite(long) ? long : 1e6 * meanSigma(noise, index, cell)
}

/** How a step of 1 comes, so many points after its edge begins. */
function courseOf({ response, pulsePoints }: Working): (x: number) => number {
  const { shape } = response
  if (shape) return (x) => stepAt(shape, x)
  const length = Math.max(1, 2 * response.middle, pulsePoints)
  return (x) => Math.max(0, Math.min(1, x / length))
}

function placesBetween(from: number, to: number, step: number, steps: readonly number[], apart: number): number[] {
  const places: number[] = []
  for (let place = from; place < to; place += step)
    if (steps.every((at) => Math.abs(at - place) > apart)) places.push(place)
  return places
}

/** What a stretch is fitted with. */
interface Model {
  rows: Rows
  course(x: number): number
  /** Of a change of slope, points a dB. */
  slopePrior: number
}

/** Orthonormal columns that stand for all that is in the model. */
class Basis {
  readonly #model: Model
  readonly #columns: Float64Array[] = []
  readonly #rest: Float64Array
  readonly #size: number

  constructor(model: Model, steps: readonly number[]) {
    const { rows, course, slopePrior } = model
    this.#model = model
    // Below the cells a row for each change of slope holds it near none.
    this.#size = rows.at.length + steps.length
    this.#rest = new Float64Array(this.#size)
    for (let k = 0; k < rows.at.length; k++) this.#rest[k] = rows.values[k]! * rows.weight[k]!
    const middle = rows.at[rows.at.length >> 1] ?? 0
    this.#add(() => 1)
    this.#add((x) => (x - middle) / Math.max(1, rows.at.length))
    steps.forEach((at, k) => {
      this.#add((x) => course(x - at))
      this.#add((x) => Math.max(0, x - at), rows.at.length + k, slopePrior)
    })
  }

  #add(of: (x: number) => number, row = -1, prior = 0): void {
    const { at, weight } = this.#model.rows
    const column = new Float64Array(this.#size)
    for (let k = 0; k < at.length; k++) column[k] = of(at[k]!) * weight[k]!
    if (row >= 0) column[row] = prior
    const whole = dot(column, column)
    for (let round = 0; round < 2; round++)
      for (const known of this.#columns) {
        const part = dot(known, column)
        for (let k = 0; k < column.length; k++) column[k]! -= part * known[k]!
      }
    const left = dot(column, column)
    if (!(left > 1e-12 * whole)) return
    const length = Math.sqrt(left)
    for (let k = 0; k < column.length; k++) column[k]! /= length
    const part = dot(column, this.#rest)
    for (let k = 0; k < column.length; k++) this.#rest[k]! -= part * column[k]!
    this.#columns.push(column)
  }

  /** By how much χ² falls with a step at a place. */
  gainOf(place: number): number {
    const column = new Float64Array(this.#size)
    const { at, weight } = this.#model.rows
    for (let k = 0; k < at.length; k++) column[k] = this.#model.course(at[k]! - place) * weight[k]!
    // No joint loses more than some dB: what hardly differs from what is known already would have to.
    let left = dot(column, column) + HEIGHT_PRIOR ** -2
    const part = dot(column, this.#rest)
    for (const known of this.#columns) left -= dot(known, column) ** 2
    return part ** 2 / left
  }
}

/** Steps are a few dB at most, one standard deviation. */
const HEIGHT_PRIOR = 2

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0
  for (let k = 0; k < a.length; k++) sum += a[k]! * b[k]!
  return sum
}

/** Each step moved in turn to where all explain most together: in steps that halve. */
function refined(model: Model, steps: readonly number[], cell: number, { from, to }: Room): number[] {
  const places = [...steps]
  const last = places.at(-1)!
  for (let k = places.length - 1; k >= 0; k--) {
    // What stands far from the step that came last stays where it is.
    if (Math.abs(places[k]! - last) > NEIGHBOURS * cell * CELLS_PER_PULSE) continue
    const others = new Basis(
      model,
      places.filter((_, i) => i !== k),
    )
    for (let step = 2 * cell; step >= FINEST * cell; step /= 2) {
      const tried = [-1, 0, 1].map((way) => Math.min(to, Math.max(from, places[k]! + way * step)))
      const gains = tried.map((place) => others.gainOf(place))
      places[k] = tried[gains.indexOf(Math.max(...gains))]!
    }
  }
  return places
}

/** Steps within so many pulses of each other move each other. */
const NEIGHBOURS = 4

/** Steps of one joint: their places, and what they rise by together. */
interface Measured {
  parts: readonly number[]
  height: number
  sigma: number
  atSigma: number
}

/** Heights of joints by least squares of all their steps, with their places' uncertainty from the fit's curvature. */
function measure({ rows, course, slopePrior }: Model, joints: readonly (readonly number[])[]): Measured[] {
  if (joints.length === 0) return []
  const steps = joints.flat()
  const middle = rows.at[rows.at.length >> 1] ?? 0
  const scale = Math.max(1, rows.at.length)
  const columns: { of(x: number): number; prior: number }[] = [
    { of: () => 1, prior: 0 },
    { of: (x) => (x - middle) / scale, prior: 0 },
    ...steps.flatMap((at) => [
      { of: (x: number) => course(x - at), prior: 1 / HEIGHT_PRIOR },
      { of: (x: number) => Math.max(0, x - at), prior: slopePrior },
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
  let next = 0
  return joints.map((parts) => {
    const own = parts.map(() => 2 + 2 * next++)
    const height = own.reduce((sum, k) => sum + found[k]!, 0)
    const variance = own.reduce((sum, a) => sum + own.reduce((part, b) => part + covariance.get(a, b), 0), 0)
    // The course rises over a pulse: moved by a point, it changes by its slope there.
    let turn = 0
    for (let i = 0; i < rows.at.length; i++) {
      const x = rows.at[i]! - parts[0]!
      turn += ((course(x + 0.5) - course(x - 0.5)) * rows.weight[i]!) ** 2
    }
    const atSigma = 1 / (Math.max(1e-4, Math.abs(height)) * Math.sqrt(Math.max(turn, 1e-12)))
    return { parts, height, sigma: Math.sqrt(Math.max(0, variance)), atSigma }
  })
}
