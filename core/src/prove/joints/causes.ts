import type { ProofCause, ProofEvent } from '../verdict/proof.ts'
import type { RuleBook } from '../../ruleBook/rules.ts'
import { LOGGED_PLACE_SPREAD, placeInFiber } from './newJoints.ts'
import { distanceOfFiber, readSite, siteTolerance, type Survey } from './sites.ts'
import { fiberAtChainage, placeAt, type Thread } from '../../plant/thread.ts'
import type { Work } from '../verdict/work.ts'
import { lossAt, nearestEvent } from '../../trace/events/lossAt.ts'

export interface CauseInput {
  events: readonly ProofEvent[]
  before: readonly Survey[]
  /** As the link was shot while the fault was there; may be empty. */
  present: readonly Survey[]
  after: readonly Survey[]
  /** null where no log is known: then any joint may have been redone. */
  work: Work | null
  rules: RuleBook
}

/** What is wrong at a place, and which events say so. */
export interface FoundCause extends ProofCause {
  covers: readonly ProofEvent[]
}

/** A place at which something may be wrong: one joint or event at every wavelength. */
interface Place {
  node: string | null
  name: string
  chainage: number
  /** m of fiber from the link's `from`, by the records */
  fiber: number
  events: ProofEvent[]
}

/** A change below so many standard deviations is noise. */
const SIGNIFICANT = 3
/** A loss is a fault from here on, dB, and not noise (judgement). */
const LEAST_FAULT = 0.1
/**
 * A fault is still there when it reads as it did to within so many dB, or this part of it; where the log tells of a joint, it
 * must read the same more closely, or a poor new joint would be taken for it (judgement).
 */
const AS_BEFORE = { untouched: { dB: 0.1, part: 0.2 }, worked: { dB: 0.04, part: 0.06 } }
/** Bent glass loses little at the short wavelength: at most this part of the loss at the long one (judgement; theory and measurements of macrobends give an eighth to a half). */
const BEND_PART = 0.5
/** Minutes that a remedy takes, with what it takes to open and close again (judgement). */
const MINUTES = { redo: 45, dress: 40, clean: 10, search: 25 } as const

/**
 * Names what is wrong after a repair, where the data show it: a poor joint, the wrong fiber, the fault still there, a second
 * fault, a bend made on closing, a connector made worse.
 * @returns what gives most per minute first
 */
export function causesOf(input: CauseInput): FoundCause[] {
  if (input.after.length === 0) return []
  const ends = endCauses(input)
  const losses = placesIn(input).flatMap((place) => lossCause(place, input) ?? [])
  return [...ends, ...losses].sort((a, b) => gainOf(b) - gainOf(a))
}

/** dB a minute. */
function gainOf({ excess, minutes }: ProofCause): number {
  return (excess ?? Infinity) / minutes
}

function threadOf({ after }: CauseInput): Thread {
  return after[0]!.calibration.threads.ab
}

/** m of fiber of a logged chainage; infinitely far where the link does not pass it. */
function fiberAt(thread: Thread, chainage: number): number {
  try {
    return fiberAtChainage(thread, chainage)
  } catch {
    return Infinity
  }
}

function reachOf(survey: Survey): number {
  return LOGGED_PLACE_SPREAD + 2 * siteTolerance(survey.shot)
}

/** Where shots end before the link does, m of fiber from the link's `from` by the records; each place once. */
function shortEnds(surveys: readonly Survey[]): { fiber: number; shots: Survey[] }[] {
  const places: { fiber: number; shots: Survey[] }[] = []
  for (const survey of surveys) {
    const last = survey.shot.analysis.events.at(-1)
    if (survey.ends.end || last?.kind !== 'end') continue
    const fiber = placeInFiber({ ...survey, shift: 0 }, last.distance)
    // Light that goes as far as the record reaches was not stopped before the link's end: the record is too short.
    const { fiberLength } = survey.calibration.threads.ab
    if (survey.shot.direction === 'ab' ? fiber >= fiberLength : fiber <= 0) continue
    const home = places.find((place) => Math.abs(place.fiber - fiber) < reachOf(survey))
    if (home) home.shots.push(survey)
    else places.push({ fiber, shots: [survey] })
  }
  return places
}

function isWorkedAt({ fiber, node }: { fiber: number; node: string | null }, input: CauseInput): boolean {
  if (!input.work) return false
  const { newJoints, redone } = input.work
  const thread = threadOf(input)
  const reach = reachOf(input.after[0]!)
  const nodes = thread.nodes.filter(({ id }) => redone.includes(id))
  return (
    (node !== null && redone.includes(node)) ||
    [
      ...newJoints.map((chainage) => fiberAt(thread, chainage)),
      ...(node === null ? nodes.map((one) => one.fiber) : []),
    ].some((place) => Math.abs(place - fiber) < reach)
  )
}

