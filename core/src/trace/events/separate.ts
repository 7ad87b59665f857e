import { inverse, Matrix } from 'ml-matrix'
import { DB_PER_RELATIVE_POWER, powerFromDisplayLevel } from '../../units/decibel.ts'
import { longSigmaAt, meanSigma } from '../noise/noise.ts'
import { stepAt, type StepShape } from './response.ts'
import type { Working } from '../working.ts'

/** Two losses whose transitions run into each other. Places in points, as where each edge begins. */
export interface Pair {
  kind: 'pair'
  starts: readonly [number, number]
  sigmas: readonly [number, number]
  /** Part of the whole loss that the first one takes, and its standard uncertainty. */
  share: number
  shareSigma: number
}

/** A loss that surely does not come at one point, but of which no more can be told. Points. */
export interface Spread {
  kind: 'spread'
  start: number
  extent: number
}

/** A reflection that shows the pulse worse than this says too little of how a step comes. */
const SHAPE_KNOWN = 0.05
/** Cells to a pulse: what is finer belongs to the noise. */
const CELLS = 16
const FEWEST_POINTS = 6
/** The loss must stand over the scatter of a pulse's mean by so much before anything can be told of its parts. */
const LEAST_SIGNIFICANCE = 15
/** Two losses must explain the transition better than one, at one point or spread, by so much in χ² (judgement). */
const BETTER = 30
/** Nearer than this part of a pulse, or a smaller part of the whole, the shape's own error may be taken for a second loss. */
const LEAST_APART = 0.3
const LEAST_SHARE = 0.15
const SMALLEST_DB = 0.02
/** Places nearer than this part of a point are the same. */
const PLACES_PER_POINT = 1e6
const TIMES_SIGMA = 5

/** Change of the light against the fiber's before the transition, in cells of neighbouring points. */
interface Zone {
  x: Float64Array
  y: Float64Array
  weight: Float64Array
  /** Sums over the cells, each by its weight: of 1, of y, of y². */
  sums: { weight: number; y: number; yy: number }
  /** Courses of steps that were already asked for, by their start in parts of a point. */
  columns: Map<number, Column>
}

/** A course of the light over the cells, with its weighted sums: itself, with y, with itself. */
interface Column {
  values: Float64Array
  sum: number
  withY: number
  square: number
}

/**
 * Tells two losses within a pulse length apart, where a reflection of the same trace shows how this instrument's pulse
 * looks and the noise allows it: their sum must fit the transition better than one loss at a point and one that is
 * spread evenly. What the fit says is how the loss is shared; its whole size is measured from the fiber on both sides.
 * @param start where the transition begins, points
 * @param extent points over which its loss was found to be spread
 * @param left,right its own stretch: neighbouring events lie outside
 * @returns null where one loss at one point explains the data
 */
export function separate(
  working: Working,
  start: number,
  extent: number,
  left: number,
  right: number,
): Pair | Spread | null {
  const { pulsePoints, response } = working
  const { shape } = response
  if (!shape || shape.sigma > SHAPE_KNOWN || pulsePoints < FEWEST_POINTS) return null
  const z0 = Math.floor(start - pulsePoints - extent)
  const z1 = Math.ceil(start + response.settled + pulsePoints + extent)
  if (z0 < left || z1 > right) return null
  const zone = readZone(working, z0, z1, start - pulsePoints / 2, start + response.settled + extent, shape.sigma)
  if (!zone) return null
  const places = { from: z0 + pulsePoints / 4, to: z1 - response.settled, step: (2 * pulsePoints) / CELLS }
  if (places.to - places.from < LEAST_APART * pulsePoints) return null
  const one = bestOfTwo(places, { from: 0, to: 0, step: 1 }, (x) => fitOne(zone, column(zone, shape, x)))
  if (one.misfit < BETTER) return null
  const apart = { from: LEAST_APART * pulsePoints, to: 2 * pulsePoints + extent, step: places.step }
  const two = bestOfTwo(places, apart, (x, d) => fitTwo(zone, column(zone, shape, x), column(zone, shape, x + d)))
  if (!(two.misfit + BETTER < one.misfit)) return null
  const widths = { ...apart, from: 0 }
  const spread = bestOfTwo(places, widths, (x, width) => fitOne(zone, spreadColumn(zone, shape, x, width)))
  if (!(two.misfit + BETTER < spread.misfit)) return { kind: 'spread', start: spread.place, extent: spread.other }
  const pair = pairFrom(working, zone, shape, two.place, two.other)
  return pair ?? { kind: 'spread', start: two.place, extent: two.other }
}

