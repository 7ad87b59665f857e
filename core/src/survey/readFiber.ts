import { calibrate } from '../locate/records/calibrate.ts'
import { candidatesOf, candidatesWithoutBaseline, pairShots } from '../locate/posterior/candidates.ts'
import { findLinkEnds } from '../locate/shots/linkEnds.ts'
import type { Shot } from '../locate/shots/shot.ts'
import type { Direction, PlantBundle } from '../plant/types.ts'
import { pulseLengthOf } from '../trace/trace.ts'

/** What got worse on one fiber, by one trace. */
export interface FiberChange {
  /** m of fiber from the link's end that was shot from, as measured. */
  measured: number
  /** Measuring uncertainty, one standard deviation, m. */
  sigma: number
  breaks: boolean
  /** dB; null for a break or where it can't be measured */
  loss: number | null
  lossSigma: number | null
  reflects: boolean
}

/** One trace of a cable survey in a few figures. */
export interface FiberReading {
  /** Number in the surveyed cable, from 1. */
  fiber: number
  direction: Direction
  wavelength: number
  /** Held against the fiber's own baseline; otherwise only its end and large steps can be judged. */
  compared: boolean
  /** m of fiber from the end that was shot from, as far as the trace shows light. */
  seenTo: number
  pulseLength: number
  changes: FiberChange[]
}

/**
 * Reads one fiber of a survey. All fibers of the cable are taken to run along the link's path.
 * @param baselines the fiber's own, if there are any
 * @throws CodedError for an unknown link; CompareError for a baseline of another fiber
 */
export function readFiber(
  plant: PlantBundle,
  linkId: string,
  fiber: number,
  present: Shot,
  baselines: readonly Shot[],
): FiberReading {
  const records = calibrate(plant, linkId, [])
  const { pairings, alone } = pairShots(records, baselines, [present], [])
  const candidates = [
    ...pairings.flatMap((pairing) => candidatesOf(records, pairing)),
    ...alone.flatMap((shot) => candidatesWithoutBaseline(records, shot)),
  ]
  const { trace, events, working } = present.analysis
  const ends = findLinkEnds(present, records.threads[present.direction])
  const last = events.at(-1)!
  const seen = last.kind === 'end' ? last.distance : trace.firstDistance + working.to * trace.spacing
  return {
    fiber,
    direction: present.direction,
    wavelength: trace.wavelength,
    compared: pairings.length > 0,
    seenTo: Math.max(0, Math.min(seen, ends.end?.distance ?? Infinity) - ends.start.distance),
    pulseLength: pulseLengthOf(trace),
    changes: candidates.map(({ measured, sigma, breaks, loss, lossSigma, reflects }) => ({
      measured,
      sigma,
      breaks,
      loss,
      lossSigma,
      reflects,
    })),
  }
}
