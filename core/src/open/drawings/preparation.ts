import { holds, type Condition, type SheetFacts } from '../sheet/facts.ts'
import {
  bendRadius,
  lengthOf,
  LENGTH_RULES,
  lengthRulesFor,
  OWN_TABLE,
  STORING_RADIUS,
  type GivenLengths,
  type Span,
} from './lengths.ts'

/** A place on the cable as a sum of lengths from its end; `minus` is taken off. */
interface At {
  of: readonly string[]
  minus?: readonly string[]
}

interface PlannedLayer {
  name: string
  /** Where it ends, from the cable's end. */
  at: At
  when?: Condition
}

/** Something that goes on under the sheath, with where it ends. */
export interface Layer {
  name: string
  /** m from the cable's free end; 0: it goes to the end. */
  endsAt: Span
}

/** A cut or mark on the way there, which nothing is left of. */
export interface PrepMark {
  name: string
  at: Span
}

/** A prepared cable end, to scale: everything is measured from the free end of the cable as it arrives. */
export interface Preparation {
  /** From the outermost inwards. */
  layers: Layer[]
  marks: PrepMark[]
  /** Cut off in the end, m. */
  cutOff: Span
  /** What is left free beyond the sheath, m. */
  free: Span
  bends: { name: string; radius: number; source: string }[]
}

const layer = (name: string, of: readonly string[], minus: readonly string[] = [], when?: Condition): PlannedLayer => ({
  name,
  at: { of, minus },
  ...(when ? { when } : {}),
})

/** By construction; from procedures of the same name (common practice, no published source). */
const PLANS: Record<string, { layers: PlannedLayer[]; marks: PlannedLayer[]; cutOff: string[] }> = {
  'loose-tube': {
    layers: [
      layer('outer sheath', ['sheath']),
      layer('armor', ['sheath'], [], { armored: true }),
      layer('inner jacket', ['sheath'], [], { doubleJacket: true }),
      layer('ripcords', ['sheath'], ['ripcord-left'], { armored: true, grounded: true }),
      layer('strength member', ['sheath'], ['strength-member'], {
        strengthMember: true,
        closureOtherThan: ['wall-box'],
      }),
      layer('tubes', []),
    ],
    marks: [],
    cutOff: [],
  },
  'micro-module': {
    layers: [
      layer('sheath with its two rods', ['sheath']),
      layer('aramid', ['sheath'], ['aramid']),
      layer('core wrap', ['sheath']),
      layer('modules', []),
    ],
    marks: [layer('test cut of the slitter', ['test-cut'])],
    cutOff: [],
  },
  'rollable-ribbon': {
    layers: [
      layer('outer sheath', ['mark']),
      layer('armor', ['mark'], [], { armored: true }),
      layer('outer ripcords', ['mark'], ['ripcord-left'], { armored: true, grounded: true }),
      layer('inner jacket', ['mark'], ['inner-jacket'], { doubleJacket: true }),
      layer('bundles', ['bundle-end']),
    ],
    marks: [
      layer('first ring cut', ['ring-cut']),
      layer('ripcords first pulled to', ['mark'], ['short-of-mark']),
      layer('inner ripcords first pulled to', ['mark'], ['inner-short'], { doubleJacket: true }),
    ],
    cutOff: ['bundle-end'],
  },
  'active-4': {
    layers: [layer('jacket', ['active-jacket']), layer('900 µm tube', [])],
    marks: [layer('first pull', ['active-pull'])],
    cutOff: [],
  },
  'pigtail-module': {
    layers: [
      layer('outer jacket', ['module-jacket']),
      layer('inner jacket', ['module-jacket'], ['module-inner']),
      layer('coating', ['module-coating']),
      layer('bare fiber', []),
    ],
    marks: [],
    cutOff: [],
  },
}

/** Constructions that lengths are known for. */
export function preparedConstructions(): string[] {
  return Object.keys(PLANS)
}

/**
 * The prepared end of a cable, everything from its free end, m.
 * @returns null for a construction without a procedure; lengths that nobody gave come back as `lacks`
 */
export function prepareEnd(facts: SheetFacts, given: GivenLengths): Preparation | { lacks: string[] } | null {
  const plan = Object.hasOwn(PLANS, facts.construction) ? PLANS[facts.construction]! : null
  if (!plan || facts.entry !== 'end') return null
  const rules = lengthRulesFor(facts)
  const lacks = new Set<string>()
  const placeOf = ({ of, minus = [] }: At): Span => {
    const span = { min: 0, max: 0 }
    const add = (ids: readonly string[], sign: 1 | -1) => {
      for (const id of ids) {
        const length = lengthOf(id, given, rules)
        if (!length) lacks.add(id === 'mark' ? 'sheath' : id)
        else {
          span.min += sign === 1 ? length.min : -length.max
          span.max += sign === 1 ? length.max : -length.min
        }
      }
    }
    add(of, 1)
    add(minus, -1)
    return span
  }
  const chosen = (list: PlannedLayer[]) => list.filter(({ when }) => holds(when, facts))
  const layers = chosen(plan.layers).map(({ name, at }) => ({ name, endsAt: placeOf(at) }))
  const marks = chosen(plan.marks).map(({ name, at }) => ({ name, at: placeOf(at) }))
  const cutOff = placeOf({ of: plan.cutOff })
  if (lacks.size > 0) return { lacks: [...lacks] }
  const sheath = layers[0]!.endsAt
  const bends = [
    ...(facts.diameter === null
      ? []
      : [
          { name: 'cable at rest', radius: bendRadius(facts.diameter, false), source: 'ten diameters: TIA-568' },
          {
            name: 'cable under tension',
            radius: bendRadius(facts.diameter, true),
            source: 'twenty diameters: TIA-568',
          },
        ]),
    {
      name: 'stored fiber',
      radius: given['storing-radius']?.min ?? STORING_RADIUS,
      source: given['storing-radius'] ? OWN_TABLE : 'common practice, no published source',
    },
  ]
  return {
    layers,
    marks,
    cutOff,
    free: { min: sheath.min - cutOff.max, max: sheath.max - cutOff.min },
    bends,
  }
}

/**
 * Whether what is free is enough for what the closure keeps in basket and tray.
 * @returns what is kept, and what is left of the least that is free, m; negative: so much more sheath has to come off
 */
export function slackIn(
  { free }: Pick<Preparation, 'free'>,
  given: GivenLengths,
): { kept: { label: string; span: Span }[]; spare: number } {
  const kept = ['basket-slack', 'tray-slack'].flatMap((id) =>
    given[id] ? [{ label: LENGTH_RULES.find((rule) => rule.id === id)!.label, span: given[id] }] : [],
  )
  return { kept, spare: free.min - kept.reduce((sum, { span }) => sum + span.min, 0) }
}
