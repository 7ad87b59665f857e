import type { Direction } from '../../plant/types.ts'
import { edgesApart } from '../../trace/compare/align.ts'
import { longSigmaAt } from '../../trace/noise/noise.ts'
import { compareTraces, differentNames, type Change, type Comparison } from '../../trace/compare/compare.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { edgeSigma, fiberOf, recordPlace, type Calibration } from '../records/calibrate.ts'
import { ruleBook } from '../../ruleBook/rules.ts'
import { cordSpread } from '../shots/connections.ts'
import { findLinkEnds, type LinkEnds } from '../shots/linkEnds.ts'
import { covarianceOf } from '../records/recordErrors.ts'
import { expectedOffset } from '../shots/launchEnds.ts'
import type { Evidence } from './evidence.ts'
import type { LocateWarning, Shot } from '../shots/shot.ts'
import { delayFromDistance } from '../../units/light.ts'
import { isSameWavelength } from '../../units/wavelength.ts'
import { fiberAtDelay } from '../../plant/thread.ts'

/** Something a single shot shows that the baseline does not, placed on the record. */
export interface Candidate {
  direction: Direction
  wavelength: number
  breaks: boolean
  /** dB; null for a break or where it can't be measured */
  loss: number | null
  reflects: boolean
  /** Of what shows there now, dB; null where it does not reflect. */
  reflectance: number | null
  /** m of fiber from the shot's end, as measured. */
  measured: number
  /** m of fiber from the link's `from`, by the records. */
  fiber: number
  /** Measuring uncertainty alone, m. */
  sigma: number
  /** The part of it that each trace of one instrument from this end has alike, m: the pulse's shape, the link's start. */
  systematic: number
  sensitivity: Float64Array
  /** Which instrument, by its name; empty where nothing names it. */
  instrument: string
  pulseLength: number
  /** Standard uncertainty of the loss, dB. */
  lossSigma: number | null
  /** m over which the loss is spread; 0 for a point. */
  extent: number
  /** Read out by a person: there is no trace of it. */
  readOut: boolean
}

/** Baseline and present that belong together, with their comparison. */
export interface Pairing {
  baseline: Shot
  present: Shot
  comparison: Comparison
  ends: LinkEnds
}

/** A step larger than this is worth a visit even when no baseline shows what was there before, dB (TIA-568.3-D splice limit). */
const SUSPICIOUS_WITHOUT_BASELINE_DB = 0.3

/** What a connection that was mated anew may read otherwise: it is the same in every book of rules. */
const { repeatability, reflectanceRise } = ruleBook('standard')
/** A clean polished connection reflects up to this much, dB (component grade of UPC connectors, from memory). */
const GOOD_CONNECTION_REFLECTANCE_DB = -50

/** Pairs each present shot with the baseline of its direction and wavelength. */
export function pairShots(
  calibration: Calibration,
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): { pairings: Pairing[]; alone: Shot[] } {
  const pairings: Pairing[] = []
  const alone: Shot[] = []
  for (const present of presents) {
    const baseline = baselines.find(
      (candidate) =>
        candidate.direction === present.direction &&
        isSameWavelength(candidate.analysis.trace.wavelength, present.analysis.trace.wavelength),
    )
    if (!baseline) {
      alone.push(present)
      warnings.push({
        code: 'no-baseline',
        message: `${present.name}: no baseline at ${present.analysis.trace.wavelength} nm from this end; only its end and large steps can be judged`,
      })
      continue
    }
    const differ = differentNames(baseline.analysis.trace, present.analysis.trace)
    if (differ !== null)
      warnings.push({
        code: 'named-otherwise',
        message: `${present.name}: by their files, ${differ}. They are compared as the traces of one fiber: check that they are`,
      })
    const ends = findLinkEnds(baseline, calibration.threads[baseline.direction])
    const expected = expectedOffset(baseline, present, ends)
    const comparison = compareTraces(baseline.analysis, present.analysis, expected, 'ignore')
    pairings.push({ baseline, present, comparison, ends })
  }
  return { pairings, alone }
}

