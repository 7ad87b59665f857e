import { CholeskyDecomposition, inverse, Matrix } from 'ml-matrix'
import { powerFromDisplayLevel } from '../units/decibel.ts'
import { DB_PER_RELATIVE_POWER, meanVariance, sigmaAt } from './noise.ts'
import { stepAt, type StepShape } from './response.ts'
import type { Working } from './working.ts'

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
const TIMES_SIGMA = 5

/** Light relative to the fiber's before the transition, in cells of neighbouring points. */
interface Zone {
  x: number[]
  y: number[]
  weight: number[]
  /** Courses of steps that were already asked for, by their start. */
  columns: Map<number, number[]>
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
  const one = bestOfTwo(zone, places, { from: 0, to: 0, step: 1 }, (x) => [column(zone, shape, x)])
  if (one.misfit < BETTER) return null
  const apart = { from: LEAST_APART * pulsePoints, to: 2 * pulsePoints + extent, step: places.step }
  const two = bestOfTwo(zone, places, apart, (x, d) => [column(zone, shape, x), column(zone, shape, x + d)])
  if (!(two.misfit + BETTER < one.misfit)) return null
  const widths = { ...apart, from: 0 }
  const spread = bestOfTwo(zone, places, widths, (x, width) => [spreadColumn(zone, shape, x, width)])
  if (!(two.misfit + BETTER < spread.misfit)) return { kind: 'spread', start: spread.place, extent: spread.other }
  const pair = pairFrom(working, zone, shape, two.place, two.other)
  return pair ?? { kind: 'spread', start: two.place, extent: two.other }
}

function readZone(
  { levels, sums, noise, pulsePoints, slope }: Working,
  z0: number,
  z1: number,
  edgeFrom: number,
  edgeTo: number,
  shapeSigma: number,
): Zone | null {
  const size = Math.max(1, Math.floor(pulsePoints / CELLS))
  const side = Math.max(3, Math.ceil(pulsePoints / 2))
  if (z0 < 0 || z1 > levels.length || z1 - z0 < 4 * side) return null
  const [before, center] = [sums.mean(z0, z0 + side), sums.center(z0, z0 + side)]
  const whole = sums.mean(z1 - side, z1) - before - slope * (sums.center(z1 - side, z1) - center)
  const pointSigma = sigmaAt(noise, (z0 + z1) / 2)
  if (Math.abs(whole) < LEAST_SIGNIFICANCE * pointSigma * Math.sqrt(meanVariance(noise, pulsePoints))) return null
  const change = Math.abs(powerFromDisplayLevel(whole) - 1)
  const zone: Zone = { x: [], y: [], weight: [], columns: new Map() }
  for (let i = z0; i + size <= z1; i += size) {
    const at = sums.center(i, i + size)
    const y = powerFromDisplayLevel(sums.mean(i, i + size) - before - slope * (at - center))
    const scatter = (y / DB_PER_RELATIVE_POWER) * pointSigma * Math.sqrt(noise.correlation / size)
    const shapeError = at > edgeFrom && at < edgeTo ? shapeSigma * change : 0
    zone.x.push(at)
    zone.y.push(y)
    zone.weight.push(1 / (scatter ** 2 + shapeError ** 2))
  }
  return zone
}

function column({ x, columns }: Zone, shape: StepShape, start: number): number[] {
  let values = columns.get(start)
  if (!values) columns.set(start, (values = x.map((at) => stepAt(shape, at - start))))
  return values
}

/** A loss that comes evenly over some points. */
function spreadColumn(zone: Zone, shape: StepShape, start: number, width: number): number[] {
  const parts = 8
  const columns = Array.from({ length: parts }, (_, k) => column(zone, shape, start + ((k + 0.5) / parts) * width))
  return zone.x.map((_, i) => columns.reduce((sum, values) => sum + values[i]!, 0) / parts)
}

interface Range {
  from: number
  to: number
  step: number
}

/** The pair of parameters with the least misfit: on a grid first, then on finer and finer ones around it. */
function bestOfTwo(
  zone: Zone,
  places: Range,
  others: Range,
  columns: (place: number, other: number) => number[][],
): { misfit: number; place: number; other: number } {
  let found = { misfit: Infinity, place: places.from, other: others.from }
  const look = (place: number, other: number) => {
    const { misfit } = fit(zone, columns(place, other))
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

/** Weighted least squares of a constant and the columns; no finite misfit where they are not independent. */
function fit({ y, weight }: Zone, columns: readonly number[][]): { misfit: number; sizes: number[] } {
  const all = [y.map(() => 1), ...columns]
  const weighted = (a: readonly number[], b: readonly number[]) => {
    let sum = 0
    for (let i = 0; i < weight.length; i++) sum += weight[i]! * (a[i]! * b[i]!)
    return sum
  }
  const normal = new CholeskyDecomposition(new Matrix(all.map((a) => all.map((b) => weighted(a, b)))))
  if (!normal.isPositiveDefinite()) return { misfit: Infinity, sizes: [] }
  const sizes = normal.solve(Matrix.columnVector(all.map((a) => weighted(a, y)))).to1DArray()
  const left = y.map((value, i) => value - all.reduce((sum, a, k) => sum + sizes[k]! * a[i]!, 0))
  return { misfit: weighted(left, left), sizes }
}

/** Both losses with their uncertainties by the fit's curvature; null when one of them is too small to be sure of. */
function pairFrom(working: Working, zone: Zone, shape: StepShape, first: number, apart: number): Pair | null {
  const second = first + apart
  const { sizes } = fit(zone, [column(zone, shape, first), column(zone, shape, second)])
  const [, a, b] = sizes as [number, number, number]
  const step = working.pulsePoints / CELLS / 4
  const moved = (x: number, size: number) => {
    const [low, high] = [column(zone, shape, x - step), column(zone, shape, x + step)]
    return zone.x.map((_, i) => (size * (high[i]! - low[i]!)) / (2 * step))
  }
  const jacobian = new Matrix([
    zone.x.map(() => 1),
    column(zone, shape, first),
    column(zone, shape, second),
    moved(first, a),
    moved(second, b),
  ]).transpose()
  const weighted = jacobian.clone().mulColumnVector(zone.weight)
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
