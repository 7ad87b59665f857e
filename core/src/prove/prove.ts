import { recordPlace, fiberOf } from '../locate/calibrate.ts'
import type { LocateWarning, Shot } from '../locate/shot.ts'
import { placeAt, type ThreadNode } from '../plant/thread.ts'
import type { PlantBundle } from '../plant/types.ts'
import { holdsAgainst, ruleBook, type Holds, type RuleBook } from './rules.ts'
import {
  calibrateFor,
  distanceOfFiber,
  jointsOf,
  linkLoss,
  readSite,
  expectedDistance,
  siteTolerance,
  survey,
  type SiteReading,
  type Survey,
} from './sites.ts'
import { lossAt } from '../trace/lossAt.ts'
import { twoWayLoss, type OneWayLoss } from './twoWay.ts'

export type Verdict = 'restored' | 'restored-with-remarks' | 'not-restored' | 'cannot-tell'
export type ProofStatus = 'unchanged' | 'changed' | 'new' | 'gone' | 'open'

/** One joint or event of the link at one wavelength, before and after. Losses in dB. */
export interface ProofEvent {
  wavelength: number
  chainage: number
  node: string | null
  /** The node's name, or the chainage in words. */
  place: string
  kind: 'splice' | 'mechanical' | 'connector' | 'event'
  status: ProofStatus
  lossBefore: number | null
  lossAfter: number | null
  /** Mean of both directions after the repair; null when shot from one end only. */
  lossTwoWay: number | null
  lossSigma: number | null
  reflectanceBefore: number | null
  reflectanceAfter: number | null
  /** What the loss after is held against. */
  limit: number
  limitSource: string
  holds: Holds
}

export interface ProofTotal {
  before: number | null
  after: number | null
  afterSigma: number | null
  allowed: number | null
}

export interface Proof {
  verdict: Verdict
  rules: { name: string; version: number }
  events: ProofEvent[]
  total: Record<string, ProofTotal>
  reasons: string[]
  next: string[]
  warnings: LocateWarning[]
}

export interface ProveInput {
  plant: PlantBundle
  linkId: string
  baseline: readonly Shot[]
  after: readonly Shot[]
  rules?: string
}

/** A figure moved by less than this many standard deviations is noise. */
const SIGNIFICANT = 3
/** Instruments and cords differ by about this much in a link's total, dB (common practice). */
const TOTAL_REPEATABILITY_DB = 0.2

/**
 * Judges a repair: every joint of the link after against before, two-way where both directions exist, new events
 * against the rule book's splice limit, the total against the old one plus what the repair must add.
 * @throws RangeError for an unknown link or rule book
 */
export function proveRepair(input: ProveInput): Proof {
  const rules = ruleBook(input.rules ?? 'standard')
  const calibration = calibrateFor(input.plant, input.linkId, input.baseline, input.after)
  const before = survey(input.baseline, calibration)
  const after = withShift(survey(input.after, calibration), before)
  const joints = jointsOf(calibration)
  const wavelengths = [...new Set(input.after.map((shot) => shot.analysis.trace.wavelength))].sort((a, b) => a - b)
  const events = wavelengths.flatMap((wavelength) => {
    const at = (surveys: readonly Survey[]) => surveys.filter((s) => s.shot.analysis.trace.wavelength === wavelength)
    const known = joints.map((node) => judgeJoint(node, at(before), at(after), rules))
    return [...known, ...newEvents(joints, at(before), at(after), wavelength, rules)].sort(
      (a, b) => a.chainage - b.chainage,
    )
  })
  const total = Object.fromEntries(
    wavelengths.map((wavelength) => [String(wavelength), judgeTotal(wavelength, before, after, events, rules)]),
  )
  const findings = { input, events, total, after, before, wavelengths, rules }
  return {
    ...conclude(findings),
    rules: { name: rules.name, version: rules.version },
    events,
    total,
    warnings: input.after.flatMap((shot) =>
      shot.analysis.warnings.map(({ code, message }) => ({ code, message: `${shot.name}: ${message}` })),
    ),
  }
}

/** Fiber added or taken out by the repair moves the far end. */
function withShift(after: Survey[], before: readonly Survey[]): Survey[] {
  return after.map((item) => {
    const old = before.find((candidate) => candidate.shot.direction === item.shot.direction && candidate.ends.end)
    if (!old?.ends.end || !item.ends.end) return item
    const lengthOf = (s: Survey) => s.ends.end!.distance - s.ends.start.distance
    return { ...item, shift: lengthOf(item) - lengthOf(old) }
  })
}

