import type { CableCalibration, GhostFound, LocateResult } from '../locate/locate.ts'
import type { NextTest } from '../locate/advice/nextTests.ts'
import type { Place } from '../locate/posterior/posterior.ts'
import type { Cause } from '../locate/posterior/suspicionRules.ts'
import type { LocateWarning } from '../locate/shots/shot.ts'

export interface FaultDocument {
  chainage: number
  interval95: [number, number]
  cable: string
  betweenNodes: [string, string]
  nearest: { node: string; offset: number }
  places: Place[]
  goodEnoughToDig: boolean
  /** `cannot-tell` first where the kind can't be told, with the test that would. */
  causes: { cause: Cause | 'cannot-tell'; probability: number; because: string[] }[]
  loss: Record<string, number | null>
  opticalDistance: { ab: number | null; ba: number | null }
}

export type NextTestDocument = Omit<NextTest, 'kind'>

/** What `locate` prints: m on the ground and of fiber, dB. */
export interface LocateDocument {
  faults: FaultDocument[]
  ghosts: GhostFound[]
  nextTests: NextTestDocument[]
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
      causes: [
        ...(fault.untold === null ? [] : [{ cause: 'cannot-tell' as const, probability: 1, because: [fault.untold] }]),
        ...fault.causes.map(({ cause, probability, because }) => ({ cause, probability, because })),
      ],
      loss: fault.loss,
      opticalDistance: fault.opticalDistance,
    })),
    ghosts: result.ghosts,
    nextTests: result.faults.flatMap((fault) => fault.nextTests.map(({ kind: _kind, ...test }) => test)),
    calibration: result.calibration,
    warnings: result.warnings,
  }
}
