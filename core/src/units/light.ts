/** Speed of light in vacuum, m/s, exact [SI]. */
export const SPEED_OF_LIGHT = 299_792_458

/**
 * One-way distance along the fiber for a one-way delay.
 * @param delay one-way time, s
 * @param groupIndex group index of the fiber at the wavelength in use
 * @returns metres of fiber
 * Source: d = c·t/n; an OTDR halves its round-trip time first.
 */
export function distanceFromDelay(delay: number, groupIndex: number): number {
  return (SPEED_OF_LIGHT * delay) / groupIndex
}

/** One-way delay in seconds for `distance` metres of fiber of the given group index. */
export function delayFromDistance(distance: number, groupIndex: number): number {
  return (distance * groupIndex) / SPEED_OF_LIGHT
}

/**
 * Length of fiber that a pulse smears over on the display, one-way: c·W/(2n).
 * @param pulseWidth s
 * @returns metres; 10 ns is about 1.0 m at n = 1.468 (Derickson, Fiber Optic Test and Measurement)
 */
export function pulseLength(pulseWidth: number, groupIndex: number): number {
  return (SPEED_OF_LIGHT * pulseWidth) / (2 * groupIndex)
}
