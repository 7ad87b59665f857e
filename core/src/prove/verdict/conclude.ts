import { ranges } from '../../fiber/ranges.ts'
import type { LocateWarning, Shot } from '../../locate/shots/shot.ts'
import type { OtherFibers } from '../cable/cableProof.ts'
import type { FoundCause } from '../joints/causes.ts'
import type { Proof, ProofEvent, ProofTotal, Verdict } from './proof.ts'
import type { LossFigure } from '../../lossTest/judge.ts'
import type { ContinuityWord } from '../../lossTest/continuity.ts'
import { changeNear, receivedAgrees, type ReceivedPower } from '../../lossTest/received.ts'
import { judgeTrunk, type ChannelWord, type ReadTrunk } from '../../lossTest/trunk/trunk.ts'
import { totalHolds } from './judgeTotal.ts'
import { LOGGED_PLACE_SPREAD } from '../joints/newJoints.ts'
import { holdsAgainst, type RuleBook } from '../../ruleBook/rules.ts'
import type { Survey } from '../joints/sites.ts'

/** What the judges found, ready for the conclusion. */
export interface Findings {
  input: { linkId: string; baseline: readonly Shot[]; after: readonly Shot[] }
  events: readonly ProofEvent[]
  causes: readonly FoundCause[]
  total: Record<string, ProofTotal>
  before: readonly Survey[]
  after: readonly Survey[]
  wavelengths: readonly number[]
  losses: readonly LossFigure[]
  received: readonly ReceivedPower[]
  continuity: readonly ContinuityWord[]
  trunks: readonly ReadTrunk[]
  fibers: OtherFibers | null
  /** What was given and could not be used, each with why. */
  unusable: readonly LocateWarning[]
  rules: RuleBook
}

