import { median } from 'simple-statistics'
import { medianOf, smoothed } from './noise.ts'

/** Light that is left is told in cells of this, µm, over about so many of them: reflections are soft, dirt has an edge. */
const CELL = 4
const SOFT = 9
/** Cells that stand off from the middle by fewer of their standard deviations show light to begin with. */
const MOST_OFF = 2.5
const LEAST_OFF = 0.01
/** From one cell to the next light changes by less than this, or than noise does (judgement). */
const LEAST_STEP = 0.015
/** So often what is left is told again. */
const ROUNDS = 3
/** So many of a cell's pixels, about, tell its level. */
const ENOUGH = 40

/** What is evened out: contrasts, row by row, NaN where nothing is looked at. */
interface Contrasts {
  width: number
  height: number
  /** µm a pixel. */
  scale: number
  contrast: Float32Array
}

/**
 * Takes soft light that is left out of contrasts, in place: of glass and of ferrule each for itself, as each reflects in its
 * own way.
 * @param isOfPart whether a pixel belongs to what is evened out together, and tells of its light
 * @param isEvened whether it is evened out by that light; those that tell of it without
 */
export function evenLocally(
  { width, height, scale, contrast }: Contrasts,
  isOfPart: (at: number) => boolean,
  isEvened = isOfPart,
): void {
  const size = Math.max(1, Math.round(CELL / scale))
  const [columns, rows] = [Math.ceil(width / size), Math.ceil(height / size)]
  const cells = new Float32Array(columns * rows).fill(NaN)
  const every = Math.max(1, Math.floor(size / Math.sqrt(ENOUGH)))
  const values = new Float64Array((size + 1) ** 2)
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      let told = 0
      for (let y = row * size; y < Math.min(height, (row + 1) * size); y += every)
        for (let x = column * size; x < Math.min(width, (column + 1) * size); x += every) {
          const value = contrast[y * width + x]!
          if (!Number.isNaN(value) && isOfPart(y * width + x)) values[told++] = value
        }
      if (told >= ENOUGH / 8) cells[row * columns + column] = medianOf(values.subarray(0, told))
    }
  // What smoothing takes off the top of light that is bowed comes with the next rounds (J. W. Tukey's twicing, 1977).
  const soft = new Float32Array(cells.length)
  for (let round = 0; round < ROUNDS; round++) {
    const used = litCells(cells, columns, rows)
    if (!used) break
    const more = filledFrom(smoothed(used, columns, rows, SOFT / CELL), used, cells, columns, rows)
    for (let at = 0; at < cells.length; at++) {
      soft[at]! += more[at]!
      cells[at]! -= more[at]!
    }
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      if (Number.isNaN(contrast[at]!) || !isEvened(at)) continue
      contrast[at]! -= between(soft, columns, rows, (x + 0.5) / size - 0.5, (y + 0.5) / size - 0.5)
    }
}

/**
 * Cells that show light: those near the part's own middle, and from them on, cell by cell, what goes on as the cells around
 * it do; over the edge of dirt no such way leads.
 * @returns the others NaN; null where there are too few
 */
function litCells(cells: Float32Array, columns: number, rows: number): Float32Array | null {
  const known = cells.filter((value) => !Number.isNaN(value))
  if (known.length < 20) return null
  const middle = median([...known])
  const most = Math.max(LEAST_OFF, MOST_OFF * 1.4826 * median([...known].map((value) => Math.abs(value - middle))))
  const steps: number[] = []
  for (let at = 0; at + 1 < cells.length; at++) {
    const step = Math.abs(cells[at + 1]! - cells[at]!)
    if ((at + 1) % columns !== 0 && !Number.isNaN(step)) steps.push(step)
  }
  const step = Math.max(LEAST_STEP, (3 * 1.4826 * (steps.length > 0 ? median(steps) : 0)) / Math.SQRT2)
  const used = cells.map((value) => (Math.abs(value - middle) <= most ? value : NaN))
  for (let more = true; more;) {
    more = false
    for (let at = 0; at < cells.length; at++) {
      if (!Number.isNaN(used[at]!) || Number.isNaN(cells[at]!)) continue
      const expected = goesOnAt(used, columns, rows, at)
      if (expected === null || Math.abs(cells[at]! - expected) > step) continue
      used[at] = cells[at]!
      more = true
    }
  }
  return used
}

/** Around a cell as far as this, in cells, light goes on as a plane does; so many of them must be known. */
const AROUND = 2
const LEAST_KNOWN = 6

/** What cells around one make it out to be, if light goes on as it does there; null where too few are known, or none beside it. */
function goesOnAt(used: Float32Array, columns: number, rows: number, at: number): number | null {
  const [column, row] = [at % columns, Math.floor(at / columns)]
  let [n, u1, v1, uu, uv, vv, z1, uz, vz, beside] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0]
  for (let y = Math.max(0, row - AROUND); y <= Math.min(rows - 1, row + AROUND); y++)
    for (let x = Math.max(0, column - AROUND); x <= Math.min(columns - 1, column + AROUND); x++) {
      const z = used[y * columns + x]!
      if (Number.isNaN(z)) continue
      const [u, v] = [x - column, y - row]
      if (Math.abs(u) <= 1 && Math.abs(v) <= 1) beside++
      n++
      u1 += u
      v1 += v
      uu += u * u
      uv += u * v
      vv += v * v
      z1 += z
      uz += u * z
      vz += v * z
    }
  if (beside === 0 || n < LEAST_KNOWN) return null
  // Least squares by Cramer's rule; the cell itself lies at the plane's origin.
  const determinant = n * (uu * vv - uv * uv) - u1 * (u1 * vv - uv * v1) + v1 * (u1 * uv - uu * v1)
  if (Math.abs(determinant) < 1e-6) return z1 / n
  return (z1 * (uu * vv - uv * uv) - u1 * (uz * vv - uv * vz) + v1 * (uz * uv - uu * vz)) / determinant
}

/** Cells left out get the mean of those that were kept around them. */
function filledFrom(
  soft: Float32Array,
  used: Float32Array,
  cells: Float32Array,
  columns: number,
  rows: number,
): Float32Array {
  const reach = Math.ceil((2 * SOFT) / CELL)
  return soft.map((value, at) => {
    if (!Number.isNaN(value) || Number.isNaN(cells[at]!)) return value
    let [sum, weight] = [0, 0]
    const [column, row] = [at % columns, Math.floor(at / columns)]
    for (let v = Math.max(0, row - reach); v <= Math.min(rows - 1, row + reach); v++)
      for (let u = Math.max(0, column - reach); u <= Math.min(columns - 1, column + reach); u++) {
        const one = used[v * columns + u]!
        if (Number.isNaN(one)) continue
        const w = Math.exp((-0.5 * ((u - column) ** 2 + (v - row) ** 2) * CELL ** 2) / SOFT ** 2)
        sum += w * one
        weight += w
      }
    return weight > 0 ? sum / weight : 0
  })
}

/** Between cells, those that are not known left out. */
function between(cells: Float32Array, columns: number, rows: number, x: number, y: number): number {
  const [i, j] = [Math.floor(x), Math.floor(y)]
  let [sum, weight] = [0, 0]
  for (let v = Math.max(0, j); v <= Math.min(rows - 1, j + 1); v++)
    for (let u = Math.max(0, i); u <= Math.min(columns - 1, i + 1); u++) {
      const value = cells[v * columns + u]!
      if (Number.isNaN(value)) continue
      const w = (1 - Math.abs(x - u)) * (1 - Math.abs(y - v))
      sum += w * value
      weight += w
    }
  return weight > 0 ? sum / weight : 0
}
