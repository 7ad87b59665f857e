import { CodedError } from '../errors/index.ts'
import type { Blur } from './picture/blur.ts'

/** Diameter of a fiber's cladding, µm: 125 ± 1 (IEC 60793-2-10 and older editions of 2-50; now ± 0.7; from memory). */
export const CLADDING = 125

/** A picture in gray, row by row, 0 black to 255 white. */
export interface Picture {
  width: number
  height: number
  data: Uint8Array | Uint8ClampedArray
}

/** What looking at a picture does, one after the other: each takes about as long. */
export const LOOK_STEPS = [
  'Finding the fiber',
  'Evening out the light',
  'Looking for scratches',
  'Looking for dirt',
] as const

/** Called as each step begins. */
export type OnStep = (step: (typeof LOOK_STEPS)[number]) => void

/** Why a picture can't be judged, for the person who took it. */
export class PictureError extends CodedError<'cannot-judge'> {
  constructor(message: string) {
    super('cannot-judge', message)
  }
}

/**
 * The cladding's edge in the picture, pixels: as seen from its middle in direction θ it is at
 * `radius + a·cos 2θ + b·sin 2θ`; a circle seen askew is an ellipse.
 */
export interface Outline {
  x: number
  y: number
  radius: number
  a: number
  b: number
}

/** A fiber that was found. */
export interface FiberFound {
  outline: Outline
  /** µm a pixel, from the cladding's diameter. */
  scale: number
  /** One standard uncertainty of it: claddings are not all alike. */
  scaleSigma: number
  blur: Blur
}

/** Something on the end face. Places in µm from the fiber's center, the picture's x and y. */
export interface Feature {
  kind: 'scratch' | 'defect'
  /** Of a scratch its width, of a defect the diameter of the smallest circle around it, µm. */
  size: number
  /** Nearest and farthest from the center, µm. */
  inner: number
  outer: number
  /** Its middle. */
  x: number
  y: number
  /** Ends of a scratch; null for a defect. */
  ends: readonly [number, number, number, number] | null
  /** How much brighter than what is around it; negative: darker. */
  contrast: number
  /** It goes on where the picture, or what is looked at, ends: it is larger than its size. */
  cut: boolean
}
