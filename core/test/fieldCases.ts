import type { Shot } from '../src/locate/index.ts'
import { buildThread, type Direction, type PlantBundle, type Thread } from '../src/plant/index.ts'
import { seededRandom, type Random } from '../src/math/index.ts'
import {
  shootLink,
  type Cords,
  type Damage,
  type Instrument,
  type PulseShape,
  type ShotSettings,
} from '../src/sim/index.ts'
import { analyzeTrace, decodeTrace } from '../src/trace/index.ts'
import { chainageOf, LINK, pick, randomPlant, recordsOf } from './randomFault.ts'

export type FieldKind = 'break' | 'crush' | 'macrobend' | 'bad-splice' | 'connector' | 'water' | 'two' | 'none'

/** How one survey was taken: with which instrument and settings. */
export interface Survey {
  instrument: Instrument
  settings: Partial<Omit<ShotSettings, 'wavelength'>>
  launch: number
  receive: number
  /** Whether the survey's record says how long its cords were; it does when absent. */
  told?: boolean
  /** dB that the cords scatter more than typical fiber, and that their matings lose more than on average. */
  cords?: Pick<Cords, 'backscatter' | 'matings'>
  /** dB that a point scatters by at the link's far end. */
  farScatter: number
}

/** A fault as the field has it: two surveys with different instruments, records with errors. */
export interface FieldCase {
  seed: number
  kind: FieldKind
  truth: PlantBundle
  records: PlantBundle
  damages: Damage[]
  /** Chainage of each damage, m. */
  chainages: number[]
  /** Node at which the first damage sits, or null. */
  node: string | null
  baseline: Survey
  present: Survey
}

const KINDS: FieldKind[] = ['break', 'break', 'crush', 'macrobend', 'bad-splice', 'connector', 'water', 'two']
const SHAPES: PulseShape[] = ['rectangular', 'raised-cosine', 'trailing']

/** Pulses from 5 ns to 20 µs, drawn evenly on a logarithmic scale; links grow with the pulse. */
export function fieldCase(seed: number, kind?: FieldKind): FieldCase {
  const random = seededRandom(seed * 6007 + 101)
  const pulse = 5e-9 * 4000 ** random.uniform()
  const lengthFactor = Math.min(5, Math.max(0.6, (pulse * 1e9) ** 0.33 / 2.2))
  const truth = randomPlant(random, lengthFactor)
  const records = recordsOf(truth, random)
  const thread = buildThread(truth, LINK)
  const drawn = kind ?? pick(random, KINDS)
  const damages = damagesOf(random, drawn, truth, thread)
  const present = drawnSurvey(random, pulse, thread)
  const baseline = drawnSurvey(random, pulse * 2 ** (2 * random.uniform() - 1), thread)
  if (drawn === 'connector') patched(damages[0]!, [truth, records], thread)
  const first = damages[0]
  const cords = seededRandom(seed * 4637 + 11)
  return {
    seed,
    kind: drawn,
    truth,
    records,
    damages,
    chainages: damages.map((damage) => chainageOf(truth, thread, middleOf(damage))),
    node: first && 'node' in first.at ? first.at.node : null,
    baseline: withOwnCords(baseline, cords),
    present: withOwnCords(present, cords),
  }
}

/** A fault of a connector sits at one: where the link has none inside, the joint nearest to its place becomes one. */
function patched(damage: Damage, plants: readonly PlantBundle[], thread: Thread): void {
  const { at } = damage
  if (!('fiber' in at)) return
  const joints = thread.nodes.filter(({ joint }) => joint === 'splice')
  const nearest = joints.reduce((a, b) => (Math.abs(b.fiber - at.fiber) < Math.abs(a.fiber - at.fiber) ? b : a))
  for (const { links } of plants)
    for (const step of links[0]!.path) if ('node' in step && step.node === nearest.id) step.joint = 'connector'
  damage.at = { node: nearest.id }
}

/** A mode field within the tolerance of G.652 changes what a fiber scatters by so much, dB, one standard deviation. */
const CORD_SCATTER = 0.22
/** One mating loses more or less than the next by up to this, dB (common practice). */
const MATING_SPREAD = 0.08

