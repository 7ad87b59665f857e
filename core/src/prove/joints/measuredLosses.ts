import type { Shot } from '../../locate/shots/shot.ts'
import { withNominalWavelengths } from '../../locate/shots/wavelengths.ts'
import type { PlantBundle } from '../../plant/types.ts'
import { twoWayLoss, type OneWayLoss } from '../../trace/twoWay.ts'
import { linkLoss } from './linkLoss.ts'
import { calibrateFor, survey } from './sites.ts'

/** End-to-end loss of a link by wavelength in nm, dB, mean of both directions where both were shot. */
export function measuredLosses(plant: PlantBundle, linkId: string, given: readonly Shot[]): Record<string, OneWayLoss> {
  const [shots] = withNominalWavelengths(given)
  if (shots.length === 0) return {}
  const surveys = survey(shots, calibrateFor(plant, linkId, shots, []))
  const out: Record<string, OneWayLoss> = {}
  for (const wavelength of new Set(shots.map(({ analysis }) => analysis.trace.wavelength))) {
    const from = (direction: 'ab' | 'ba') => {
      const one = surveys.find(
        ({ shot }) => shot.direction === direction && shot.analysis.trace.wavelength === wavelength,
      )
      return one ? linkLoss(one) : null
    }
    const both = twoWayLoss(from('ab'), from('ba'))
    if (both) out[String(wavelength)] = { loss: both.loss, sigma: both.sigma }
  }
  return out
}