function readZone(
  { sums, noise, pulsePoints, slope }: Working,
  z0: number,
  z1: number,
  edgeFrom: number,
  edgeTo: number,
  shapeSigma: number,
): Zone | null {
  const size = Math.max(1, Math.floor(pulsePoints / CELLS))
  const side = Math.max(3, Math.ceil(pulsePoints / 2))
  if (z0 < 0 || z1 > sums.length || z1 - z0 < 4 * side) return null
  const [before, center] = [sums.mean(z0, z0 + side), sums.center(z0, z0 + side)]
  const whole = sums.mean(z1 - side, z1) - before - slope * (sums.center(z1 - side, z1) - center)
  const pointSigma = longSigmaAt(noise, (z0 + z1) / 2)
  if (Math.abs(whole) < LEAST_SIGNIFICANCE * meanSigma(noise, (z0 + z1) / 2, pulsePoints)) return null
  const change = Math.abs(powerFromDisplayLevel(whole) - 1)
  const cells = Math.floor((z1 - z0) / size)
  const zone: Zone = {
    x: new Float64Array(cells),
    y: new Float64Array(cells),
    weight: new Float64Array(cells),
    sums: { weight: 0, y: 0, yy: 0 },
    columns: new Map(),
  }
  for (let k = 0; k < cells; k++) {
    const i = z0 + k * size
    const at = sums.center(i, i + size)
    const light = powerFromDisplayLevel(sums.mean(i, i + size) - before - slope * (at - center))
    const scatter = ((light / DB_PER_RELATIVE_POWER) * pointSigma) / Math.sqrt(size)
    const shapeError = at > edgeFrom && at < edgeTo ? shapeSigma * change : 0
    const weight = 1 / (scatter ** 2 + shapeError ** 2)
    const y = light - 1
    zone.x[k] = at
    zone.y[k] = y
    zone.weight[k] = weight
    zone.sums.weight += weight
    zone.sums.y += weight * y
    zone.sums.yy += weight * y * y
  }
  return zone
}

function columnOf({ y, weight }: Zone, values: Float64Array): Column {
  let sum = 0
  let withY = 0
  let square = 0
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!
    const weighted = weight[i]! * value
    sum += weighted
    withY += weighted * y[i]!
    square += weighted * value
  }
  return { values, sum, withY, square }
}

function column(zone: Zone, shape: StepShape, start: number): Column {
  // The grids of both losses meet again and again in places that differ by rounding alone.
  const place = Math.round(start * PLACES_PER_POINT)
  let known = zone.columns.get(place)
  if (!known) {
    known = columnOf(
      zone,
      zone.x.map((at) => stepAt(shape, at - start)),
    )
    zone.columns.set(place, known)
  }
  return known
}

/** A loss that comes evenly over some points. */
function spreadColumn(zone: Zone, shape: StepShape, start: number, width: number): Column {
  const parts = 8
  const values = new Float64Array(zone.x.length)
  for (let k = 0; k < parts; k++) {
    const { values: part } = column(zone, shape, start + ((k + 0.5) / parts) * width)
    for (let i = 0; i < values.length; i++) values[i]! += part[i]! / parts
  }
  return columnOf(zone, values)
}

interface Range {
  from: number
  to: number
  step: number
}

/** The pair of parameters with the least misfit: on a grid first, then on finer and finer ones around it. */
function bestOfTwo(
  places: Range,
  others: Range,
  misfitOf: (place: number, other: number) => number,
): { misfit: number; place: number; other: number } {
  let found = { misfit: Infinity, place: places.from, other: others.from }
  const look = (place: number, other: number) => {
    const misfit = misfitOf(place, other)
    if (misfit < found.misfit) found = { misfit, place, other }
  }
  const grid = ({ from, to, step }: Range) =>
    Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, k) => k * step)
  for (const place of grid(places)) for (const other of grid(others)) look(places.from + place, others.from + other)
  for (let step = 0.5; step > 0.03; step /= 2) {
    const { place, other } = found
    for (const a of [-1, 0, 1])
      for (const b of others.to > others.from ? [-1, 0, 1] : [0])
        look(place + a * step * places.step, Math.max(others.from, other + b * step * others.step))
  }
  return found
}

