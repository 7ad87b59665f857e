import type { ScaleLinear } from 'd3'
import { distanceOfGround } from '../worker/polyline.ts'
import { rangeOf } from '../worker/pyramid.ts'
import type { Curve } from '../worker/view.ts'

export interface Pen {
  color: string
  width: number
  dash?: number[]
}

/**
 * Draws a curve column by column: each pixel shows the lowest and highest point that fall on it, so that no peak is
 * lost at any zoom; where points are sparse they are joined by lines.
 */
export function drawCurve(
  context: CanvasRenderingContext2D,
  curve: Curve,
  x: ScaleLinear<number, number>,
  y: ScaleLinear<number, number>,
  pen: Pen,
): void {
  const [left, right] = x.range() as [number, number]
  const indexAt = (pixel: number) => (distanceOfGround(curve.map, x.invert(pixel)) - curve.first) / curve.spacing
  context.strokeStyle = pen.color
  context.lineWidth = pen.width
  context.lineJoin = 'round'
  context.setLineDash(pen.dash ?? [])
  context.beginPath()
  let open = false
  let previous = indexAt(left)
  for (let pixel = left; pixel < right; pixel++) {
    const next = indexAt(pixel + 1)
    const [a, b] = previous <= next ? [previous, next] : [next, previous]
    previous = next
    const sparse = b - a < 1
    const range = sparse ? pointBetween(curve, (a + b) / 2) : rangeOf(curve.pyramid, a, b)
    if (!range) {
      open = false
      continue
    }
    const [low, high] = range
    if (open) context.lineTo(pixel + 0.5, y(high))
    else context.moveTo(pixel + 0.5, y(high))
    if (high > low) context.lineTo(pixel + 0.5, y(low))
    open = true
  }
  context.stroke()
  context.setLineDash([])
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
