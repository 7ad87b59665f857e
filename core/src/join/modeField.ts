import { CodedError } from '../errors/index.ts'

/**
 * Loss at a splice of single-mode fibers whose fields are Gaussian: D. Marcuse, "Loss analysis of single-mode fiber
 * splices", Bell System Technical Journal 56(5), 703–718 (1977). Each is for one cause alone; small ones add.
 */

/** 10·log₁₀(e): from nepers of power to dB. */
const NEPER = 10 / Math.LN10

/**
 * Loss of different mode fields, dB: −20·log₁₀(2·w₁·w₂/(w₁² + w₂²)).
 * @param a, @param b mode field diameters (or radii) of both, in one unit, above 0
 * @throws CodedError for a size that is none
 */
export function mismatchLoss(a: number, b: number): number {
  positive(a, 'mode field')
  positive(b, 'mode field')
  // Never below zero, which is what equal fields are within rounding.
  return Math.max(0, -20 * Math.log10((2 * a * b) / (a ** 2 + b ** 2)))
}

/**
 * Loss of axes that lie beside each other, dB: 4.343·(d/w)².
 * @param offset between the axes, @param radius of the mode field, in one unit
 */
export function offsetLoss(offset: number, radius: number): number {
  positive(radius, 'mode field radius')
  return NEPER * (offset / radius) ** 2
}

/**
 * Loss of axes that stand at an angle, dB: 4.343·(π·n·w·θ/λ)².
 * @param degrees between the axes
 * @param radius of the mode field, @param wavelength in vacuum, in one unit
 * @param index of the glass
 */
export function tiltLoss(degrees: number, radius: number, wavelength: number, index = 1.468): number {
  positive(wavelength, 'wavelength')
  const theta = (degrees * Math.PI) / 180
  return NEPER * ((Math.PI * index * radius * theta) / wavelength) ** 2
}

function positive(value: number, what: string): void {
  if (!(value > 0)) throw new CodedError('out-of-range', `the ${what} is ${value}, not above 0`)
}

/**
 * What a one-way trace adds to the loss of a splice of different mode fields, dB: the backscatter of the second fiber
 * differs by 20·log₁₀(w₁/w₂), seen with half of it. From the larger field into the smaller one the step looks smaller, or
 * like a gain, and the other way it looks larger; the mean of both ways is free of it (common practice; the captured part
 * of the backscatter goes with 1/w²).
 * @param from mode field that the light comes from, @param into the one it goes into, in one unit
 */
export function oneWayBias(from: number, into: number): number {
  positive(from, 'mode field')
  positive(into, 'mode field')
  return 10 * Math.log10(into / from)
}