/** Which other fibers were joined at a place; null where none was. */
function othersAt({ fiber, node }: { fiber: number; node: string | null }, input: CauseInput): string | null {
  const thread = threadOf(input)
  const reach = reachOf(input.after[0]!)
  const found = input.work?.others.find((one) =>
    one.node === null
      ? Math.abs(fiberAt(thread, one.chainage) - fiber) < reach
      : one.node === node || thread.nodes.some(({ id, fiber: at }) => id === one.node && Math.abs(at - fiber) < reach),
  )
  return found?.words ?? null
}

/** Whether a fault that was seen before the repair lay where the log tells of work, other than at a place. */
function repairedElsewhere(fiber: number, input: CauseInput): boolean {
  if (!input.work) return false
  const thread = threadOf(input)
  const reach = reachOf(input.after[0]!)
  const ends = shortEnds(input.present)
  const worked: { fiber: number; node: string | null }[] = [
    ...input.work.newJoints.map((chainage) => ({ fiber: fiberAt(thread, chainage), node: null })),
    ...thread.nodes
      .filter(({ id }) => input.work!.redone.includes(id))
      .map((one) => ({ fiber: one.fiber, node: one.id })),
  ]
  return worked
    .filter((place) => Number.isFinite(place.fiber) && Math.abs(place.fiber - fiber) >= reach)
    .some(
      (place) =>
        ends.some((end) => Math.abs(end.fiber - place.fiber) < reach) ||
        wavelengthsOf(input.present).some((wavelength) => isLoss(changeThen(place, wavelength, input))),
    )
}

function isLoss(change: { loss: number; sigma: number } | null): boolean {
  return change !== null && change.loss > Math.max(LEAST_FAULT, SIGNIFICANT * change.sigma)
}

function wavelengthsOf(surveys: readonly Survey[]): number[] {
  return [...new Set(surveys.map(({ shot }) => shot.analysis.trace.wavelength))]
}

const of = (surveys: readonly Survey[], direction: string, wavelength: number) =>
  surveys.find(({ shot }) => shot.direction === direction && shot.analysis.trace.wavelength === wavelength)

/** Loss at a place in one trace; null where it does not show. */
function readAt(survey: Survey | undefined, place: { fiber: number; node: string | null }) {
  if (!survey) return null
  const thread = survey.calibration.threads[survey.shot.direction]
  const node = place.node === null ? undefined : thread.nodes.find(({ id }) => id === place.node)
  if (node) return readSite(survey, node)
  const { ab } = survey.calibration.threads
  const fromHere = survey.shot.direction === 'ab' ? place.fiber : ab.fiberLength - place.fiber
  const expected = distanceOfFiber(survey, fromHere)
  const { analysis } = survey.shot
  const shown = nearestEvent(analysis, expected, reachOf(survey))
  return lossAt(analysis, shown?.distance ?? expected, siteTolerance(survey.shot))
}

/** By how much a place lost more while the fault was there than in the baseline, from the ends that show both. */
function changeThen(
  place: { fiber: number; node: string | null },
  wavelength: number,
  { before, present }: CauseInput,
): { loss: number; sigma: number } | null {
  const pairs = (['ab', 'ba'] as const).flatMap((direction) => {
    const then = readAt(of(present, direction, wavelength), place)
    const old = readAt(of(before, direction, wavelength), place)
    return then && old ? [{ loss: then.loss - old.loss, variance: then.sigma ** 2 + old.sigma ** 2 }] : []
  })
  if (pairs.length === 0) return null
  return {
    loss: pairs.reduce((sum, { loss }) => sum + loss, 0) / pairs.length,
    sigma: Math.sqrt(pairs.reduce((sum, { variance }) => sum + variance, 0)) / pairs.length,
  }
}

