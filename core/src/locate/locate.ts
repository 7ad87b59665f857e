import type { ThreadNode } from '../plant/thread.ts'
import type { PlantBundle } from '../plant/types.ts'
import { calibrate, type Calibration } from './calibrate.ts'
import { candidatesOf, candidatesWithoutBaseline, pairShots, type Candidate, type Pairing } from './candidates.ts'
import { fuse, type FusedFault } from './fuse.ts'
import { groundPosterior, type FaultNature, type Place } from './ground.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** A fault on the ground. */
export interface Fault {
  routeId: string
  chainage: number
  interval95: [number, number]
  cable: string
  betweenNodes: [string, string]
  nearest: { node: string; offset: number }
  places: Place[]
  /** A calibrated feature stands on each side of the place. */
  goodEnoughToDig: boolean
  breaks: boolean
  reflects: boolean
  /** Added loss by wavelength, dB, mean of both directions where both were shot; null where it can't be measured. */
  loss: Record<string, number | null>
  /** m of fiber from each end, cords taken off; null where not shot */
  opticalDistance: { ab: number | null; ba: number | null }
  /** m of fiber from the link's `from`, by the records. */
  fiber: number
  fiberSigma: number
}

export interface CableCalibration {
  cable: string
  /** Fiber length per ground length, coils not counted. */
  factor: number
  factorSigma: number
}

export interface LocateResult {
  faults: Fault[]
  calibration: CableCalibration[]
  warnings: LocateWarning[]
  /** For drawing: what was compared and how the records were corrected. */
  pairings: Pairing[]
  calibrated: Calibration
}

export interface LocateInput {
  plant: PlantBundle
  linkId: string
  baseline: readonly Shot[]
  present: readonly Shot[]
}

/**
 * Places the faults of a link on the ground: the records are corrected by the baseline's events at known nodes, each
 * present trace is compared with its baseline, and what several shots show is combined into one place with its interval.
 * @throws RangeError for an unknown link; CompareError when traces are not of one fiber and wavelength
 */
export function locateFaults(input: LocateInput): LocateResult {
  const warnings: LocateWarning[] = []
  const learnFrom = input.baseline.length > 0 ? input.baseline : input.present
  const calibrated = calibrate(input.plant, input.linkId, learnFrom)
  const { pairings, alone } = pairShots(calibrated, input.baseline, input.present, warnings)
  const candidates: Candidate[] = [
    ...pairings.flatMap((pairing) => candidatesOf(calibrated, pairing)),
    ...alone.flatMap((shot) => candidatesWithoutBaseline(calibrated, shot)),
  ]
  const faults = fuse(calibrated, candidates).map((fault) => onTheGround(calibrated, fault))
  warnAboutLengths(input, calibrated, candidates, warnings)
  for (const shot of input.present)
    for (const { code, message } of shot.analysis.warnings) warnings.push({ code, message: `${shot.name}: ${message}` })
  return { faults, calibration: cableFactors(calibrated), warnings, pairings, calibrated }
}

function onTheGround(calibrated: Calibration, fault: FusedFault): Fault {
  const thread = calibrated.threads.ab
  const breaks = fault.candidates.some((candidate) => candidate.breaks)
  const reflects = fault.candidates.some((candidate) => candidate.reflects)
  const nature: FaultNature = breaks ? 'break' : reflects ? 'reflection' : 'loss'
  const { chainage, interval95, places, piece } = groundPosterior(thread, fault.fiber, fault.sigma, nature)
  const { features } = calibrated
  const nearest = nearestNode(thread.nodes, chainage)
  return {
    routeId: thread.cables.get(piece.cable)!.routeId,
    chainage,
    interval95,
    cable: piece.cable,
    betweenNodes: neighbours(thread.nodes, fault.fiber),
    nearest: { node: nearest.id, offset: chainage - nearest.chainage },
    places,
    goodEnoughToDig:
      features.some((feature) => feature.fiber < fault.fiber) &&
      features.some((feature) => feature.fiber > fault.fiber),
    breaks,
    reflects,
    loss: lossByWavelength(fault.candidates),
    opticalDistance: { ab: meanMeasured(fault.candidates, 'ab'), ba: meanMeasured(fault.candidates, 'ba') },
    fiber: fault.fiber,
    fiberSigma: fault.sigma,
  }
}

