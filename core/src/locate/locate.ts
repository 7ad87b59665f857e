import { contradictions } from '../plant/check.ts'
import { buildThread, type ThreadNode } from '../plant/thread.ts'
import type { PlantBundle } from '../plant/types.ts'
import { calibrate, groundOf, type Calibration } from './records/calibrate.ts'
import {
  candidateReadOut,
  candidatesOf,
  candidatesWithoutBaseline,
  pairShots,
  type Candidate,
  type Pairing,
} from './posterior/candidates.ts'
import { matchBothWays, type BothWays } from './shots/bothWays.ts'
import { rankCauses, whyNotTold, type FaultSigns, type RankedCause } from './posterior/causes.ts'
import { evidenceInWords, likelihoodOf, type Evidence, type EvidencePlace } from './posterior/evidence.ts'
import { byWavelength, lossesOf, quietLosses } from './posterior/faultLosses.ts'
import { fuse, type FusedFault } from './posterior/fuse.ts'
import { withLaunchEnds } from './shots/launchEnds.ts'
import { withCommonEnds, withStartsByBaseline } from './shots/launchFound.ts'
import { rankNextTests, type NextTest } from './advice/nextTests.ts'
import { layPosterior, summarize, weigh, type Place, type Posterior } from './posterior/posterior.ts'
import type { FaultNature } from './posterior/suspicionRules.ts'
import { withDirectionsRight } from './shots/mirrored.ts'
import { withoutOtherFibers } from './shots/otherFibers.ts'
import { withoutOutdated } from './shots/outdatedBaselines.ts'
import { warnMoved } from './records/warnMoved.ts'
import { withoutPassedBreaks } from './shots/passedBreaks.ts'
import type { LocateWarning, Shot } from './shots/shot.ts'
import { warnAboutShots } from './shots/shotWarnings.ts'
import { withoutUnusable } from './shots/unusable.ts'
import { withNominalWavelengths } from './shots/wavelengths.ts'
import { pulseLengthOf } from '../trace/trace.ts'

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
  causes: RankedCause[]
  /** Why its kind can't be told, and the test that would tell it; null where it is. */
  untold: string | null
  nextTests: NextTest[]
  /** Added loss by wavelength, dB, mean of both directions where both were shot; null where it can't be measured. */
  loss: Record<string, number | null>
  /** Its standard uncertainty, dB, with what instruments agree on. */
  lossSigma: Record<string, number | null>
  /** m of fiber from each end, cords taken off; null where not shot */
  opticalDistance: { ab: number | null; ba: number | null }
  /** Its standard deviation by what was measured from that end alone, m. */
  opticalSigma: { ab: number | null; ba: number | null }
  /** m of fiber from the link's `from`, by the records; its standard deviation, null when no instrument measured it. */
  fiber: number
  fiberSigma: number | null
  posterior: Posterior
}

/** An echo that a trace shows: no fault. */
export interface GhostFound {
  trace: string
  /** m on the trace's own scale */
  distance: number
  echoOf: string[]
}

export interface CableCalibration {
  cable: string
  /** Fiber length per ground length, coils not counted. */
  factor: number
  factorSigma: number
}

export interface LocateResult {
  faults: Fault[]
  ghosts: GhostFound[]
  calibration: CableCalibration[]
  warnings: LocateWarning[]
  /** Traces of both ends together, by survey and wavelength. */
  bothWays: BothWays[]
  /** The present shots that were used, in the order given, with directions put right. */
  present: Shot[]
  /** For drawing: what was compared and how the records were corrected. */
  pairings: Pairing[]
  calibrated: Calibration
}

export interface LocateInput {
  plant: PlantBundle
  linkId: string
  baseline: readonly Shot[]
  present: readonly Shot[]
  /** What people saw, heard and read out. */
  evidence?: readonly Evidence[]
}

/** Evidence that fits worse than this contradicts what is known: it is said aloud and left out. */
const CONTRADICTS = 0.05
/** Evidence that fits worse than this is unexpected: it counts, and it is said. */
const UNEXPECTED = 0.2