/** No two surveys use the same cords: half of them have no receive cord, and of some nobody wrote the lengths down. */
function withOwnCords(survey: Survey, random: Random): Survey {
  const even = (most: number) => most * (2 * random.uniform() - 1)
  return {
    ...survey,
    receive: random.uniform() < 0.5 ? 0 : survey.receive * (0.5 + random.uniform()),
    told: random.uniform() < 0.7,
    cords: {
      backscatter: { launch: CORD_SCATTER * random.normal(), receive: CORD_SCATTER * random.normal() },
      matings: { near: even(MATING_SPREAD), far: even(MATING_SPREAD) },
    },
  }
}

/**
 * Two strong reflections that came since the baseline, at the launch connection and along the link: light that runs
 * between them once more shows at twice the distance, where there is nothing. With `faulty` a loss lies under the echo.
 */
export function ghostCase(seed: number, faulty: boolean): FieldCase {
  const random = seededRandom(seed * 7877 + 5)
  const pulse = 5e-9 * 8 ** random.uniform()
  const truth = randomPlant(random, 0.6)
  const records = recordsOf(truth, random)
  const thread = buildThread(truth, LINK)
  const fiber = (0.15 + 0.25 * random.uniform()) * thread.fiberLength
  const damages: Damage[] = [
    { at: { node: thread.nodes[0]!.id }, breaks: false, loss: 0.1, reflectance: -18 - 5 * random.uniform() },
    { at: { fiber }, breaks: false, loss: 0.2 + 0.3 * random.uniform(), reflectance: -15 - 4 * random.uniform() },
    ...(faulty ? [{ at: { fiber: 2 * fiber }, breaks: false, loss: 0.3 + 0.7 * random.uniform() }] : []),
  ]
  const present = drawnSurvey(random, pulse, thread, 0.02)
  return {
    seed,
    kind: 'none',
    truth,
    records,
    damages,
    chainages: [...damages, { at: { fiber: 2 * fiber }, breaks: false }].map((one) => chainageOf(truth, thread, one)),
    node: null,
    baseline: drawnSurvey(random, pulse * 2 ** (2 * random.uniform() - 1), thread, 0.02),
    present,
  }
}

/** A loss that is spread over a stretch is meant by the middle of it. */
function middleOf(damage: Damage): Damage {
  return damage.extent && 'fiber' in damage.at
    ? { ...damage, at: { fiber: damage.at.fiber + damage.extent / 2 } }
    : damage
}

/** Instrument and settings drawn for a pulse in s; `poorest` is the most that a point at the far end scatters by, dB. */
export function drawnSurvey(random: Random, pulse: number, thread: Thread, poorest = 0.15): Survey {
  const width = Math.round(Math.min(20_000, Math.max(3, pulse * 1e9))) * 1e-9
  const pulseMetres = (width * 299_792_458) / (2 * 1.468)
  const launch = Math.max(100 + 400 * random.uniform(), 3 * pulseMetres)
  const range = (thread.fiberLength + 2 * launch) * 1.3 + 1000
  const finest = Math.max(0.04, range / 250_000)
  const coarsest = Math.min(5, pulseMetres / 2)
  const spacing = Math.min(coarsest, finest * (coarsest / finest) ** random.uniform())
  const { averages, farScatter } = averagesFor(random, width, thread, poorest)
  const light = seededRandom(Math.round(launch * 1e6))
  return {
    farScatter,
    launch,
    receive: launch,
    settings: {
      pulseWidth: width,
      spacing,
      range: Math.min(range, spacing * 400_000),
      averages,
      groupIndex: 1.4682,
    },
    instrument: {
      name: 'made up',
      noisePower: -66,
      saturation: -37 + 6 * random.uniform(),
      timeConstant: (0.05 + 0.25 * random.uniform()) * width,
      backscatterSetting: random.uniform() < 0.5 ? -81.5 : null,
      pulseShape: pick(random, SHAPES),
      // Sources of 200 GHz to 1.5 THz; poles of a receiver's low frequencies (both from memory).
      coherence: { width: 200e9 * 7.5 ** light.uniform(), seed: Math.floor(2 ** 31 * light.uniform()) },
      slowPole: { part: 1e-4 * 20 ** light.uniform(), timeConstant: 0.2e-6 * 15 ** light.uniform() },
      recovery: { part: 0.02 * random.uniform(), timeConstant: width * (0.3 + random.uniform()) },
      clockError: 3e-6 * random.normal(),
      zeroError: 0.5 * random.normal(),
      negative: random.uniform() < 0.5 ? 'clipped' : 'folded',
    },
  }
}