function nearestNode(nodes: readonly ThreadNode[], chainage: number): ThreadNode {
  return nodes.reduce((best, node) =>
    Math.abs(node.chainage - chainage) < Math.abs(best.chainage - chainage) ? node : best,
  )
}

function neighbours(nodes: readonly ThreadNode[], fiber: number): [string, string] {
  const after = nodes.findIndex((node) => node.fiber >= fiber)
  const at = after <= 0 ? (after === 0 ? 1 : nodes.length - 1) : after
  return [nodes[at - 1]!.id, nodes[at]!.id]
}

function lossByWavelength(candidates: readonly Candidate[]): Record<string, number | null> {
  const out: Record<string, number | null> = {}
  for (const wavelength of new Set(candidates.map((candidate) => candidate.wavelength))) {
    const measured = candidates.filter((c) => c.wavelength === wavelength && c.loss !== null && !c.breaks)
    out[String(wavelength)] =
      measured.length > 0 ? measured.reduce((sum, c) => sum + c.loss!, 0) / measured.length : null
  }
  return out
}

function meanMeasured(candidates: readonly Candidate[], direction: 'ab' | 'ba'): number | null {
  const shot = candidates.filter((candidate) => candidate.direction === direction)
  return shot.length > 0 ? shot.reduce((sum, c) => sum + c.measured, 0) / shot.length : null
}

/** For one clean break the lengths seen from both ends add up to the link's. */
function warnAboutLengths(
  input: LocateInput,
  calibrated: Calibration,
  candidates: readonly Candidate[],
  warnings: LocateWarning[],
): void {
  const ab = meanMeasured(
    candidates.filter((c) => c.breaks),
    'ab',
  )
  const ba = meanMeasured(
    candidates.filter((c) => c.breaks),
    'ba',
  )
  if (ab === null || ba === null) return
  const { threads, whole, errors } = calibrated
  const length = threads.ab.fiberLength + whole.reduce((sum, value, i) => sum + value * errors.mean[i]!, 0)
  const excess = ab + ba - length
  const pulse = Math.max(...candidates.map((candidate) => candidate.pulseLength))
  if (Math.abs(excess) <= 3 + pulse / 2) return
  warnings.push(
    excess < 0
      ? {
          code: 'length-missing',
          message: `the lengths seen from both ends are ${(-excess).toFixed(1)} m short of the link: fiber is missing or it is broken twice`,
        }
      : {
          code: 'length-excess',
          message: `the lengths seen from both ends exceed the link by ${excess.toFixed(1)} m: check index, cords, fiber and record`,
        },
  )
}

/** Factors of the cables as the traces show them, where a feature stands on each side. */
function cableFactors(calibrated: Calibration): CableCalibration[] {
  const { errors, threads, features } = calibrated
  return errors.parameters.flatMap((parameter, i): CableCalibration[] => {
    if (!parameter.key.startsWith('factor ')) return []
    const cable = threads.ab.cables.get(parameter.key.slice('factor '.length))!
    const runs = threads.ab.pieces.filter((piece) => piece.kind === 'run' && piece.cable === cable.id)
    const middle = (runs[0]!.fiberFrom + runs.at(-1)!.fiberTo) / 2
    const flanked = features.some((f) => f.fiber < middle) && features.some((f) => f.fiber > middle)
    if (!flanked) return []
    const factor = cable.sheathFactor * cable.helixFactor
    return [
      {
        cable: cable.id,
        factor: factor * (1 + errors.mean[i]!),
        factorSigma: factor * Math.sqrt(errors.covariance.get(i, i)),
      },
    ]
  })
}
