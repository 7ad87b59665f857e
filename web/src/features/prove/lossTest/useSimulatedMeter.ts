import type { Callout } from '@cold-thread/contract'
import type { Direction, Link, PlantBundle } from '@cold-thread/core/plant'
import { pairsHeld, TYPICAL_PAIR, type LoggedReference, type ReferenceMethod } from '@cold-thread/core/prove'
import { seedFrom } from '@cold-thread/core/math'
import { standInLoss } from '@cold-thread/core/sim'
import { useState } from 'react'
import { StandInLossSet, type LossSetFault } from '../../../devices/powerMeter.ts'

/** The simulated source and meter of a practice callout; null on a real one. */
export type StandInMeterProps = {
  set: StandInLossSet
  fault: LossSetFault
  setFault(fault: LossSetFault): void
  /** Between source and meter while the reference is set, dB. */
  held(method: ReferenceMethod): number
  /** Of a link with its cords, dB. */
  lossOf(link: Link, reference: LoggedReference, way: Direction): number
} | null

export function useSimulatedMeter(callout: Callout, plant: PlantBundle): StandInMeterProps {
  const [set] = useState(() => new StandInLossSet(seedFrom(callout.id, 'meter')))
  const [fault, setFault] = useState<LossSetFault>('in order')
  if (!callout.simulated) return null
  return {
    set,
    fault,
    setFault(next) {
      set.fault = next
      setFault(next)
    },
    held: (method) => pairsHeld(method) * TYPICAL_PAIR.loss,
    lossOf: (link, { wavelength }, way) =>
      standInLoss(plant, link.id, wavelength, seedFrom(callout.id, link.id, wavelength)) +
      // From the other end connectors read a little differently.
      (way === 'ba' ? 0.03 : 0),
  }
}