/**
 * Places the faults of a link on the ground: the records are corrected by the baseline's events at known nodes, each
 * present trace is compared with its baseline, what several shots and people's evidence show is combined into one
 * probability along the thread, and its causes and the next tests are ranked.
 * @throws CodedError for an unknown link
 */
export function locateFaults(given: LocateInput): LocateResult {
  const { plant, linkId } = given
  const warnings: LocateWarning[] = contradictions(plant, linkId).map((message) => ({ code: 'records-apart', message }))
  const usable = withoutUnusable(given.baseline, given.present, warnings)
  const [before, now] = withNominalWavelengths(usable.baseline, usable.present)
  const threads = { ab: buildThread(plant, linkId, 'ab'), ba: buildThread(plant, linkId, 'ba') }
  const baseline = withCommonEnds(withLaunchEnds(before), threads, withLaunchEnds(now))
  const directed = withDirectionsRight(threads, baseline, withLaunchEnds(now), warnings)
  const placed = withStartsByBaseline(directed, baseline, threads)
  const present = withoutOtherFibers(threads, baseline, placed, warnings)
  const input = { ...given, present, baseline: withoutOutdated(threads, baseline, present, warnings) }
  const evidence = input.evidence ?? []
  const learnFrom = input.baseline.length > 0 ? input.baseline : input.present
  const calibrated = calibrate(input.plant, input.linkId, learnFrom)
  const { pairings, alone } = pairShots(calibrated, input.baseline, input.present, warnings)
  pairings.forEach((pairing) => warnMoved(calibrated, pairing, warnings))
  const compared = pairings.flatMap((pairing) => candidatesOf(calibrated, pairing))
  const candidates: Candidate[] = [
    ...withoutPassedBreaks(calibrated, pairings, compared, warnings),
    ...alone.flatMap((shot) => candidatesWithoutBaseline(calibrated, shot)),
    ...evidence.flatMap((item) => (item.kind === 'distance' ? [candidateReadOut(calibrated, item)] : [])),
  ]
  const faults = fusedFaults(input, calibrated, candidates, evidence, warnings).map((fault) =>
    onTheGround(input, calibrated, pairings, fault, evidence, warnings),
  )
  warnAboutLengths(calibrated, candidates, warnings)
  warnAboutShots(present, calibrated, pairings, warnings)
  const bothWays = [input.baseline, input.present].flatMap((shots) => pairEnds(calibrated, shots))
  warnAboutDisagreement(bothWays, warnings)
  return {
    faults,
    ghosts: ghostsIn(input.present),
    calibration: cableFactors(calibrated),
    warnings,
    bothWays,
    present,
    pairings,
    calibrated,
  }
}

/** A fault as instruments measured it, or one that only people's evidence tells of. */
type MeasuredFault = Omit<FusedFault, 'fiber' | 'sigma'> & { measured: { fiber: number; sigma: number } | null }

function fusedFaults(
  input: LocateInput,
  calibrated: Calibration,
  candidates: readonly Candidate[],
  evidence: readonly Evidence[],
  warnings: LocateWarning[],
): MeasuredFault[] {
  const fused = fuse(calibrated, candidates)
  const seen = fused.filter((fault) => fault.candidates.some((candidate) => !candidate.readOut))
  const readOutOnly = fused.filter((fault) => !seen.includes(fault))
  if (seen.length > 0)
    for (const fault of readOutOnly)
      warnings.push({
        code: 'evidence-conflict',
        message: `the distance that was read out puts a fault ${fault.fiber.toFixed(0)} m of fiber from the near end, where the traces show none: it is left out; ask for the index setting, the cord and the end again`,
      })
  const kept = seen.length > 0 ? seen : readOutOnly
  const measured = kept.map(({ candidates: own, fiber, sigma }) => ({ candidates: own, measured: { fiber, sigma } }))
  const placed = evidence.some(
    (item) =>
      item.kind === 'light' ||
      item.kind === 'power' ||
      item.kind === 'report' ||
      (item.kind === 'neighbours' && item.traced),
  )
  return measured.length === 0 && placed && input.present.length === 0 ? [{ candidates: [], measured: null }] : measured
}

