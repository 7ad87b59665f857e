import { reflectanceFromPeak, typicalFiber } from '../fiber/backscatter.ts'
import type { TraceEvent } from './events.ts'
import type { Peak } from './peaks.ts'
import type { Trace } from './trace.ts'

/** Backscatter coefficient of the file, or a typical one for its wavelength. */
export function backscatterOf(trace: Trace): number {
  return trace.backscatter ?? typicalFiber(trace.wavelength).backscatter
}

/** Reflectance of a peak from its height; of a saturated one a bound: it is at least so strong. */
export function reflectanceOf(trace: Trace, peak: Peak): Pick<TraceEvent, 'reflectance' | 'saturated' | 'bound'> {
  if (peak.inNoise) return { reflectance: null, saturated: false }
  const reflectance = reflectanceFromPeak(backscatterOf(trace), Math.max(peak.height, 1e-3), trace.pulseWidth)
  if (!peak.saturated) return { reflectance, saturated: false }
  return { reflectance, saturated: true, bound: { reflectance: 'min' } }
}
