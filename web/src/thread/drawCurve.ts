import type { ScaleLinear } from 'd3'
import { distanceAlongGround, distanceOfGround } from '../worker/polyline.ts'
import { readRange } from '../worker/pyramid.ts'
import type { Curve } from '../worker/view.ts'

export interface Pen {
  color: string
  width: number
  /** Pixels drawn and left out. */
  dash?: [number, number]
}

/** What is needed of a canvas. */
export type Brush = Pick<CanvasRenderingContext2D, 'fillRect'> & { fillStyle: unknown }

/** Steps of a pixel in which a column's ends are drawn. */
const FINENESS = 4

/**
 * Draws a curve column by column: each shows the lowest and highest point that fall on it, so that no peak is lost at
 * any zoom, and reaches to the column before; where points are sparse they are joined by lines. Rectangles, because a
 * dashed path of thousands of corners costs a frame of its own.
 * @param ratio columns to a pixel of the page
 */
export function drawCurve(
  context: Brush,
  curve: Curve,
  x: ScaleLinear<number, number>,
  y: ScaleLinear<number, number>,
  pen: Pen,
  ratio = 1,
): void {
  const [left, right] = x.range() as [number, number]
  const [from, to] = x.domain() as [number, number]
  const columns = Math.round((right - left) * ratio)
  const groundPerColumn = (to - from) / columns
  const distanceAt = distanceAlongGround(curve.map)
  const zero = y(0)
  const perDb = y(1) - zero
  const wide = 1 / ratio
  const [on, period] = pen.dash ? [pen.dash[0] * ratio, (pen.dash[0] + pen.dash[1]) * ratio] : [1, 1]
  context.fillStyle = pen.color
  // Columns alike, to a part of a pixel, are one rectangle: most of a quiet trace.
  let [openFrom, openTo, openTop, openBottom] = [0, -1, 0, 0]
  const flush = () => {
    if (openTo < 0) return
    context.fillRect(
      left + openFrom * wide,
      openTop / FINENESS,
      (openTo - openFrom) * wide,
      (openBottom - openTop) / FINENESS,
    )
  }
  const range: [number, number] = [0, 0]
  let [lowBefore, highBefore] = [NaN, NaN]
  let previous = (distanceAt(from) - curve.first) / curve.spacing
  for (let column = 0; column < columns; column++) {
    const next = (distanceAt(from + groundPerColumn * (column + 1)) - curve.first) / curve.spacing
    const a = previous <= next ? previous : next
    const b = previous <= next ? next : previous
    previous = next
    const seen =
      b - a < 1 ? readBetween(curve.pyramid.low[0]!, (a + b) / 2, range) : readRange(curve.pyramid, a, b, range)
    if (seen && column % period < on) {
      // NaN compares as false: after a gap a column stands alone.
      const low = highBefore < range[0] ? highBefore : range[0]
      const high = lowBefore > range[1] ? lowBefore : range[1]
      const top = Math.round((zero + perDb * high - pen.width / 2) * FINENESS)
      const bottom = Math.round((zero + perDb * low + pen.width / 2) * FINENESS)
      if (top !== openTop || bottom !== openBottom || column !== openTo) {
        flush()
        openFrom = column
        openTop = top
        openBottom = bottom
      }
      openTo = column + 1
    }
    lowBefore = seen ? range[0] : NaN
    highBefore = seen ? range[1] : NaN
  }
  flush()
}

/** The value between two points, as both ends of a range; false outside and where there is none. */
function readBetween(values: ArrayLike<number>, index: number, out: [number, number]): boolean {
  const i = Math.floor(index)
  if (i < 0 || i + 1 >= values.length) return false
  const value = values[i]! + (index - i) * (values[i + 1]! - values[i]!)
  out[0] = value
  out[1] = value
  return !Number.isNaN(value)
}

/** Value of a curve at a place on the ground, or null outside. */
export function valueAt(curve: Curve, ground: number): number | null {
  const value: [number, number] = [0, 0]
  const index = (distanceOfGround(curve.map, ground) - curve.first) / curve.spacing
  return readBetween(curve.pyramid.low[0]!, index, value) ? value[0] : null
}