/** What got worse against the baseline. */
export function candidatesOf(calibration: Calibration, pairing: Pairing): Candidate[] {
  const { comparison, baseline, present, ends } = pairing
  const linkEnd = ends.end?.distance ?? Infinity
  return comparison.changes
    .filter(isWorse)
    .filter((change) => change.distance < linkEnd + pulseLengthOf(present.analysis.trace) + 5)
    .filter((change) => change.distance > ends.start.distance - pulseLengthOf(present.analysis.trace) - 5)
    .filter(
      (change) =>
        !(change.kind === 'break' ? isOpenFarEnd(change, pairing) : isMatedAnew(change, pairing, calibration)),
    )
    .map((change) =>
      toCandidate(
        calibration,
        present,
        change,
        fiberOf(calibration.threads[present.direction], baseline.analysis.trace, ends, change.distance),
        change.distanceSigma,
        Math.hypot(comparison.alignment.offsetSigma, ends.start.sigma),
      ),
    )
}

function isWorse({ kind, lossDelta }: Change): boolean {
  return kind === 'new' || kind === 'grown' || kind === 'break' || (kind === 'attenuation' && lossDelta! > 0)
}

/** The light ends at the link's last connection: where no cord is known to be there, it is open, from whichever end. */
function isOpenFarEnd(change: Change, { baseline, present, ends }: Pairing): boolean {
  if (!ends.end || present.receive) return false
  const apart = edgesApart(baseline.analysis.trace, present.analysis.trace)
  return Math.abs(change.distance - ends.end.distance) < 1 + 3 * Math.hypot(change.distanceSigma, ends.end.sigma, apart)
}

/** What lies between a change and a connection tells them apart by so many standard deviations (judgement: the place was chosen). */
const TOLD_APART = 4
/** The fiber on the change's other side is asked over so many times as much. */
const SIDE_OVER = 4

/**
 * Whether a faint change may as well lie at a connection some way off: noise moves it there where the fiber between both does
 * not differ from that on the change's other side.
 */
function mayLieAt(connection: number, change: Change, { comparison: { difference } }: Pairing): boolean {
  if (change.kind === 'break' || change.extent > 0) return false
  const { search, indexAt } = difference
  const { sums, noise, gap } = search
  const [at, mark] = [indexAt(change.distance), indexAt(connection)]
  const between =
    at < mark ? ([Math.ceil(at) + gap, Math.floor(mark)] as const) : ([Math.ceil(mark), Math.floor(at)] as const)
  const length = between[1] - between[0]
  if (length < 1) return false
  const over = SIDE_OVER * length
  const beside =
    at < mark
      ? ([Math.max(search.from, Math.floor(at) - over), Math.floor(at)] as const)
      : ([Math.ceil(at) + gap, Math.min(search.to, Math.ceil(at) + gap + over)] as const)
  const [n, m] = [sums.count(...between), sums.count(...beside)]
  if (n < 1 || m < length) return false
  const sigma = longSigmaAt(noise, at) * Math.sqrt(1 / n + 1 / m)
  return Math.abs(sums.mean(...between) - sums.mean(...beside)) < TOLD_APART * sigma
}

/** The link's first and last connection are mated anew with a cord at each survey: what that changes is no fault. */
function isMatedAnew(change: Change, pairing: Pairing, { threads }: Calibration): boolean {
  const { baseline, present, ends } = pairing
  // Within the dead zone of the connection nothing can be told from the connection itself. A place that may be anywhere in a
  // stretch reaches √3 of its standard deviations.
  const near = 2 * pulseLengthOf(present.analysis.trace) + 5 + 2 * change.distanceSigma
  const isAt = (mark: { distance: number; sigma: number } | null) =>
    mark !== null &&
    (Math.abs(mark.distance - change.distance) < near + 2 * mark.sigma || mayLieAt(mark.distance, change, pairing))
  const connection = isAt(ends.start) ? 'near' : isAt(ends.end) ? 'far' : null
  if (!connection) return false
  const before = Math.max(change.reflectanceBefore ?? -Infinity, GOOD_CONNECTION_REFLECTANCE_DB)
  const cords = cordSpread(baseline, present, connection, threads[present.direction])
  return (
    (change.lossDelta ?? 0) < repeatability.connector.value + 3 * Math.hypot(change.lossDeltaSigma ?? 0, cords) &&
    (change.reflectanceAfter ?? -Infinity) < before + reflectanceRise.value
  )
}