function onTheGround(
  input: LocateInput,
  calibrated: Calibration,
  pairings: readonly Pairing[],
  fault: MeasuredFault,
  evidence: readonly Evidence[],
  warnings: LocateWarning[],
): Fault {
  const thread = calibrated.threads.ab
  const { candidates, measured } = fault
  const breaks = candidates.length === 0 || candidates.some((candidate) => candidate.breaks)
  const reflects = candidates.some((candidate) => candidate.reflects)
  const nature: FaultNature = breaks ? 'break' : reflects ? 'reflection' : 'loss'
  const losses = breaks
    ? lossesOf(candidates, [])
    : lossesOf(candidates, quietLosses(calibrated, pairings, candidates, measured))
  const loss = byWavelength(candidates, losses, 'loss')
  const lossSigma = byWavelength(candidates, losses, 'sigma')
  const posterior = withEvidence(
    calibrated,
    layPosterior(thread, measured, nature),
    evidence,
    { breaks, loss: losses.length > 0 ? losses[0]!.loss : null, isPlaced: measured !== null },
    warnings,
  )
  const { chainage, interval95, places, piece, fiber } = summarize(posterior)
  const signs: FaultSigns = {
    breaks,
    reflects,
    reflectance: strongest(candidates),
    losses,
    extent: Math.max(0, ...candidates.map((candidate) => candidate.extent)),
    posterior,
    evidence,
  }
  const causes = rankCauses(signs)
  const { features } = calibrated
  const nearest = nearestNode(thread.nodes, chainage)
  const link = input.plant.links.find((candidate) => candidate.id === input.linkId)!
  return {
    routeId: thread.cables.get(piece.cable)!.routeId,
    chainage,
    interval95,
    cable: piece.cable,
    betweenNodes: neighbours(thread.nodes, fiber),
    nearest: { node: nearest.id, offset: chainage - nearest.chainage },
    places,
    goodEnoughToDig:
      measured !== null &&
      features.some((feature) => feature.fiber < measured.fiber) &&
      features.some((feature) => feature.fiber > measured.fiber),
    breaks,
    reflects,
    causes,
    untold: whyNotTold(signs, causes),
    nextTests: rankNextTests({
      linkState: link.state,
      nodes: thread.nodes,
      groundLength: thread.groundLength,
      breaks,
      posterior,
      causes,
      sigma: measured?.sigma ?? thread.fiberLength / 4,
      measuringSigma:
        candidates.length > 0 ? 1 / Math.sqrt(candidates.reduce((sum, c) => sum + 1 / c.sigma ** 2, 0)) : 0,
      shot: input.present.map(({ direction, analysis }) => ({
        direction,
        wavelength: analysis.trace.wavelength,
        pulseLength: pulseLengthOf(analysis.trace),
      })),
      evidence,
    }),
    loss,
    lossSigma,
    opticalDistance: { ab: meanMeasured(candidates, 'ab'), ba: meanMeasured(candidates, 'ba') },
    opticalSigma: { ab: measuredSigma(candidates, 'ab'), ba: measuredSigma(candidates, 'ba') },
    fiber: measured?.fiber ?? fiber,
    fiberSigma: measured?.sigma ?? null,
    posterior,
  }
}

