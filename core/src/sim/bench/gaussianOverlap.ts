/** Points of the integral along one axis, and how many field radii it reaches. */
const POINTS = 201
const REACH = 6

/**
 * Loss between two Gaussian fields, dB, by the overlap integral itself, summed numerically: fields of radius `a` and `b`,
 * axes `offset` apart along x and at `tilt` degrees in the same plane. Lengths in one unit.
 */
export function gaussianOverlapLoss(
  a: number,
  b: number,
  offset: number,
  tilt: number,
  wavelength: number,
  index = 1.468,
): number {
  const phase = (2 * Math.PI * index * Math.sin((tilt * Math.PI) / 180)) / wavelength
  const reach = REACH * Math.max(a, b)
  const step = (2 * reach) / (POINTS - 1)
  let [real, imaginary, across] = [0, 0, 0]
  for (let i = 0; i < POINTS; i++) {
    const x = -reach + i * step
    const here = Math.exp(-((x / a) ** 2) - ((x - offset) / b) ** 2)
    real += here * Math.cos(phase * x)
    imaginary += here * Math.sin(phase * x)
    across += Math.exp(-((x / a) ** 2) - (x / b) ** 2)
  }
  // Each field carries the power ∫exp(−2x²/a²)dx = a·√(π/2) along one axis.
  const along = (Math.hypot(real, imaginary) * step) ** 2 / ((a * b * Math.PI) / 2)
  const aside = (across * step) ** 2 / ((a * b * Math.PI) / 2)
  return -10 * Math.log10(along * aside)
}
