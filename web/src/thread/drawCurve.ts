import type { ScaleLinear } from 'd3'
import { distanceOfGround } from '../worker/polyline.ts'
import { rangeOf } from '../worker/pyramid.ts'
import type { Curve } from '../worker/view.ts'

export interface Pen {
  color: string
  width: number
  /** Pixels drawn and left out. */
  dash?: [number, number]
}

/**
 * Draws a curve column by column: each shows the lowest and highest point that fall on it, so that no peak is lost at
 * any zoom, and reaches to the column before; where points are sparse they are joined by lines. Rectangles, because a
 * dashed path of thousands of corners costs a frame of its own.
 * @param ratio columns to a pixel of the page
 */
export function drawCurve(
  context: CanvasRenderingContext2D,
  curve: Curve,
  x: ScaleLinear<number, number>,
  y: ScaleLinear<number, number>,
  pen: Pen,
  ratio = 1,
): void {
  const [left, right] = x.range() as [number, number]
  const [from, to] = x.domain() as [number, number]
  const groundPerPixel = (to - from) / (right - left)
  const indexAt = (pixel: number) =>
    (distanceOfGround(curve.map, from + groundPerPixel * (pixel - left)) - curve.first) / curve.spacing
  const zero = y(0)
  const perDb = y(1) - zero
  const columns = Math.round((right - left) * ratio)
  const wide = 1 / ratio
  const [on, period] = pen.dash ? [pen.dash[0]! * ratio, (pen.dash[0]! + pen.dash[1]!) * ratio] : [1, 1]
  context.fillStyle = pen.color
  let before: [low: number, high: number] | null = null
  let previous = indexAt(left)
  for (let column = 0; column < columns; column++) {
    const pixel = left + column * wide
    const next = indexAt(pixel + wide)
    const [a, b] = previous <= next ? [previous, next] : [next, previous]
    previous = next
    const range: [number, number] | null = b - a < 1 ? pointBetween(curve, (a + b) / 2) : rangeOf(curve.pyramid, a, b)
    if (range && column % period < on) {
      const low = before ? Math.min(range[0], before[1]) : range[0]
      const high = before ? Math.max(range[1], before[0]) : range[1]
      const top = zero + perDb * high - pen.width / 2
      context.fillRect(pixel, top, wide, perDb * (low - high) + pen.width)
    }
    before = range
  }
}

function pointBetween(curve: Curve, index: number): [number, number] | null {
  const values = curve.pyramid.low[0]!
  const i = Math.floor(index)
  if (i < 0 || i + 1 >= values.length) return null
  const value = values[i]! + (index - i) * (values[i + 1]! - values[i]!)
  return Number.isNaN(value) ? null : [value, value]
}

/** Value of a curve at a place on the ground, or null outside. */
export function valueAt(curve: Curve, ground: number): number | null {
  return pointBetween(curve, (distanceOfGround(curve.map, ground) - curve.first) / curve.spacing)?.[0] ?? null
}
