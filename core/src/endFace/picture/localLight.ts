import { median } from 'simple-statistics'
import { smoothed } from './noise.ts'

/** Light that is left is told in cells of this, µm, over about so many of them: reflections are soft, dirt has an edge. */
const CELL = 4
const SOFT = 14
/** A cell that stands off from those around it by so many of their standard deviations tells of dirt, not of light. */
const MOST_OFF = 2.5
const LEAST_OFF = 0.01
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
 * @param isOfPart whether a pixel belongs to what is evened out together
 */
export function evenLocally({ width, height, scale, contrast }: Contrasts, isOfPart: (at: number) => boolean): void {
  const size = Math.max(1, Math.round(CELL / scale))
  const [columns, rows] = [Math.ceil(width / size), Math.ceil(height / size)]
  const cells = new Float32Array(columns * rows).fill(NaN)
  const every = Math.max(1, Math.floor(size / Math.sqrt(ENOUGH)))
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const values: number[] = []
      for (let y = row * size; y < Math.min(height, (row + 1) * size); y += every)
        for (let x = column * size; x < Math.min(width, (column + 1) * size); x += every) {
          const value = contrast[y * width + x]!
          if (!Number.isNaN(value) && isOfPart(y * width + x)) values.push(value)
        }
      if (values.length >= ENOUGH / 8) cells[row * columns + column] = median(values)
    }
  // To begin with what is far from the whole part's own middle is left out, then what is far from what is around it.
  let soft: Float32Array = new Float32Array(cells.length)
  for (let round = 0; round < ROUNDS; round++) {
    const off = Array.from(cells, (value, at) => Math.abs(value - soft[at]!)).filter((value) => !Number.isNaN(value))
    if (off.length < 20) return
    const most = Math.max(LEAST_OFF, MOST_OFF * 1.4826 * median(off))
    const used = cells.map((value, at) => (Math.abs(value - soft[at]!) <= most ? value : NaN))
    soft = filledFrom(smoothed(used, columns, rows, SOFT / CELL), used, cells, columns, rows)
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      if (Number.isNaN(contrast[at]!) || !isOfPart(at)) continue
      contrast[at]! -= between(soft, columns, rows, (x + 0.5) / size - 0.5, (y + 0.5) / size - 0.5)
    }
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
  for (const [u, v] of [
    [i, j],
    [i + 1, j],
    [i, j + 1],
    [i + 1, j + 1],
  ] as const) {
    if (u < 0 || v < 0 || u >= columns || v >= rows) continue
    const value = cells[v * columns + u]!
    if (Number.isNaN(value)) continue
    const w = (1 - Math.abs(x - u)) * (1 - Math.abs(y - v))
    sum += w * value
    weight += w
  }
  return weight > 0 ? sum / weight : 0
}
