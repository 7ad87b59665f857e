import { median } from 'simple-statistics'
import { smoothed } from './noise.ts'
import { sharpnessOf, type Sharpness } from './sharpness.ts'
import type { Blur } from './blur.ts'
import type { EvenFace } from './evenFace.ts'

/** A face smoothed: what stands out of it is looked for there. */
export interface Standing {
  face: EvenFace
  /** How much each pixel stands out, beyond what may come from circles that are not where they are taken to be. */
  smooth: Float32Array
  /** Standard deviation of the Gaussian it was smoothed by, µm. */
  smoothing: number
  sharpness: Sharpness
}

export function standingOut(face: EvenFace, blur: Blur, smoothing: number): Standing {
  const { contrast, doubt, width, height, scale } = face
  const smooth = smoothed(contrast, width, height, smoothing / scale)
  for (let i = 0; i < smooth.length; i++)
    smooth[i] = Math.sign(smooth[i]!) * Math.max(0, Math.abs(smooth[i]!) - doubt[i]!)
  return { face, smooth, smoothing, sharpness: sharpnessOf(face, smooth, blur, smoothing) }
}

/** So many pixels tell its noise, about. */
const NOISE_PIXELS = 60_000
/** Rings in which noise is taken to be the same, µm. */
const NOISE_RING = 6
/** So many rings are so small that a spot may fill them; a darker core has more noise than the glass beside it, up to so much. */
const SMALL_RINGS = 2
const CORE_NOISE = 1.5

/**
 * Noise at a pixel: where it is darker there is more of it.
 * @param lag by how pixels differ that are so many apart, which what is large does not widen; 0: by how they stand out
 */
export function noiseByDistance(
  values: Float32Array,
  distance: Float32Array,
  inside: (at: number) => boolean,
  lag = 0,
): (at: number) => number {
  const rings: number[][] = []
  const every = Math.max(1, Math.floor(Math.sqrt(values.length / NOISE_PIXELS)))
  for (let at = 0; at < values.length; at += 1 + (at % every)) {
    if (Number.isNaN(values[at]!) || !inside(at)) continue
    const off = lag === 0 ? values[at]! : (values[at]! - (values[at + lag] ?? NaN)) / Math.SQRT2
    if (!Number.isNaN(off)) (rings[Math.floor(distance[at]! / NOISE_RING)] ??= []).push(Math.abs(off))
  }
  const sigmas = Array.from(rings, (ring) => (ring && ring.length > 50 ? 1.4826 * median(ring) : 0))
  // One spot fills the innermost rings: what it is held against is the noise beside it.
  const beside = Math.max(0, ...sigmas.slice(SMALL_RINGS, 2 * SMALL_RINGS))
  if (beside > 0) for (let i = 0; i < SMALL_RINGS; i++) sigmas[i] = Math.min(sigmas[i]!, CORE_NOISE * beside)
  return (at) => {
    const ring = Math.floor(distance[at]! / NOISE_RING)
    return Math.max(sigmas[ring - 1] ?? 0, sigmas[ring] ?? 0, sigmas[ring + 1] ?? 0)
  }
}
