import type { Shot } from '../locate/shot.ts'
import type { PlantBundle } from '../plant/types.ts'
import { conclude } from './conclude.ts'
import { judgeJoint } from './judgeJoint.ts'
import { judgeTotal } from './judgeTotal.ts'
import type { LossFigure } from './lossTest/judge.ts'
import type { ReceivedPower } from './lossTest/received.ts'
import type { TrunkTest } from './lossTest/trunk.ts'
import { judgeNewJoints } from './newJoints.ts'
import type { Proof } from './proof.ts'
import { ruleBook } from './rules.ts'
import { calibrateFor, jointsOf, survey, type Survey } from './sites.ts'

export interface ProveInput {
  plant: PlantBundle
  linkId: string
  baseline: readonly Shot[]
  after: readonly Shot[]
  /** Chainages where the log says that a new joint was made: they are measured even where no event shows. */
  newJoints?: readonly number[]
  /** Losses by source and meter, of the link and of others that were read beside it. */
  losses?: readonly LossFigure[]
  /** What receivers saw before and after. */
  received?: readonly ReceivedPower[]
  /** Multi-fiber trunks that were read. */
  trunks?: readonly TrunkTest[]
  rules?: string
}

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
    const added = judgeNewJoints(joints, at(before), at(after), input.newJoints ?? [], rules)
    return [...known, ...added].sort((a, b) => a.chainage - b.chainage)
  })
  const total = Object.fromEntries(
    wavelengths.map((wavelength) => [String(wavelength), judgeTotal(wavelength, before, after, events, rules)]),
  )
  const { losses = [], received = [], trunks = [] } = input
  const findings = { input, events, total, after, before, wavelengths, losses, received, trunks, rules }
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