/** From findings to a verdict: what refutes comes first, then what can't be told, then remarks. */
export function conclude(findings: Findings): Pick<Proof, 'verdict' | 'reasons' | 'next'> {
  const losses = lossPoints(findings)
  const trunks = trunkPoints(findings)
  const refuted = [...refutations(findings), ...continuityPoints(findings), ...losses.refuted, ...trunks.refuted]
  const untold = [...unknowns(findings), ...losses.untold, ...contradictions(findings)]
  // What was not shot after the repair leaves nothing to remark on.
  const remarks = [
    ...(findings.input.after.length > 0 ? [...unusablePoints(findings.unusable), ...remarksOn(findings)] : []),
    ...losses.remarks,
    ...trunks.remarks,
    ...fiberPoints(findings),
  ]
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

function refutations({ causes, total }: Findings): Point[] {
  const points: Point[] = causes.filter(({ refutes }) => refutes)
  for (const [wavelength, figures] of Object.entries(total))
    if (totalHolds(figures) === 'no')
      points.push({
        reason: `total at ${wavelength} nm is ${figures.after!.toFixed(2)} dB, ${figures.before === null ? 'the budget is' : `was ${figures.before.toFixed(2)} dB, allowed`} ${figures.allowed!.toFixed(2)} dB`,
        next: points[0]?.next ?? 'look for loss added between the joints (bends, pressure)',
      })
  return points.map(({ reason, next }) => ({ reason, next }))
}

/** What source and meter say: of this link it decides, of the links beside it it is remarked. */
function lossPoints({ losses, input }: Findings): { refuted: Point[]; untold: Point[]; remarks: Point[] } {
  const pointOf = (figure: LossFigure): Point => ({
    reason: `loss test${figure.reading.link === input.linkId ? '' : ` of “${figure.name}”`} at ${figure.wavelength} nm from ${figure.from}: ${figure.reasons.join('; ')}`,
    next: figure.next ?? 'nothing',
  })
  const own = losses.filter(({ reading }) => reading.link === input.linkId)
  const said = (some: readonly LossFigure[], ...words: LossFigure['word'][]) =>
    some.filter(({ word }) => words.includes(word)).map(pointOf)
  const others = losses.filter((figure) => !own.includes(figure))
  return {
    refuted: said(own, 'over'),
    untold: said(own, 'no proof'),
    remarks: [...said(own, 'close', 'no limit'), ...said(others, 'over', 'no proof', 'close')],
  }
}

/** Light that comes out elsewhere, or nowhere; the two of a swapped pair are told once. */
function continuityPoints({ continuity, input }: Findings): Point[] {
  const bad = continuity.filter(({ holds }) => !holds)
  const own = bad.filter(({ check }) => check.link === input.linkId)
  return (own.length > 0 ? own : bad).map(({ words, next }) => ({ reason: words, next: next ?? 'nothing' }))
}

/** Words of a channel that is not as it has to be; the others are remarked on. */
const REFUTED: readonly ChannelWord[] = ['over', 'dark', 'reflects', 'elsewhere']

function trunkPoints({ trunks }: Findings): { refuted: Point[]; remarks: Point[] } {
  const points = trunks.flatMap((test) => {
    const { good, channels, polarity, next } = judgeTrunk(test)
    if (good) return []
    const bad = channels.filter(({ word }) => word !== 'within')
    const told = bad.map(({ channel, word, reason }) => `channel ${channel} ${word}, ${reason}`)
    const reason = [...(polarity && !polarity.holds ? [polarity.words] : []), ...told].join('; ')
    const refuted = bad.some(({ word }) => REFUTED.includes(word)) || (polarity !== null && !polarity.holds)
    return [
      { refuted, point: { reason: `trunk ${test.trunk}, ${test.end} end, ${test.wavelength} nm: ${reason}`, next } },
    ]
  })
  const of = (refuted: boolean) => points.flatMap((one) => (one.refuted === refuted ? [one.point] : []))
  return { refuted: of(true), remarks: of(false) }
}

/** Other fibers of the cable: they do not refute this link's repair, and its report must not hide them. */
function fiberPoints({ fibers }: Findings): Point[] {
  if (!fibers) return []
  const { cable, shot, judged, notRestored, cannotTell } = fibers
  if (!judged)
    return [
      {
        reason: `${shot} fibers of cable ${cable} were shot after the repair and are not judged yet`,
        next: `look at every fiber of cable ${cable}`,
      },
    ]
  const told = (some: readonly number[]) =>
    `${some.length === 1 ? 'fiber' : 'fibers'} ${ranges(some)} of cable ${cable}`
  const pointsOf = (some: readonly number[], words: string): Point[] =>
    some.length === 0 ? [] : [{ reason: `${told(some)}: ${words}`, next: `look at every fiber of cable ${cable}` }]
  return [...pointsOf(notRestored, 'not restored'), ...pointsOf(cannotTell, 'the traces do not tell')]
}

/** Received power that tells another story than the traces: one of them is wrong, and which is not known. */
function contradictions({ received, total, input }: Findings): Point[] {
  return received
    .filter(({ link }) => link === input.linkId)
    .flatMap((power): Point[] => {
      const change = changeNear(total, power.wavelength)
      if (change === null) return []
      const { agrees, words } = receivedAgrees(power, change)
      return agrees
        ? []
        : [{ reason: words, next: 'look at the equipment’s own cord and port, and read the received power again' }]
    })
}

const SHOOT_BOTH_WAYS = 'shoot the link from both ends at the baseline wavelengths'

function unusablePoints(unusable: Findings['unusable']): Point[] {
  return unusable.map(({ message }) => ({ reason: message, next: SHOOT_BOTH_WAYS }))
}

function unknowns({ input, events, total, after, unusable }: Findings): Point[] {
  if (input.after.length === 0)
    return unusable.length > 0
      ? unusablePoints(unusable)
      : [{ reason: 'no trace was taken after the repair', next: SHOOT_BOTH_WAYS }]
  if (after.every(({ ends, shot }) => ends.end === null && shot.analysis.events.at(-1)?.kind !== 'end'))
    return [
      { reason: 'no trace shows the far end of the link', next: 'shoot again with a longer range or longer pulse' },
    ]
  const unmeasured = events.filter((event) => event.status === 'open' && event.kind === 'splice')
  if (unmeasured.length > 0)
    return unmeasured.map(({ place, wavelength }) => ({
      reason: `the splice at ${place} can't be measured at ${wavelength} nm`,
      next: 'shoot with a shorter pulse or from the other end',
    }))
  const oneWay = events.filter(
    ({ status, holds, lossAfter, lossTwoWay, limit }) =>
      status === 'new' && holds === 'close' && lossTwoWay === null && lossAfter! > limit,
  )
  if (oneWay.length > 0)
    return oneWay.map(({ place, wavelength, lossAfter, limit }) => ({
      reason: `${place} reads ${lossAfter!.toFixed(2)} dB at ${wavelength} nm from one end, over ${limit.toFixed(2)} dB: fibers that scatter differently may make that of a good joint`,
      next: `shoot from the other end as well: the mean of both is the loss of ${place}`,
    }))
  const unread = Object.entries(total).filter(([, figures]) => figures.after === null)
  return unread.map(([wavelength]) => ({
    reason: `the total at ${wavelength} nm can't be measured`,
    next: 'shoot with launch and receive cords longer than the dead zones',
  }))
}

function remarksOn({ events, causes, total, before, input, wavelengths, rules }: Findings): Point[] {
  const points: Point[] = causes.flatMap(({ refutes, reason, next }) => (refutes ? [] : [{ reason, next }]))
  for (const event of events) {
    const where = event.place
    if (event.holds === 'close')
      points.push({
        reason: `${where} at ${event.wavelength} nm: ${event.lossAfter!.toFixed(2)} ± ${(2 * event.lossSigma!).toFixed(2)} dB is close to ${event.limit.toFixed(2)} dB`,
        next: `measure ${where} again with longer averaging`,
      })
    const redone = event.status === 'new' || event.status === 'changed'
    const good = event.joints * rules.splice.good.value
    // What is wrong there was said with its cause.
    const said = causes.some(
      ({ refutes, node, chainage }) =>
        refutes && node === event.node && Math.abs(chainage - event.chainage) < 2 * LOGGED_PLACE_SPREAD,
    )
    if (!said && redone && event.kind !== 'connector' && event.holds === 'yes' && event.lossAfter! > good)
      points.push({
        reason: `${where} at ${event.wavelength} nm: ${event.lossAfter!.toFixed(2)} dB is accepted but over the good ${good.toFixed(2)} dB (${rules.splice.good.source})`,
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
  for (const [wavelength, figures] of Object.entries(total)) {
    points.push(...overBudget(wavelength, figures))
    if (totalHolds(figures) === 'close')
      points.push({
        reason: `the total at ${wavelength} nm is close to what is allowed`,
        next: 'measure again with longer averaging',
      })
  }
  return points
}

/** A link that is as it was, and yet over what the standard allows it: the repair is no reason to refuse it, and to say so is due. */
function overBudget(wavelength: string, { before, after: now, afterSigma, budget = null }: ProofTotal): Point[] {
  if (before === null || now === null || budget === null || holdsAgainst(now, afterSigma, budget) !== 'no') return []
  const told = `the total at ${wavelength} nm, ${now.toFixed(2)} dB, is over the ${budget.toFixed(2)} dB of its budget`
  return [
    before > budget
      ? {
          reason: `${told}, as it was before`,
          next: 'find out what the link lost before the fault: joints, fiber, record',
        }
      : { reason: `${told}; it was ${before.toFixed(2)} dB`, next: 'redo the joint that lost most' },
  ]
}