function endCauses(input: CauseInput): FoundCause[] {
  const { present } = input
  const then = shortEnds(present)
  return shortEnds(input.after).map(({ fiber, shots }): FoundCause => {
    const reach = reachOf(shots[0]!)
    const thread = threadOf(input)
    const node = thread.nodes.find((one) => Math.abs(one.fiber - fiber) < siteTolerance(shots[0]!.shot)) ?? null
    const { chainage } = placeAt(thread, 'fiber', Math.max(0, Math.min(thread.fiberLength, fiber)))
    const name = node ? node.name : `${chainage.toFixed(0)} m`
    const seen = `${shots.map(({ shot }) => shot.name).join(', ')}: the fiber ends at ${name} and does not reach the far connection`
    const asBefore = then.some((end) => Math.abs(end.fiber - fiber) < reach)
    const worked = isWorkedAt({ fiber, node: node?.id ?? null }, input)
    const told = (cause: ProofCause['cause'], words: string, next: string): FoundCause => ({
      cause,
      place: name,
      node: node?.id ?? null,
      chainage,
      excess: null,
      minutes: cause === 'poor-joint' ? MINUTES.redo : MINUTES.search,
      refutes: true,
      reason: `${seen}${words}`,
      next,
      covers: [],
    })
    if (asBefore && worked)
      return told(
        'wrong-fiber',
        ', as it did before the repair, though the log tells of a joint made there: that joint is on another fiber',
        `find out which fiber was joined at ${name}, and join this one`,
      )
    const other = asBefore ? othersAt({ fiber, node: node?.id ?? null }, input) : null
    if (other)
      return told(
        'wrong-fiber',
        `, as it did before the repair: the log tells of a joint there of ${other}, not of this link’s fiber`,
        `join this link’s own fiber at ${name}`,
      )
    if (worked)
      return told('poor-joint', ', where the log tells of a joint: no light passes it', `redo the joint at ${name}`)
    if (asBefore && !repairedElsewhere(fiber, input))
      return told('fault-left', ', as it did before the repair', 'locate the remaining break')
    return told(
      present.length > 0 ? 'second-fault' : 'fault-left',
      present.length > 0 ? ': a second break, which is not the one that was repaired' : '',
      'locate the remaining break',
    )
  })
}

/** Events of all wavelengths by place. */
function placesIn(input: CauseInput): Place[] {
  const thread = threadOf(input)
  const places: Place[] = []
  for (const event of input.events) {
    const node = event.node === null ? undefined : thread.nodes.find(({ id }) => id === event.node)
    const fiber = node ? node.fiber : fiberAtChainage(thread, event.chainage)
    const home = places.find((place) =>
      event.node === null
        ? place.node === null &&
          Math.abs(place.fiber - fiber) < reachOf(input.after[0]!) &&
          place.events.every((other) => other.wavelength !== event.wavelength)
        : place.node === event.node,
    )
    if (home) home.events.push(event)
    else places.push({ node: event.node, name: event.place, chainage: event.chainage, fiber, events: [event] })
  }
  return places
}

/** The change at a place, at the wavelength that shows most of it. */
function most(events: readonly ProofEvent[]): { event: ProofEvent; change: number; sigma: number } | null {
  const known = events.flatMap((event) =>
    event.change === null ? [] : [{ event, change: event.change, sigma: event.changeSigma ?? 0 }],
  )
  return known.sort((a, b) => b.change - a.change)[0] ?? null
}

/** Light lost at the long wavelength and not at the short one: the glass is bent. */
function isBend(events: readonly ProofEvent[]): boolean {
  const at = (pick: (wavelength: number) => boolean) =>
    events.filter((event) => event.change !== null && pick(event.wavelength))
  const [short, long] = [most(at((wavelength) => wavelength < 1400)), most(at((wavelength) => wavelength > 1500))]
  if (!short || !long) return false
  const sigma = Math.hypot(short.sigma, long.sigma)
  return long.change - short.change > SIGNIFICANT * sigma && short.change < BEND_PART * long.change
}

function risen({ reflectanceBefore: then, reflectanceAfter: now }: ProofEvent, rules: RuleBook): boolean {
  return (
    then !== null &&
    now !== null &&
    now > then + rules.reflectanceRise.value &&
    now > rules.reflectance.singleMode.value
  )
}

