import type { Shot } from '../src/locate/index.ts'
import { buildThread, type PlantBundle, type Thread } from '../src/plant/index.ts'
import { seededRandom } from '../src/math/index.ts'
import { shootLink, type Damage } from '../src/sim/index.ts'
import { analyzeTrace, decodeTrace } from '../src/trace/index.ts'
import { drawnSurvey, type Survey } from './fieldCases.ts'
import { chainageOf, LINK, pick, randomPlant, recordsOf } from './randomFault.ts'

export const REPAIR_KINDS = [
  'good',
  'poor joint',
  'wrong fiber',
  'fault left',
  'second fault',
  'closing bend',
  'dirty connector',
  'length inserted',
  'no baseline',
] as const
export type RepairKind = (typeof REPAIR_KINDS)[number]

/** A repair as the field has it: what was wrong, what was done and logged, and what is wrong now. */
export interface RepairCase {
  seed: number
  kind: RepairKind
  /** As it truly lay before the repair, and after it. */
  truth: PlantBundle
  after: PlantBundle
  records: PlantBundle
  fault: Damage[]
  /** Joints made, and what is still wrong. */
  left: Damage[]
  /** Of the log: chainages of new joints, and nodes at which joints were redone. */
  newJoints: number[]
  redone: string[]
  /** What is wrong after the repair: loss at 1550 nm, infinite for a break; null where all is well. */
  wrong: { damage: Damage; loss: number } | null
  /** Losses of the joints that were made in the cable's run, dB. */
  joints: number[]
  surveys: Record<'baseline' | 'present' | 'after', Survey>
}

/** So far from anything else a second thing is put, m. */
const APART = 120

/** The repair of a seed. Sizes are those of the trade: joints 0.005 to 0.08 dB when good, 0.35 to 1.2 dB when poor. */
export function repairCase(seed: number, wanted?: RepairKind): RepairCase {
  const random = seededRandom(seed * 9176 + 77)
  const kind = wanted ?? REPAIR_KINDS[seed % REPAIR_KINDS.length]!
  const between = (least: number, most: number) => least + (most - least) * random.uniform()
  const pulse = 10e-9 * 30 ** random.uniform()
  const truth = randomPlant(random, Math.min(5, Math.max(0.6, (pulse * 1e9) ** 0.33 / 2.2)))
  const records = recordsOf(truth, random)
  const thread = buildThread(truth, LINK)
  const apart = APART + 5 * pulse * 1e8
  const somewhere = (from: readonly number[]) => {
    for (;;) {
      const fiber = between(0.06, 0.92) * thread.fiberLength
      if (from.every((other) => Math.abs(other - fiber) > apart)) return fiber
    }
  }
  const nodesOf = (joint: string) => thread.nodes.filter((node) => node.joint === joint)
  const splices = nodesOf('splice')
  const inRun = splices.length === 0 || kind === 'length inserted' || random.uniform() < 0.6
  const place = inRun ? null : pick(random, splices)
  const known = thread.nodes.map((node) => node.fiber)
  const fiber = place ? place.fiber : somewhere(known)
  const at: Damage['at'] = place ? { node: place.id } : { fiber }
  const fault: Damage[] = [
    random.uniform() < 0.5
      ? { at, breaks: true, reflectance: random.uniform() < 0.5 ? -15 - 30 * random.uniform() : null }
      : { at, breaks: false, loss: between(0.6, 3) },
  ]
  const good = () => (place ? between(-0.02, 0.03) : between(0.005, 0.08))
  const logged = { newJoints: [] as number[], redone: [] as string[] }
  const log = () => {
    if (place) logged.redone.push(place.id)
    else logged.newJoints.push(chainageOf(truth, thread, { at: { fiber }, breaks: false }) + 8 * random.normal())
  }
  let after = truth
  let left: Damage[] = [{ at, breaks: false, loss: good() }]
  let wrong: RepairCase['wrong'] = null
  const isWrong = (damage: Damage, loss: number) => {
    wrong = { damage, loss }
    left = [...left, damage]
  }
  const poor = () => {
    const loss = between(0.35, 1.2)
    left = []
    isWrong({ at, breaks: false, loss }, loss)
  }
  if (kind !== 'fault left') log()
  switch (kind) {
    case 'good':
      break
    case 'poor joint':
      poor()
      break
    case 'wrong fiber':
    case 'fault left':
      left = []
      isWrong(fault[0]!, fault[0]!.breaks ? Infinity : (fault[0]!.loss as number))
      if (kind === 'fault left' && random.uniform() < 0.5) {
        const elsewhere = somewhere([...known, fiber])
        left.push({ at: { fiber: elsewhere }, breaks: false, loss: between(0.005, 0.08) })
        logged.newJoints.push(chainageOf(truth, thread, { at: { fiber: elsewhere }, breaks: false }))
      }
      break
    case 'second fault': {
      const second: Damage = { at: { fiber: somewhere([...known, fiber]) }, breaks: random.uniform() < 0.4 }
      if (!second.breaks) second.loss = between(0.35, 2)
      fault.push(second)
      isWrong(second, second.breaks ? Infinity : (second.loss as number))
      break
    }
    case 'closing bend': {
      const size = between(0.35, 1.5)
      const other = splices.filter((node) => node !== place)
      const bent: Damage['at'] = other.length > 0 && random.uniform() < 0.5 ? { node: pick(random, other).id } : at
      if ('node' in bent && !logged.redone.includes(bent.node)) logged.redone.push(bent.node)
      const bend: Damage = { at: bent, breaks: false, loss: { '1310': 0.12 * size, '1550': size, '1625': 2 * size } }
      if (bent === at) {
        const joint = left[0]!.loss as number
        left = []
        isWrong({ ...bend, loss: { '1310': joint + 0.12 * size, '1550': joint + size } }, size)
      } else isWrong(bend, size)
      break
    }
    case 'dirty connector': {
      const loss = between(0.3, 1.5)
      isWrong(
        { at: { node: pick(random, nodesOf('connector')).id }, breaks: false, loss, reflectance: between(-33, -20) },
        loss,
      )
      break
    }
    case 'length inserted': {
      after = lengthened(truth, thread, fiber, between(5, 120))
      const added = buildThread(after, LINK).fiberLength - thread.fiberLength
      left.push({ at: { fiber: fiber + added }, breaks: false, loss: good() })
      log()
      break
    }
    case 'no baseline':
      if (random.uniform() < 0.5) poor()
  }
  const joints = left.flatMap((one) => ('fiber' in one.at && one !== wrong?.damage ? [one.loss as number] : []))
  return {
    seed,
    kind,
    truth,
    after,
    records,
    fault,
    left,
    ...logged,
    wrong,
    joints,
    surveys: {
      baseline: drawnSurvey(random, pulse * 2 ** between(-1, 1), thread, 0.04),
      present: drawnSurvey(random, pulse, thread, 0.06),
      after: drawnSurvey(random, pulse, thread, 0.04),
    },
  }
}

