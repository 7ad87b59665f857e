import { quantile } from 'simple-statistics'
import { smoothed } from './noise.ts'
import { spreadOf, type Blur } from './blur.ts'
import type { EvenFace } from './evenFace.ts'

/** Edges are looked at after smoothing, µm, and over a way to both sides: noise and grain make no edge. What is large needs more. */
const FINE = { smoothing: 1.5, way: 2 }
const ROUGH = { smoothing: 3, way: 3 }
const LARGE = 24
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
  const made = new Map<number, Float32Array>()
  const smoothedBy = (more: number) => {
    const found = made.get(more) ?? smoothed(smooth, width, height, more / scale)
    made.set(more, found)
    return found
  }
  return {
    isSoft(pixels, size, looks) {
      const by = size > LARGE && looks !== 'thin' ? ROUGH : FINE
      const sharpest = STEP * Math.hypot(spreadOf(blur), smoothing, by.smoothing, by.way / Math.sqrt(3))
      const widest = sharpest + BLURS * blur.width + SOFT_DIRT
      // What is smaller than a soft edge is wide has no edge of its own.
      if (size <= widest) return false
      const way = Math.max(1, Math.round(by.way / scale))
      const levels = smoothedBy(by.smoothing)
      const clear = pixels.filter((pixel) => distance[pixel]! < EDGE.from || distance[pixel]! > EDGE.to)
      const told = clear.length > pixels.length / 5 ? clear : pixels
      const at = (column: number, row: number) =>
        column < 0 || row < 0 || column >= width || row >= height ? NaN : levels[row * width + column]!
      const slopes = told.flatMap((pixel) => {
        const [column, row] = [pixel % width, Math.floor(pixel / width)]
        const slope = Math.hypot(
          at(column + way, row) - at(column - way, row),
          at(column, row + way) - at(column, row - way),
        )
        return Number.isNaN(slope) ? [] : [slope / (2 * way * scale)]
      })
      if (slopes.length === 0) return false
      const top = quantile(
        told.map((pixel) => Math.abs(levels[pixel]!)),
        UPPER,
      )
      return top / quantile(slopes, STEEPEST) > widest
    },
  }
}