/** Weighted least squares of a constant and one course: the misfit χ², not finite where the course is constant. */
function fitOne({ sums }: Zone, a: Column): number {
  const aa = a.square - a.sum ** 2 / sums.weight
  const ay = a.withY - (a.sum * sums.y) / sums.weight
  return aa > 0 ? sums.yy - sums.y ** 2 / sums.weight - ay ** 2 / aa : Infinity
}

/** Of a constant and two courses; not finite where they are not independent. */
function fitTwo(zone: Zone, a: Column, b: Column): number {
  const { yy, aa, ay, bb, by, ab } = centred(zone, a, b)
  const determinant = aa * bb - ab * ab
  return determinant > 1e-12 * aa * bb ? yy - (ay * ay * bb - 2 * ay * by * ab + by * by * aa) / determinant : Infinity
}

/** Products of y and two courses about their weighted means. */
function centred({ sums, weight }: Zone, a: Column, b: Column) {
  let product = 0
  for (let i = 0; i < weight.length; i++) product += weight[i]! * a.values[i]! * b.values[i]!
  return {
    yy: sums.yy - sums.y ** 2 / sums.weight,
    aa: a.square - a.sum ** 2 / sums.weight,
    ay: a.withY - (a.sum * sums.y) / sums.weight,
    bb: b.square - b.sum ** 2 / sums.weight,
    by: b.withY - (b.sum * sums.y) / sums.weight,
    ab: product - (a.sum * b.sum) / sums.weight,
  }
}

/** Heights of two courses that fit best. */
function heightsOf(zone: Zone, first: Column, second: Column): [number, number] {
  const { aa, ay, bb, by, ab } = centred(zone, first, second)
  const determinant = aa * bb - ab * ab
  return [(ay * bb - by * ab) / determinant, (by * aa - ay * ab) / determinant]
}

/** Both losses with their uncertainties by the fit's curvature; null when one of them is too small to be sure of. */
function pairFrom(working: Working, zone: Zone, shape: StepShape, first: number, apart: number): Pair | null {
  const second = first + apart
  const [a, b] = heightsOf(zone, column(zone, shape, first), column(zone, shape, second))
  const step = working.pulsePoints / CELLS / 4
  const moved = (x: number, size: number) => {
    const [low, high] = [column(zone, shape, x - step).values, column(zone, shape, x + step).values]
    return zone.x.map((_, i) => (size * (high[i]! - low[i]!)) / (2 * step))
  }
  const jacobian = new Matrix([
    zone.x.map(() => 1),
    column(zone, shape, first).values,
    column(zone, shape, second).values,
    moved(first, a),
    moved(second, b),
  ]).transpose()
  const weighted = jacobian.clone().mulColumnVector(Array.from(zone.weight))
  const covariance = inverse(jacobian.transpose().mmul(weighted), true)
  // A loss of a turns light to 1 + a of it; the second one works on what is left.
  const [lossA, lossB] = [-5 * Math.log10(1 + a), -5 * Math.log10((1 + a + b) / (1 + a))]
  const whole = lossA + lossB
  const share = lossA / whole
  // share = ln(1 + a)/ln(1 + a + b), by a and by b
  const byWhole = ((share / whole) * DB_PER_RELATIVE_POWER) / (1 + a + b)
  const gradient = [byWhole - DB_PER_RELATIVE_POWER / (1 + a) / whole, byWhole]
  const shareVariance =
    gradient[0]! ** 2 * covariance.get(1, 1) +
    2 * gradient[0]! * gradient[1]! * covariance.get(1, 2) +
    gradient[1]! ** 2 * covariance.get(2, 2)
  const shareSigma = Math.sqrt(shareVariance)
  const least = Math.min(share, 1 - share)
  if (!(whole !== 0 && least > LEAST_SHARE && least > TIMES_SIGMA * shareSigma)) return null
  if (Math.min(Math.abs(lossA), Math.abs(lossB)) < SMALLEST_DB) return null
  const sigma = (k: number) =>
    Math.hypot(0.29, Math.sqrt(covariance.get(k, k)), 0.5 * shape.sigma * working.pulsePoints)
  return { kind: 'pair', starts: [first, second], sigmas: [sigma(3), sigma(4)], share, shareSigma }
}
