import { quantile } from 'simple-statistics'
import { smoothed } from './noise.ts'
import { spreadOf, type Blur } from './blur.ts'
import type { EvenFace } from './evenFace.ts'

/** Edges are looked at after smoothing, µm, and over a way to both sides: noise and grain make no edge. What is large needs more. */
const FINE = { smoothing: 1.5, way: 2 }
const ROUGH = { smoothing: 3, way: 3 }
const LARGE = 24
/** Pixels that are large enough for that, µm. */
const GRID = 0.6
/** The cladding's own edge, and what is blurred beside it, tells nothing, µm from the center. */
const EDGE = { from: 56, to: 70 }
/** Level over slope of a step that a Gaussian blurs, in its standard deviations: √(2π). */
const STEP = Math.sqrt(2 * Math.PI)
/** Dirt may be soft: its edge is as wide as so many times the blur more, and this, µm; light is softer (judgement). */
const BLURS = 1.5
const SOFT_DIRT = 4
/** Of a spot's pixels the steepest so many tell its edge. */
const STEEPEST = 0.95
/** Its level is that of so many of them: a speck on it does not count. */
const UPPER = 0.75

/** Tells dirt, which has an edge, from light, which is soft all round. */
export interface Sharpness {
  /** Whether what lies on pixels changes nowhere as sharply as dirt of its size does. */
  isSoft(pixels: readonly number[], size: number, looks?: 'thin'): boolean
}

/**
 * @param smooth how much each pixel of a face stands out, smoothed
 * @param smoothing by so much, µm
 */
export function sharpnessOf(
  { width, height, scale, distance }: EvenFace,
  smooth: Float32Array,
  blur: Blur,
  smoothing: number,
): Sharpness {
  // What is smoothed so much needs no more pixels than this.
  const by = Math.max(1, Math.round(GRID / scale))
  const [columns, rows, step] = [Math.floor(width / by), Math.floor(height / by), scale * by]
  const made = new Map<number, Float32Array>()
  const smoothedBy = (more: number) => {
    const found = made.get(more) ?? smoothed(meansOf(smooth, width, height, by), columns, rows, more / step)
    made.set(more, found)
    return found
  }
  return {
    isSoft(pixels, size, looks) {
      const look = size > LARGE && looks !== 'thin' ? ROUGH : FINE
      const sharpest = STEP * Math.hypot(spreadOf(blur), smoothing, look.smoothing, look.way / Math.sqrt(3))
      const widest = sharpest + BLURS * blur.width + SOFT_DIRT
      // What is smaller than a soft edge is wide has no edge of its own.
      if (size <= widest) return false
      const way = Math.max(1, Math.round(look.way / step))
      const levels = smoothedBy(look.smoothing)
      const clear = pixels.filter((pixel) => distance[pixel]! < EDGE.from || distance[pixel]! > EDGE.to)
      const told = new Set(
        (clear.length > pixels.length / 5 ? clear : pixels).map((pixel) => {
          const [column, row] = [Math.floor((pixel % width) / by), Math.floor(pixel / width / by)]
          return Math.min(rows - 1, row) * columns + Math.min(columns - 1, column)
        }),
      )
      const at = (column: number, row: number) =>
        column < 0 || row < 0 || column >= columns || row >= rows ? NaN : levels[row * columns + column]!
      const slopes = [...told].flatMap((pixel) => {
        const [column, row] = [pixel % columns, Math.floor(pixel / columns)]
        const slope = Math.hypot(
          at(column + way, row) - at(column - way, row),
          at(column, row + way) - at(column, row - way),
        )
        return Number.isNaN(slope) ? [] : [slope / (2 * way * step)]
      })
      if (slopes.length === 0) return false
      const top = quantile(
        [...told].map((pixel) => Math.abs(levels[pixel]!)),
        UPPER,
      )
      return top / quantile(slopes, STEEPEST) > widest
    },
  }
}

/** Means of squares of so many pixels; NaN where one is not known. */
function meansOf(values: Float32Array, width: number, height: number, by: number): Float32Array {
  if (by === 1) return values
  const [columns, rows] = [Math.floor(width / by), Math.floor(height / by)]
  const means = new Float32Array(columns * rows)
  for (let row = 0, at = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, at++) {
      let sum = 0
      for (let v = 0; v < by; v++) for (let u = 0; u < by; u++) sum += values[(row * by + v) * width + column * by + u]!
      means[at] = sum / by ** 2
    }
  return means
}