function lossCause(place: Place, input: CauseInput): FoundCause | null {
  const { rules, work } = input
  const { events, name, node } = place
  const over = events.filter(({ holds }) => holds === 'no')
  const bright = place.events.filter((event) => event.kind === 'connector' && risen(event, rules))
  const strongest = most(events)
  const worked = isWorkedAt(place, input)
  const isConnector = events[0]!.kind === 'connector'
  const repeatability = (isConnector ? rules.repeatability.connector : rules.repeatability.splice).value
  const grown =
    strongest !== null && strongest.change > Math.max(repeatability, SIGNIFICANT * strongest.sigma) ? strongest : null
  const near = worked ? AS_BEFORE.worked : AS_BEFORE.untouched
  const then = strongest ? changeThen(place, strongest.event.wavelength, input) : null
  /** At every wavelength: a bend made now in place of a crush is another loss. */
  const readsAlike = events.every(({ change, changeSigma, wavelength }) => {
    const before = change === null ? null : changeThen(place, wavelength, input)
    if (change === null || before === null) return true
    const sigma = Math.hypot(changeSigma ?? 0, before.sigma)
    return Math.abs(change - before.loss) <= Math.max(near.dB, near.part * before.loss, SIGNIFICANT * sigma)
  })
  const asBefore = strongest !== null && isLoss(then) && readsAlike && strongest.change > then!.loss / 2
  // A joint that was made or redone is held to its limit alone, and so is any joint where no log tells which.
  const unexplained = grown !== null && work !== null && !worked
  if (over.length === 0 && bright.length === 0 && !asBefore && !unexplained) return null
  const told = (cause: ProofCause['cause'], words: string, next: string, minutes: number): FoundCause => ({
    cause,
    place: name,
    node,
    chainage: place.chainage,
    excess: Math.max(0, strongest?.change ?? Math.max(...over.map((event) => event.lossAfter! - event.limit))),
    minutes,
    refutes: over.length > 0 || bright.length > 0 || asBefore,
    reason: `${name}: ${[figures(over.length > 0 ? over : grown ? [grown.event] : []), brightness(bright, rules)].filter((one) => one !== '').join('; ')}${words}`,
    next,
    covers: [...over, ...bright],
  })
  if (asBefore && worked && !isConnector)
    return told(
      'wrong-fiber',
      `; it loses as much as before the repair, though the log tells of a joint made there: that joint is on another fiber, or was not made`,
      `find out which fiber was joined at ${name}, and join this one`,
      MINUTES.redo,
    )
  const other = asBefore ? othersAt(place, input) : null
  if (other)
    return told(
      'wrong-fiber',
      `; it loses as much as before the repair: the log tells of a joint there of ${other}, not of this link’s fiber`,
      `join this link’s own fiber at ${name}`,
      MINUTES.redo,
    )
  if (asBefore && !worked)
    return repairedElsewhere(place.fiber, input)
      ? told(
          'second-fault',
          '; it was there before the repair, beside the fault that was repaired',
          remedyOf(place),
          minutesOf(place),
        )
      : told(
          'fault-left',
          '; it loses as much as before the repair: the fault is still there',
          remedyOf(place),
          minutesOf(place),
        )
  if (isConnector)
    return told(
      'connector-worse',
      bright.length > 0 ? '; dirt, a scratch or a gap' : '',
      `inspect, clean and re-seat ${name}, measure again`,
      MINUTES.clean,
    )
  if (isBend(events) && (node !== null || worked))
    return told(
      'closing-bend',
      '; little of it at the short wavelength: a bend, made when it was closed',
      `open ${name} and lay its fibers to their radius`,
      MINUTES.dress,
    )
  if (worked || work === null || (node !== null && over.length > 0 && input.present.length === 0))
    return told('poor-joint', '', `redo the splice at ${name}`, MINUTES.redo)
  return told(
    'second-fault',
    isBend(events)
      ? '; little of it at the short wavelength: a bend, where the log tells of no work'
      : `; ${input.before.length > 0 ? 'it was not there before, and ' : ''}the log tells of no work there`,
    remedyOf(place),
    minutesOf(place),
  )
}

function remedyOf({ name, node, events }: Place): string {
  if (events[0]!.kind === 'connector') return `inspect, clean and re-seat ${name}, measure again`
  return node === null
    ? `locate the loss at ${name} as a fault of its own`
    : `open ${name}, look at its fibers, redo the splice`
}

function minutesOf({ node, events }: Place): number {
  return events[0]!.kind === 'connector' ? MINUTES.clean : node === null ? MINUTES.search : MINUTES.redo
}

/** Twice a standard uncertainty in words: never nothing. */
function spreadOf(sigma: number): string {
  return Math.max(0.001, 2 * sigma).toFixed(2 * sigma < 0.01 ? 3 : 2)
}

function figures(events: readonly ProofEvent[]): string {
  return events
    .map((event) => {
      const spread = event.lossSigma === null ? '' : ` ± ${spreadOf(event.lossSigma)}`
      const held = event.holds === 'no' ? `, more than ${event.limit.toFixed(2)} dB (${event.limitSource})` : ''
      const was = event.lossBefore === null ? '' : `, was ${event.lossBefore.toFixed(2)} dB`
      return `${event.lossAfter!.toFixed(2)}${spread} dB at ${event.wavelength} nm${was}${held}`
    })
    .join('; ')
}

function brightness(events: readonly ProofEvent[], rules: RuleBook): string {
  return events
    .map(
      (event) =>
        `reflectance ${event.reflectanceAfter!.toFixed(1)} dB at ${event.wavelength} nm, was ${event.reflectanceBefore!.toFixed(1)} dB, allowed ${rules.reflectance.singleMode.value} dB (${rules.reflectance.singleMode.source})`,
    )
    .join('; ')
}
