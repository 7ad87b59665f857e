import { powerFromDisplayLevel } from '../units/decibel.ts'
import { sigmaAt } from './noise.ts'
import type { Step } from './steps.ts'
import type { Working } from './working.ts'

/**
 * Start of a step's edge, to a fraction of a point: the light in a zone around the step, between the level before and
 * the level after, says where the middle of the transition is; its start is half a pulse earlier. The sum does not
 * depend on the pulse's shape.
 * @param left,right the step's own stretch: neighbouring events lie outside
 */
export function edgeOfStep(
  levels: Float64Array,
  working: Working,
  step: Step,
  left: number,
  right: number,
): { start: number; sigma: number } {
  const { pulsePoints, slope, noise, sums } = working
  let start = step.index + 1
  let sigma = pulsePoints / 2 + 1
  for (let round = 0; round < 3; round++) {
    const reach = Math.ceil(Math.max(1.2 * pulsePoints + 2, 2 * sigma))
    const z0 = Math.max(left, Math.floor(start - reach))
    const z1 = Math.min(right, Math.ceil(start + pulsePoints + reach))
    const w = Math.max(8, 4 * reach)
    const before = Math.max(left, z0 - w)
    const after = Math.min(right, z1 + w)
    if (z0 - before < 3 || after - z1 < 3 || z1 - z0 < 2) break
    const base = (x: number) => sums.mean(before, z0) + slope * (x - sums.center(before, z0))
    const rise = sums.mean(z1, after) - base(sums.center(z1, after))
    const ratio = powerFromDisplayLevel(rise)
    if (Math.abs(ratio - 1) < 1e-4) break
    let moved = 0
    for (let i = z0; i < z1; i++) moved += powerFromDisplayLevel(levels[i]! - base(i)) - 1
    const middle = z1 - 0.5 - moved / (ratio - 1)
    start = Math.min(right, Math.max(left, middle - pulsePoints / 2))
    const pointSigma = sigmaAt(noise, start) * Math.sqrt(Math.min(noise.correlation, z1 - z0) * (z1 - z0))
    sigma = Math.min(right - left, 0.3 + pointSigma / Math.max(Math.abs(rise), 1e-3))
  }
  return { start, sigma }
}
