import type { CableCalibration, LocateResult } from '../locate/locate.ts'
import type { Place } from '../locate/ground.ts'
import type { LocateWarning } from '../locate/shot.ts'

export type Cause =
  'break' | 'crush' | 'pull' | 'macrobend' | 'water' | 'bad-splice' | 'connector' | 'wrong-patch' | 'aging'

export interface FaultDocument {
  chainage: number
  interval95: [number, number]
  cable: string
  betweenNodes: [string, string]
  nearest: { node: string; offset: number }
  places: Place[]
  goodEnoughToDig: boolean
  /** Ranking of causes is not part of this version: always empty. */
  causes: { cause: Cause; probability: number; because: string[] }[]
  loss: Record<string, number | null>
  opticalDistance: { ab: number | null; ba: number | null }
}

/** What `locate` prints: m on the ground and of fiber, dB. */
export interface LocateDocument {
  faults: FaultDocument[]
  ghosts: never[]
  nextTests: never[]
  calibration: CableCalibration[]
  warnings: LocateWarning[]
}

export function locateDocument(result: LocateResult): LocateDocument {
  return {
    faults: result.faults.map((fault) => ({
      chainage: fault.chainage,
      interval95: fault.interval95,
      cable: fault.cable,
      betweenNodes: fault.betweenNodes,
      nearest: fault.nearest,
      places: fault.places,
      goodEnoughToDig: fault.goodEnoughToDig,
      causes: [],
      loss: fault.loss,
      opticalDistance: fault.opticalDistance,
    })),
    ghosts: [],
    nextTests: [],
    calibration: result.calibration,
    warnings: result.warnings,
  }
}
