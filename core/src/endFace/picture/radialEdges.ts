import { medianOf } from './noise.ts'
import type { Outline, Picture } from '../types.ts'

/** Directions in which an edge is looked for. */
export const RAYS = 360
/** A circle is looked at where so much of it lies in the picture. */
const WHOLE = 0.95
/** An edge that is so much weaker than the strongest one is none (judgement). */
export const WEAK_EDGE = 0.3

/** Gray level between pixels; beyond the border the border's. */
export function levelAt({ width, height, data }: Picture, x: number, y: number): number {
  const u = Math.max(0, Math.min(width - 1.001, x))
  const v = Math.max(0, Math.min(height - 1.001, y))
  const i = Math.floor(u)
  const j = Math.floor(v)
  const p = u - i
  const q = v - j
  const at = j * width + i
  return (
    (data[at]! * (1 - p) + data[at + 1]! * p) * (1 - q) + (data[at + width]! * (1 - p) + data[at + width + 1]! * p) * q
  )
}

/** The outline's radius in a direction, pixels. */
export function radiusAt({ radius, a, b }: Outline, angle: number): number {
  return radius + a * Math.cos(2 * angle) + b * Math.sin(2 * angle)
}

/** Gray level between pixels; NaN beyond the border. */
export function levelIn(picture: Picture, x: number, y: number): number {
  return x < 0 || y < 0 || x > picture.width - 1 || y > picture.height - 1 ? NaN : levelAt(picture, x, y)
}

/** A step is told between levels that are so many pixels apart: one and a half to either side. */
const ACROSS = 2

/**
 * How the level changes across a circle (or an outline like it): the middle over all directions, by radius in pixels.
 * @param whole so much of the circle must lie in the picture; 0 where it does not, and below `least`
 */
export function edgesByRadius(
  picture: Picture,
  outline: Outline,
  least: number,
  most: number,
  whole = WHOLE,
): number[] {
  const rays = Array.from({ length: RAYS / 3 }, (_, k) => {
    const angle = (6 * Math.PI * k) / RAYS
    return { cos: Math.cos(angle), sin: Math.sin(angle), stretch: radiusAt(outline, angle) / outline.radius }
  })
  const out = new Array<number>(Math.max(0, Math.floor(most))).fill(0)
  const first = Math.max(0, Math.ceil(least))
  // Levels halfway between whole radii: what is one step's far side is another's near one.
  const count = Math.max(0, out.length - first) + 2 * ACROSS - 1
  const levels = new Float64Array(rays.length * count)
  for (const [ray, { cos, sin, stretch }] of rays.entries())
    for (let i = 0; i < count; i++) {
      const r = (first + i - ACROSS + 0.5) * stretch
      levels[ray * count + i] = levelIn(picture, outline.x + r * cos, outline.y + r * sin)
    }
  const steps = new Float64Array(rays.length)
  for (let r = first; r < out.length; r++) {
    let shown = 0
    for (let at = r - first; at < levels.length; at += count) {
      const step = levels[at + 2 * ACROSS - 1]! - levels[at]!
      if (!Number.isNaN(step)) steps[shown++] = step
    }
    if (shown >= rays.length * whole) out[r] = medianOf(steps.subarray(0, shown))
  }
  return out
}

/** Tops of a row, strongest first. */
export function topsOf(strengths: readonly number[], from: number): { r: number; strength: number }[] {
  const tops: { r: number; strength: number }[] = []
  for (let r = Math.max(1, from); r < strengths.length - 1; r++) {
    const here = Math.abs(strengths[r]!)
    if (here > 0 && here >= Math.abs(strengths[r - 1]!) && here > Math.abs(strengths[r + 1]!))
      tops.push({ r, strength: strengths[r]! })
  }
  return tops.sort((a, b) => Math.abs(b.strength) - Math.abs(a.strength))
}