function judgeJoint(
  node: ThreadNode,
  before: readonly Survey[],
  after: readonly Survey[],
  rules: RuleBook,
): ProofEvent {
  const isConnector = node.joint === 'connector'
  const old = readBothWays(node, before)
  const now = readBothWays(node, after)
  const fresh = fairComparison(old, now)
  const repeatability = isConnector ? rules.repeatability.connector : rules.repeatability.splice
  const delta = fresh ? fresh.now - fresh.old : null
  const deltaSigma = fresh?.sigma ?? 0
  const changed = delta !== null && Math.abs(delta) > Math.max(repeatability.value, SIGNIFICANT * deltaSigma)
  const most = isConnector ? rules.pair : rules.splice.limit
  // An untouched joint is held to its own baseline, read from the same directions; one that was redone to the limit of its kind.
  const lossBefore = fresh?.old ?? old.mean?.loss ?? null
  const held = lossBefore !== null && !changed
  const limit = held ? Math.max(lossBefore + repeatability.value, 0) : most.value
  return {
    wavelength: wavelengthOf(after, before),
    chainage: node.chainage,
    node: node.id,
    place: node.name,
    kind: node.joint === 'through' ? 'splice' : node.joint,
    status: now.mean === null ? 'open' : changed ? 'changed' : 'unchanged',
    lossBefore,
    lossAfter: now.mean?.loss ?? null,
    lossTwoWay: now.mean?.twoWay ? now.mean.loss : null,
    lossSigma: now.mean?.sigma ?? null,
    reflectanceBefore: old.reflectance,
    reflectanceAfter: now.reflectance,
    limit,
    limitSource: held ? `baseline + ${repeatability.value} dB (${repeatability.source})` : most.source,
    holds: holdsAgainst(now.mean?.loss ?? null, now.mean?.sigma ?? null, limit),
  }
}

function wavelengthOf(...surveys: (readonly Survey[])[]): number {
  return surveys.flat()[0]!.shot.analysis.trace.wavelength
}

interface BothWays {
  ab: SiteReading | null
  ba: SiteReading | null
  mean: ReturnType<typeof twoWayLoss>
  /** The stronger reflectance of the two directions. */
  reflectance: number | null
}

function readBothWays(node: ThreadNode, surveys: readonly Survey[]): BothWays {
  const from = (direction: 'ab' | 'ba') => {
    const one = surveys.find((candidate) => candidate.shot.direction === direction)
    return one ? readSite(one, node) : null
  }
  const [ab, ba] = [from('ab'), from('ba')]
  const reflectances = [ab?.reflectance, ba?.reflectance].filter((value) => value != null)
  return { ab, ba, mean: twoWayLoss(ab, ba), reflectance: reflectances.length > 0 ? Math.max(...reflectances) : null }
}

/** Only the same directions may be compared: a one-way reading holds the backscatter difference. */
function fairComparison(old: BothWays, now: BothWays): { old: number; now: number; sigma: number } | null {
  const shared = (['ab', 'ba'] as const).filter((direction) => old[direction] && now[direction])
  if (shared.length === 0) return null
  const mean = (side: BothWays) => shared.reduce((sum, direction) => sum + side[direction]!.loss, 0) / shared.length
  const squares = shared.flatMap((direction) =>
    [old[direction]!.sigma, now[direction]!.sigma].map((sigma) => sigma ** 2),
  )
  return { old: mean(old), now: mean(now), sigma: Math.sqrt(squares.reduce((a, b) => a + b, 0)) / shared.length }
}

/** Events of the traces after that are no joint of the record and did not show before. */
function newEvents(
  joints: readonly ThreadNode[],
  before: readonly Survey[],
  after: readonly Survey[],
  wavelength: number,
  rules: RuleBook,
): ProofEvent[] {
  const found = after.flatMap((item) => strangersIn(item, joints, before))
  const groups: (typeof found)[] = []
  for (const event of found) {
    const home = groups.find(
      (group) =>
        Math.abs(group[0]!.fiber - event.fiber) < event.tolerance &&
        group.every((o) => o.direction !== event.direction),
    )
    if (home) home.push(event)
    else groups.push([event])
  }
  return groups.map((group) => {
    const fiber = group.reduce((sum, event) => sum + event.fiber, 0) / group.length
    const from = (direction: 'ab' | 'ba') =>
      group.find((event) => event.direction === direction) ?? unseenFrom(direction, fiber, after)
    const mean = twoWayLoss(from('ab'), from('ba'))!
    const { chainage } = placeAt(after[0]!.calibration.threads.ab, 'fiber', fiber)
    const limit = rules.splice.limit
    const reflectances = group.map((event) => event.reflectance).filter((value) => value !== null)
    return {
      wavelength,
      chainage,
      node: null,
      place: `${chainage.toFixed(0)} m`,
      kind: 'event',
      status: 'new',
      lossBefore: null,
      lossAfter: mean.loss,
      lossTwoWay: mean.twoWay ? mean.loss : null,
      lossSigma: mean.sigma,
      reflectanceBefore: null,
      reflectanceAfter: reflectances.length > 0 ? Math.max(...reflectances) : null,
      limit: limit.value,
      limitSource: limit.source,
      holds: holdsAgainst(mean.loss, mean.sigma, limit.value),
    }
  })
}

