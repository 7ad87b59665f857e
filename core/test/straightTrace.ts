import { seededRandom } from '../src/math/random.ts'
import { UNNAMED, type Trace } from '../src/trace/index.ts'

/** A trace drawn from a formula, not from the simulator: the analyser must not depend on the simulator's habits. */
export interface Drawn {
  points?: number
  spacing?: number
  pulseWidth?: number
  /** dB/m */
  attenuation?: number
  /** dB, one standard deviation of white noise */
  noise?: number
  seed?: number
  /** Level changes at a distance over one pulse length; positive rises (a gain). */
  steps?: { at: number; rise: number }[]
  /** Fiber that attenuates more than the rest, dB/m. */
  stretches?: { from: number; to: number; extra: number }[]
  /** Rectangular reflections one pulse long. */
  peaks?: { at: number; height: number }[]
  /** The light ends here, in a noise floor at −30 dB. */
  end?: number
}

export function drawTrace(drawn: Drawn = {}): Trace {
  const {
    points = 12_000,
    spacing = 1,
    pulseWidth = 50e-9,
    attenuation = 0.2e-3,
    noise = 0.01,
    seed = 1,
    steps = [],
    peaks = [],
    stretches = [],
    end,
  } = drawn
  const random = seededRandom(seed)
  const length = (299_792_458 * pulseWidth) / (2 * 1.468)
  const levels = Float64Array.from({ length: points }, (_, i) => {
    const x = i * spacing
    if (end !== undefined && x >= end) return -30 + 2 * random.normal()
    let level = -5 - attenuation * x
    for (const { at, rise } of steps) level += rise * Math.min(1, Math.max(0, (x - at) / length))
    for (const { from, to, extra } of stretches) level -= extra * Math.min(to - from, Math.max(0, x - from))
    for (const { at, height } of peaks) if (x >= at && x < at + length) level += height
    return level + noise * random.normal()
  })
  return {
    levels,
    spacing,
    pulseWidth,
    firstDistance: 0,
    wavelength: 1550,
    groupIndex: 1.468,
    backscatter: -82,
    averages: 1,
    range: points * spacing,
    takenAt: '2026-01-01T00:00:00.000Z',
    ...UNNAMED,
  }
}