/** The plant with so much more cable coiled where it was cut. */
function lengthened(truth: PlantBundle, thread: Thread, fiber: number, sheath: number): PlantBundle {
  const after = structuredClone(truth)
  const piece = thread.pieces.find((one) => fiber >= one.fiberFrom && fiber <= one.fiberTo)!
  after.nodes.push({
    id: 'repair',
    name: 'repair',
    kind: 'closure',
    routeId: 'route',
    chainage: chainageOf(truth, thread, { at: { fiber }, breaks: false }),
    slack: [{ cable: piece.cable, side: 'through', sheath }],
    trayFiber: [],
  })
  return after
}

type SurveyName = 'baseline' | 'present' | 'after'

const WAVELENGTHS = [1310, 1550]

/** Shoots one survey of a case from both ends. */
export function shootSurvey(one: RepairCase, name: SurveyName, wavelengths: readonly number[] = WAVELENGTHS): Shot[] {
  const { plant, damages, seed } = {
    baseline: { plant: one.truth, damages: [], seed: 100 },
    present: { plant: one.truth, damages: one.fault, seed: 300 },
    after: { plant: one.after, damages: one.left, seed: 500 },
  }[name]
  const { launch, receive, settings, instrument } = one.surveys[name]
  return (['ab', 'ba'] as const).flatMap((direction, i) =>
    wavelengths.map((wavelength): Shot => {
      const bytes = shootLink(
        plant,
        LINK,
        { seed: one.seed },
        {
          direction,
          wavelength,
          cords: { launch, receive },
          damages,
          seed: one.seed * 1000 + seed + 10 * WAVELENGTHS.indexOf(wavelength) + i,
          takenAt: '2026-03-01T00:00:00Z',
          condition: 'OT',
          instrument,
          settings,
        },
      )
      const analysis = analyzeTrace(decodeTrace(bytes))
      return { name: `${direction} ${wavelength}`, direction, analysis, launch, receive }
    }),
  )
}

/** Shoots the surveys of a case from both ends at both wavelengths. */
export function shootRepair(one: RepairCase): Record<SurveyName, Shot[]> {
  return {
    baseline: one.kind === 'no baseline' ? [] : shootSurvey(one, 'baseline'),
    present: shootSurvey(one, 'present'),
    after: shootSurvey(one, 'after'),
  }
}