/** What the other direction reads at the place of a new event that it does not show by itself. */
function unseenFrom(direction: 'ab' | 'ba', fiber: number, after: readonly Survey[]): OneWayLoss | null {
  const other = after.find((item) => item.shot.direction === direction)
  if (!other) return null
  const fromHere = direction === 'ab' ? fiber : other.calibration.threads.ab.fiberLength - fiber
  return lossAt(other.shot.analysis, distanceOfFiber(other, fromHere), siteTolerance(other.shot))
}

function strangersIn(item: Survey, joints: readonly ThreadNode[], before: readonly Survey[]) {
  const { shot, ends, calibration } = item
  const tolerance = siteTolerance(shot)
  const old = before.find((candidate) => candidate.shot.direction === shot.direction)
  const expected = joints.map((node) => expectedDistance(item, node))
  const oldDistances = old
    ? old.shot.analysis.events.map((event) => event.distance - old.ends.start.distance + ends.start.distance)
    : []
  const known = [...expected, ...oldDistances].flatMap((distance) => [distance, distance + item.shift])
  return shot.analysis.events
    .filter((event) => event.kind !== 'start' && event.kind !== 'end' && event.loss !== null)
    .filter(
      (event) =>
        event.distance > ends.start.distance + tolerance &&
        event.distance < (ends.end?.distance ?? Infinity) - tolerance,
    )
    .filter((event) =>
      known.every((distance) => Math.abs(distance - event.distance) > tolerance + 2.5 * event.distanceSigma),
    )
    .map((event) => ({
      direction: shot.direction,
      loss: event.loss!,
      sigma: event.lossSigma!,
      reflectance: event.reflectance,
      tolerance: 2 * tolerance,
      fiber: recordPlace(
        calibration,
        shot.direction,
        fiberOf(calibration.threads[shot.direction], shot.analysis.trace, ends, event.distance),
      ).fiber,
    }))
}

function judgeTotal(
  wavelength: number,
  before: readonly Survey[],
  after: readonly Survey[],
  events: readonly ProofEvent[],
  rules: RuleBook,
): ProofTotal {
  const totalFrom = (surveys: readonly Survey[], direction: 'ab' | 'ba') => {
    const one = surveys.find((s) => s.shot.direction === direction && s.shot.analysis.trace.wavelength === wavelength)
    return one ? linkLoss(one) : null
  }
  const now = twoWayLoss(totalFrom(after, 'ab'), totalFrom(after, 'ba'))
  // Like with like: the baseline is read from the directions that were shot after the repair.
  const shared = (direction: 'ab' | 'ba') => (totalFrom(after, direction) ? totalFrom(before, direction) : null)
  const old = twoWayLoss(shared('ab'), shared('ba'))
  const added = events.filter((event) => event.wavelength === wavelength && event.status === 'new').length
  return {
    before: old?.loss ?? null,
    after: now?.loss ?? null,
    afterSigma: now?.sigma ?? null,
    allowed: old ? old.loss + added * rules.splice.limit.value + TOTAL_REPEATABILITY_DB : null,
  }
}

interface Findings {
  input: ProveInput
  events: readonly ProofEvent[]
  total: Record<string, ProofTotal>
  before: readonly Survey[]
  after: readonly Survey[]
  wavelengths: readonly number[]
  rules: RuleBook
}

/** From findings to a verdict: what refutes comes first, then what can't be told, then remarks. */
function conclude(findings: Findings): Pick<Proof, 'verdict' | 'reasons' | 'next'> {
  const { input } = findings
  if (input.after.length === 0)
    return {
      verdict: 'cannot-tell',
      reasons: ['no trace was taken after the repair'],
      next: ['shoot the link from both ends at the baseline wavelengths'],
    }
  const refuted = refutations(findings)
  const untold = unknowns(findings)
  const remarks = remarksOn(findings)
  const parts = refuted.length > 0 ? [...refuted, ...untold, ...remarks] : [...untold, ...remarks]
  const verdict: Verdict =
    refuted.length > 0
      ? 'not-restored'
      : untold.length > 0
        ? 'cannot-tell'
        : remarks.length > 0
          ? 'restored-with-remarks'
          : 'restored'
  const reasons =
    parts.length > 0
      ? parts.map((part) => part.reason)
      : ['every joint and the total read as in the baseline, within limits']
  return { verdict, reasons, next: [...new Set(parts.map((part) => part.next))] }
}

interface Point {
  reason: string
  next: string
}