/** Weighs all evidence of places in; what contradicts the rest is said aloud, never averaged in. */
function withEvidence(
  calibrated: Calibration,
  start: Posterior,
  evidence: readonly Evidence[],
  fault: { breaks: boolean; loss: number | null; isPlaced: boolean },
  warnings: LocateWarning[],
): Posterior {
  const thread = calibrated.threads.ab
  const nameOf = (place: EvidencePlace) =>
    'node' in place
      ? (thread.nodes.find((node) => node.id === place.node)?.name ?? place.node)
      : `${place.chainage.toFixed(0)} m`
  let posterior = start
  let isPlaced = fault.isPlaced
  for (const item of evidence) {
    const likelihood = likelihoodOf(item, { ...fault, groundOf: (place) => groundOf(thread, place) })
    if (!likelihood) continue
    const weighed = weigh(posterior, likelihood)
    // Where nothing else tells the place there is nothing that it could contradict.
    if (!isPlaced) {
      posterior = weighed.posterior
      isPlaced = true
      continue
    }
    if (weighed.fit < UNEXPECTED)
      warnings.push({
        code: weighed.fit < CONTRADICTS ? 'evidence-conflict' : 'evidence-unexpected',
        message: `${evidenceInWords(item, nameOf)}: this ${weighed.fit < CONTRADICTS ? 'contradicts the rest and is left out' : 'is unlikely by the rest'}; check it`,
      })
    if (weighed.fit >= CONTRADICTS) posterior = weighed.posterior
  }
  return posterior
}

/** The strongest reflectance of a broken fiber's end, dB: a trace may not show what another does. */
function strongest(candidates: readonly Candidate[]): number | null {
  const shown = candidates.flatMap(({ breaks, reflectance }) => (breaks && reflectance !== null ? [reflectance] : []))
  return shown.length > 0 ? Math.max(...shown) : null
}

function ghostsIn(shots: readonly Shot[]): GhostFound[] {
  return shots.flatMap((shot) =>
    shot.analysis.events
      .filter((event) => event.kind === 'ghost')
      .map((event) => ({ trace: shot.name, distance: event.distance, echoOf: event.echoOf ?? [] })),
  )
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

function meanMeasured(candidates: readonly Candidate[], direction: 'ab' | 'ba'): number | null {
  const shot = candidates.filter((candidate) => candidate.direction === direction)
  return shot.length > 0 ? shot.reduce((sum, c) => sum + c.measured, 0) / shot.length : null
}

/** Of one end's shots: what is off in one of them is in part off in all, so that they are no surer than the surest. */
function measuredSigma(candidates: readonly Candidate[], direction: 'ab' | 'ba'): number | null {
  const shot = candidates.filter((candidate) => candidate.direction === direction)
  return shot.length > 0 ? Math.min(...shot.map(({ sigma }) => sigma)) : null
}

function pairEnds(calibrated: Calibration, shots: readonly Shot[]): BothWays[] {
  const wavelengthOf = (shot: Shot) => shot.analysis.trace.wavelength
  return shots
    .filter((shot) => shot.direction === 'ab')
    .flatMap((ab) => {
      const ba = shots.find((shot) => shot.direction === 'ba' && wavelengthOf(shot) === wavelengthOf(ab))
      return ba ? [matchBothWays(calibrated, ab, ba)] : []
    })
}

/** Clocks of instruments agree to a few millionths; an index is set to four decimals. */
const LENGTHS_DIFFER = 1e-4

/** Delays between two events are the fiber's own: traces that disagree on them carry a wrong index, or a clock is off. */
function warnAboutDisagreement(bothWays: readonly BothWays[], warnings: LocateWarning[]): void {
  for (const { ab, ba, disagreement } of bothWays) {
    if (!disagreement || Math.abs(disagreement.value) < Math.max(LENGTHS_DIFFER, 4 * disagreement.sigma)) continue
    warnings.push({
      code: 'lengths-disagree',
      message: `${ab.name} and ${ba.name} disagree on the length between the same events by ${(100 * Math.abs(disagreement.value)).toFixed(2)} %: the group index in one of the files is not the one it was measured with, or a clock is off`,
    })
  }
}

/** For one clean break the lengths seen from both ends add up to the link's. */
function warnAboutLengths(calibrated: Calibration, candidates: readonly Candidate[], warnings: LocateWarning[]): void {
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
