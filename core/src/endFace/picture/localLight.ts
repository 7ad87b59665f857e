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
 * @param isOfPart whether a pixel belongs to what is evened out together
 */
export function evenLocally({ width, height, scale, contrast }: Contrasts, isOfPart: (at: number) => boolean): void {
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
  const used = litCells(cells, columns, rows)
  if (!used) return
  const soft = filledFrom(smoothed(used, columns, rows, SOFT / CELL), used, cells, columns, rows)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      if (Number.isNaN(contrast[at]!) || !isOfPart(at)) continue
      contrast[at]! -= between(soft, columns, rows, (x + 0.5) / size - 0.5, (y + 0.5) / size - 0.5)
    }
}

/**
 * Cells that show light: those near the part's own middle, and from them on, cell by cell, what differs little from the
 * cells beside it; over the edge of dirt no such way leads.
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
      let [sum, count] = [0, 0]
      const [column, row] = [at % columns, Math.floor(at / columns)]
      for (let v = Math.max(0, row - 1); v <= Math.min(rows - 1, row + 1); v++)
        for (let u = Math.max(0, column - 1); u <= Math.min(columns - 1, column + 1); u++) {
          const one = used[v * columns + u]!
          if (Number.isNaN(one)) continue
          sum += one
          count++
        }
      if (count < 3 || Math.abs(cells[at]! - sum / count) > step) continue
      used[at] = cells[at]!
      more = true
    }
  }
  return used
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