/** Without a baseline: an end short of the record's is a break; a step beyond any limit is worth a look. */
export function candidatesWithoutBaseline(calibration: Calibration, present: Shot): Candidate[] {
  const thread = calibration.threads[present.direction]
  const { trace, events } = present.analysis
  const ends = findLinkEnds(present, thread)
  const found: Candidate[] = []
  const change = { kind: 'new', reflectanceBefore: null, lossDeltaSigma: null, extent: 0 } as const
  for (const event of events) {
    const fiber = fiberOf(thread, trace, ends, event.distance)
    const place = recordPlace(calibration, present.direction, fiber)
    const short = thread.fiberLength - (present.direction === 'ab' ? place.fiber : thread.fiberLength - place.fiber)
    const recordSigma = Math.sqrt(covarianceOf(calibration.errors, place.sensitivity, place.sensitivity))
    if (event.kind === 'end' && ends.end === null && short > 4 * recordSigma + 10)
      found.push(
        toCandidate(
          calibration,
          present,
          { ...change, kind: 'break', lossDelta: null, reflectanceAfter: event.reflectance },
          fiber,
          event.distanceSigma,
          ends.start.sigma,
        ),
      )
    const inner = event.kind === 'step' && event.loss! > SUSPICIOUS_WITHOUT_BASELINE_DB
    if (inner)
      found.push(
        toCandidate(
          calibration,
          present,
          { ...change, lossDelta: event.loss, reflectanceAfter: null },
          fiber,
          event.distanceSigma,
          ends.start.sigma,
        ),
      )
  }
  return found
}

function toCandidate(
  calibration: Calibration,
  shot: Shot,
  change: Pick<
    Change,
    'kind' | 'lossDelta' | 'lossDeltaSigma' | 'reflectanceBefore' | 'reflectanceAfter' | 'extent' | 'sharedSigma'
  >,
  measured: number,
  eventSigma: number,
  startSigma: number,
): Candidate {
  const { trace } = shot.analysis
  return {
    direction: shot.direction,
    wavelength: trace.wavelength,
    breaks: change.kind === 'break',
    loss: change.lossDelta,
    lossSigma: change.lossDeltaSigma,
    extent: change.extent,
    readOut: false,
    reflects: change.kind !== 'break' && change.reflectanceAfter !== null,
    reflectance: change.reflectanceAfter,
    measured,
    sigma: Math.hypot(eventSigma, startSigma, edgeSigma(trace)),
    systematic: Math.hypot(
      edgeSigma(trace),
      shot.analysis.working.response.middleSigma * trace.spacing,
      change.sharedSigma ?? 0,
      startSigma,
    ),
    instrument: trace.instrument,
    pulseLength: pulseLengthOf(trace),
    ...recordPlace(calibration, shot.direction, measured),
  }
}

/** A fault whose distance a person read out: placed like a trace's, with the uncertainty that was given. */
export function candidateReadOut(
  calibration: Calibration,
  evidence: Extract<Evidence, { kind: 'distance' }>,
): Candidate {
  const thread = calibration.threads[evidence.from]
  const delay = delayFromDistance(evidence.distance, evidence.groupIndex)
  const measured = Math.max(0, fiberAtDelay(thread, delay, READ_OUT_WAVELENGTH) - evidence.launch)
  return {
    direction: evidence.from,
    wavelength: 0,
    breaks: evidence.what === 'break',
    loss: null,
    lossSigma: null,
    extent: 0,
    readOut: true,
    reflects: evidence.what === 'reflection',
    reflectance: null,
    measured,
    sigma: Math.max(1, evidence.sigma),
    systematic: 0,
    instrument: '',
    pulseLength: evidence.sigma,
    ...recordPlace(calibration, evidence.from, measured),
  }
}

/** Group indices of one fiber at 1310 and 1550 nm differ by less than a read-out distance is worth. */
const READ_OUT_WAVELENGTH = 1550
