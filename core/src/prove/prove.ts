import { median } from 'simple-statistics'
import { CodedError } from '../errors/index.ts'
import { fiberOf } from '../locate/records/calibrate.ts'
import type { LocateWarning, Shot } from '../locate/shots/shot.ts'
import { withCommonEnds } from '../locate/shots/launchFound.ts'
import { withoutUnusable } from '../locate/shots/unusable.ts'
import { withNominalWavelengths } from '../locate/shots/wavelengths.ts'
import { buildThread, fiberAtChainage } from '../plant/thread.ts'
import type { PlantBundle } from '../plant/types.ts'
import { lossBudget } from '../lossTest/budget.ts'
import type { OtherFibers } from './cable/cableProof.ts'
import { causesOf } from './joints/causes.ts'
import { conclude } from './verdict/conclude.ts'
import { judgeJoint } from './joints/judgeJoint.ts'
import { judgeTotal } from './verdict/judgeTotal.ts'
import type { LossFigure } from '../lossTest/judge.ts'
import { judgeContinuity, type Continuity } from '../lossTest/continuity.ts'
import type { ReceivedPower } from '../lossTest/received.ts'
import type { ReadTrunk } from '../lossTest/trunk/trunk.ts'
import { judgeNewJoints } from './joints/newJoints.ts'
import type { Proof } from './verdict/proof.ts'
import { ruleBook } from '../ruleBook/rules.ts'
import { calibrateFor, jointsOf, survey, type Survey } from './joints/sites.ts'
import type { Work } from './verdict/work.ts'

export interface ProveInput {
  plant: PlantBundle
  linkId: string
  baseline: readonly Shot[]
  after: readonly Shot[]
  /** What the log tells of work: new joints are measured even where no event shows. Absent where no log is known. */
  work?: Work
  /** The link as it was shot while the fault was there. */
  present?: readonly Shot[]
  /** Losses by source and meter, of the link and of others that were read beside it. */
  losses?: readonly LossFigure[]
  /** What receivers saw before and after. */
  received?: readonly ReceivedPower[]
  /** Where light came out, of the link and of others. */
  continuity?: readonly Continuity[]
  /** Multi-fiber trunks that were read. */
  trunks?: readonly ReadTrunk[]
  /** Fibers of the cable that were shot beside the link. */
  fibers?: OtherFibers | null
  rules?: string
}

/**
 * Judges a repair: every joint of the link after against before, two-way where both directions exist, new events
 * against the rule book's splice limit, the total against the old one plus what the repair must add.
 * @throws CodedError for an unknown link or rule book
 */
export function proveRepair(given: ProveInput): Proof {
  const warnings: LocateWarning[] = []
  const usable = withoutUnusable(given.baseline, given.after, warnings)
  const [shotBefore, shotAfter, then] = withNominalWavelengths(usable.baseline, usable.present, given.present ?? [])
  const rules = ruleBook(given.rules ?? 'standard')
  const newJoints = given.work?.newJoints ?? []
  const { plant, linkId } = given
  const link = plant.links.find(({ id }) => id === linkId)
  if (!link) throw new CodedError('not-found', `there is no link "${linkId}"`)
  const threads = { ab: buildThread(plant, linkId, 'ab'), ba: buildThread(plant, linkId, 'ba') }
  const [baseline, later] = [withCommonEnds(shotBefore, threads), withCommonEnds(shotAfter, threads)]
  const input = { ...given, baseline, after: later, present: then }
  const calibration = calibrateFor(input.plant, input.linkId, input.baseline, input.after)
  const before = survey(input.baseline, calibration)
  const after = withShift(survey(input.after, calibration, true), before, newJoints)
  const joints = jointsOf(calibration)
  const wavelengths = [...new Set(input.after.map((shot) => shot.analysis.trace.wavelength))].sort((a, b) => a - b)
  const events = wavelengths.flatMap((wavelength) => {
    const at = (surveys: readonly Survey[]) => surveys.filter((s) => s.shot.analysis.trace.wavelength === wavelength)
    const known = joints.map((node) => judgeJoint(node, at(before), at(after), rules))
    const added = judgeNewJoints(joints, at(before), at(after), newJoints, rules)
    return [...known, ...added].sort((a, b) => a.chainage - b.chainage)
  })
  const total = Object.fromEntries(
    wavelengths.map((wavelength) => {
      const budget = (moreSplices: number) => lossBudget(input.plant, link, wavelength, 'one-cord', moreSplices).allowed
      return [String(wavelength), judgeTotal(wavelength, before, after, events, rules, budget)]
    }),
  )
  const { losses = [], received = [], trunks = [] } = input
  const nameOf = (id: string) => input.plant.links.find((link) => link.id === id)?.name ?? id
  const continuity = judgeContinuity(input.linkId, input.continuity ?? [], nameOf)
  const present = survey(then, calibration)
  const found = causesOf({ events, before, present, after, work: input.work ?? null, rules })
  const findings = {
    input,
    events,
    causes: found,
    total,
    after,
    before,
    wavelengths,
    losses,
    received,
    continuity,
    trunks,
    fibers: input.fibers ?? null,
    unusable: warnings,
    rules,
  }
  return {
    ...conclude(findings),
    added: before.length > 0 && after.some(({ ends }) => ends.end) ? addedFiber(after, before) : null,
    causes: found.map(({ covers: _, ...cause }) => cause),
    rules: { name: rules.name, version: rules.version },
    events,
    total,
    warnings: [
      ...warnings,
      ...input.after.flatMap((shot) =>
        shot.analysis.warnings.map(({ code, message }) => ({ code, message: `${shot.name}: ${message}` })),
      ),
    ],
  }
}

/**
 * Fiber added or taken out by the repair, m, by the shots that show the far end before and after. It is one fiber, whatever
 * the wavelength and the end.
 */
function addedFiber(after: readonly Survey[], before: readonly Survey[]): number {
  const lengthOf = ({ ends, shot, calibration }: Survey) =>
    fiberOf(calibration.threads[shot.direction], shot.analysis.trace, ends, ends.end!.distance)
  const pairs = after.flatMap((item) => {
    if (!item.ends.end) return []
    const sameWay = before.filter(({ ends, shot }) => ends.end && shot.direction === item.shot.direction)
    const wavelengthOf = ({ shot }: Survey) => shot.analysis.trace.wavelength
    const old = sameWay.find((one) => wavelengthOf(one) === wavelengthOf(item)) ?? sameWay[0]
    return old ? [lengthOf(item) - lengthOf(old)] : []
  })
  return pairs.length > 0 ? median(pairs) : 0
}

/** Surveys that know by how much what lies beyond the repair has moved, and where that was. */
function withShift(after: Survey[], before: readonly Survey[], newJoints: readonly number[]): Survey[] {
  const shift = addedFiber(after, before)
  return after.map((item) => {
    const { ab } = item.calibration.threads
    const first = newJoints.length > 0 ? fiberAtChainage(ab, Math.min(...newJoints)) : null
    const repairedAt = first === null || item.shot.direction === 'ab' ? first : ab.fiberLength - first
    return { ...item, shift, repairedAt }
  })
}