/** So many averages that a point at the link's far end scatters by 0.01 dB (good) to `poorest`. */
function averagesFor(
  random: Random,
  width: number,
  thread: Thread,
  poorest: number,
): { averages: number; farScatter: number } {
  const wanted = 0.01 * (poorest / 0.01) ** random.uniform()
  const power = -82 + 10 * Math.log10(width * 1e9) - 2 * (0.21e-3 * thread.fiberLength + 1.5)
  const relative = wanted / 2.17
  const averages = Math.min(2 ** 22, Math.max(1, 10 ** ((2 * (-66 - power)) / 10) / relative ** 2))
  const farScatter = (2.17 * 10 ** ((-66 - power) / 10)) / Math.sqrt(averages)
  return { averages, farScatter }
}

function damagesOf(random: Random, kind: FieldKind, truth: PlantBundle, thread: Thread): Damage[] {
  const somewhere = (low = 0.04, high = 0.94) => ({
    fiber: (low + (high - low) * random.uniform()) * thread.fiberLength,
  })
  const joints = truth.links[0]!.path.flatMap((step) => ('node' in step ? [step] : []))
  const atJoint = (connector: boolean) => {
    const wanted = joints.filter((step) => (step.joint === 'connector') === connector)
    return wanted.length > 0 ? { node: pick(random, wanted).node } : somewhere()
  }
  const size = 0.08 * 15 ** random.uniform()
  switch (kind) {
    case 'none':
      return []
    case 'break':
      return [
        { at: somewhere(), breaks: true, reflectance: random.uniform() < 0.5 ? -15 - 30 * random.uniform() : null },
      ]
    case 'crush':
      return [{ at: somewhere(), breaks: false, loss: { '1310': size, '1550': size * 1.1 } }]
    case 'macrobend':
      return [{ at: somewhere(), breaks: false, loss: { '1310': size * 0.15, '1550': size, '1625': size * 2 } }]
    case 'bad-splice':
      return [{ at: atJoint(false), breaks: false, loss: { '1310': size * 1.1, '1550': size } }]
    case 'connector':
      return [{ at: atJoint(true), breaks: false, loss: size, reflectance: -35 + 5 * random.normal() }]
    case 'water':
      return [
        {
          at: somewhere(),
          breaks: false,
          loss: { '1310': size, '1550': 2 * size },
          extent: 50 + 300 * random.uniform(),
        },
      ]
    case 'two': {
      const first = somewhere(0.05, 0.4)
      return [
        { at: first, breaks: false, loss: 2 * size },
        { at: somewhere(0.55, 0.9), breaks: random.uniform() < 0.5, loss: 2 * size },
      ]
    }
  }
}

/** Shoots both surveys from the given ends. */
export function shootFieldCase(
  field: FieldCase,
  wavelengths: readonly number[] = [1550],
  directions: readonly Direction[] = ['ab', 'ba'],
): { baseline: Shot[]; present: Shot[] } {
  const take = (survey: Survey, damages: Damage[], base: number) =>
    directions.flatMap((direction, i) =>
      wavelengths.map((wavelength, k): Shot => {
        const bytes = shootLink(
          field.truth,
          LINK,
          { seed: field.seed },
          {
            direction,
            wavelength,
            cords: { launch: survey.launch, receive: survey.receive, ...survey.cords },
            damages,
            seed: field.seed * 100 + base + 10 * k + i,
            takenAt: '2026-03-01T00:00:00Z',
            condition: 'OT',
            instrument: survey.instrument,
            settings: survey.settings,
          },
        )
        return {
          name: `${direction} ${wavelength}`,
          direction,
          analysis: analyzeTrace(decodeTrace(bytes)),
          launch: survey.told === false ? null : survey.launch,
          // Where nobody tells, a cord may be there or not.
          receive: survey.told === false || survey.receive === 0 ? null : survey.receive,
        }
      }),
    )
  return { baseline: take(field.baseline, [], 1), present: take(field.present, field.damages, 5) }
}
