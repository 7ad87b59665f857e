import { reflectanceFromPeak, typicalFiber } from '../../fiber/backscatter.ts'
import type { TraceEvent } from './events.ts'
import { powerFromDisplayLevel } from '../../units/decibel.ts'
import { meanSigma, type Noise } from '../noise/noise.ts'
import type { Peak } from './peaks.ts'
import { pulseLengthOf, type Trace } from '../trace.ts'

/** Backscatter coefficient of the file, or a typical one for its wavelength. */
export function backscatterOf(trace: Trace): number {
  return trace.backscatter ?? typicalFiber(trace.wavelength).backscatter
}

/** Reflectance of a peak from its height; of a saturated one a bound: it is at least so strong. */
export function reflectanceOf(
  trace: Trace,
  peak: Peak,
  noise: Noise,
): Pick<TraceEvent, 'reflectance' | 'reflectanceSigma' | 'saturated' | 'bound'> {
  if (peak.inNoise) return { reflectance: null, reflectanceSigma: null, saturated: false }
  const height = Math.max(peak.height, 1e-3)
  const reflectance = reflectanceFromPeak(backscatterOf(trace), height, trace.pulseWidth)
  if (peak.saturated) return { reflectance, reflectanceSigma: null, saturated: true, bound: { reflectance: 'min' } }
  // dR/dH of the relation, times the uncertainty of a plateau over half a pulse against the line before.
  const points = Math.max(1, pulseLengthOf(trace) / trace.spacing / 4)
  const heightSigma = Math.SQRT2 * meanSigma(noise, peak.start - 1, points)
  const ratio = powerFromDisplayLevel(height)
  return { reflectance, reflectanceSigma: (2 * ratio * heightSigma) / (ratio - 1), saturated: false }
}

/**
 * The weakest reflectance that a trace would show at a point, dB.
 * @param loss dB lost at the same place: the fall hides part of a peak over a long pulse
 */
export function faintestReflectance(trace: Trace, noise: Noise, index: number, loss: number): number {
  const points = Math.max(1, pulseLengthOf(trace) / trace.spacing / 2)
  const least = Math.max(0.05, 0.4 * loss, 7 * Math.SQRT2 * meanSigma(noise, index, points))
  return reflectanceFromPeak(backscatterOf(trace), least, trace.pulseWidth)
}