function refutations({ events, after, total, rules }: Findings): Point[] {
  const points: Point[] = []
  for (const { shot, ends } of after) {
    if (!ends.end && shot.analysis.events.at(-1)?.kind === 'end')
      points.push({
        reason: `${shot.name}: the fiber ends at ${shot.analysis.length!.toFixed(0)} m and does not reach the far connection`,
        next: 'locate the remaining break',
      })
  }
  for (const event of events) {
    const where = event.place
    if (event.holds === 'no')
      points.push({
        reason: `${where} at ${event.wavelength} nm: ${event.lossAfter!.toFixed(2)} dB, more than ${event.limit.toFixed(2)} dB (${event.limitSource})`,
        next: event.kind === 'connector' ? `clean and re-seat ${where}, measure again` : `redo the splice at ${where}`,
      })
    const risen =
      event.reflectanceBefore !== null &&
      event.reflectanceAfter !== null &&
      event.reflectanceAfter > event.reflectanceBefore + rules.reflectanceRise.value
    if (event.kind === 'connector' && risen && event.reflectanceAfter! > rules.reflectance.singleMode.value)
      points.push({
        reason: `${where} at ${event.wavelength} nm: reflectance ${event.reflectanceAfter!.toFixed(1)} dB, was ${event.reflectanceBefore!.toFixed(1)} dB, allowed ${rules.reflectance.singleMode.value} dB (${rules.reflectance.singleMode.source})`,
        next: `inspect and clean ${where}, measure again`,
      })
  }
  for (const [wavelength, { after: now, afterSigma, allowed, before }] of Object.entries(total))
    if (allowed !== null && holdsAgainst(now, afterSigma, allowed) === 'no')
      points.push({
        reason: `total at ${wavelength} nm is ${now!.toFixed(2)} dB, was ${before!.toFixed(2)} dB, allowed ${allowed.toFixed(2)} dB`,
        next: 'look for loss added between the joints (bends, pressure)',
      })
  return points
}

function unknowns({ total, after }: Findings): Point[] {
  if (after.every(({ ends, shot }) => ends.end === null && shot.analysis.events.at(-1)?.kind !== 'end'))
    return [
      { reason: 'no trace shows the far end of the link', next: 'shoot again with a longer range or longer pulse' },
    ]
  const unread = Object.entries(total).filter(([, figures]) => figures.after === null)
  return unread.map(([wavelength]) => ({
    reason: `the total at ${wavelength} nm can't be measured`,
    next: 'shoot with launch and receive cords longer than the dead zones',
  }))
}

function remarksOn({ events, total, before, input, wavelengths, rules }: Findings): Point[] {
  const points: Point[] = []
  for (const event of events) {
    const where = event.place
    if (event.holds === 'close')
      points.push({
        reason: `${where} at ${event.wavelength} nm: ${event.lossAfter!.toFixed(2)} ± ${(2 * event.lossSigma!).toFixed(2)} dB is close to ${event.limit.toFixed(2)} dB`,
        next: `measure ${where} again with longer averaging`,
      })
    const redone = event.status === 'new' || event.status === 'changed'
    if (redone && event.kind !== 'connector' && event.holds === 'yes' && event.lossAfter! > rules.splice.good.value)
      points.push({
        reason: `${where} at ${event.wavelength} nm: ${event.lossAfter!.toFixed(2)} dB is accepted but over the good ${rules.splice.good.value.toFixed(2)} dB (${rules.splice.good.source})`,
        next: `redo the splice at ${where} when it is next opened`,
      })
    if (
      event.kind !== 'connector' &&
      event.kind !== 'mechanical' &&
      event.reflectanceAfter !== null &&
      event.reflectanceBefore === null
    )
      points.push({
        reason: `${where} at ${event.wavelength} nm reflects ${event.reflectanceAfter.toFixed(1)} dB: a fusion splice does not`,
        next: `look for a gap, bubble or crack at ${where}`,
      })
  }
  const joints = events.filter((event) => event.lossAfter !== null && event.lossTwoWay === null)
  if (joints.length > 0)
    points.push({
      reason: 'some losses are known from one end only: they hold the difference in backscatter',
      next: 'shoot from the other end as well',
    })
  if (before.length === 0)
    points.push({ reason: 'there is no baseline: judged by limits only', next: 'keep these traces as the baseline' })
  for (const wavelength of new Set(input.baseline.map((shot) => shot.analysis.trace.wavelength)))
    if (!wavelengths.includes(wavelength))
      points.push({
        reason: `not measured at ${wavelength} nm, where a baseline exists`,
        next: `shoot at ${wavelength} nm`,
      })
  for (const [wavelength, figures] of Object.entries(total))
    if (figures.allowed !== null && holdsAgainst(figures.after, figures.afterSigma, figures.allowed) === 'close')
      points.push({
        reason: `the total at ${wavelength} nm is close to what is allowed`,
        next: 'measure again with longer averaging',
      })
  return points
}
