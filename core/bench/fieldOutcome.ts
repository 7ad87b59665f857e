import { locateFaults, type Fault } from '../src/locate/index.ts'
import { buildThread, placeAt } from '../src/plant/index.ts'
import { pulseLength } from '../src/units/index.ts'
import { fieldCase, shootFieldCase, type FieldCase, type FieldKind } from '../test/fieldCases.ts'
import { LINK } from '../test/randomFault.ts'

/** What a bench asks of one seed. */
export interface FieldTask {
  seed: number
  wavelengths: readonly number[]
  kind?: FieldKind
}

/** One true damage and the fault that was found for it, if any. */
export interface Outcome {
  seed: number
  kind: FieldKind
  /** dB; infinite for a break */
  size: number
  /** dB scatter of a point at the far end, from good to poor. */
  noise: number
  /** ns */
  pulse: number
  found: boolean
  /** A loss over a stretch: its place is the stretch's middle. */
  spread: boolean
  /** m on the ground */
  error: number
  covered: boolean
  /** Half the 95 % interval, m. */
  halfWidth: number
  atNode: boolean
  /** Probability given to each node, those closer together than a pulse length as one, and whether it was the true one. */
  nodes: { probability: number; isTrue: boolean }[]
  likeliestCause: string
}

export interface FieldOutcome {
  seed: number
  /** dB scatter of a point at the far end. */
  noise: number
  outcomes: Outcome[]
  /** Faults that are none of the damages. */
  falseFaults: number
}

/** Ground covered by a damage: a point, or the stretch of a spread one, chainages. */
function stretchOf(field: FieldCase, k: number): [number, number] {
  const damage = field.damages[k]!
  const chainage = field.chainages[k]!
  if (!damage.extent || !('fiber' in damage.at)) return [chainage, chainage]
  const thread = buildThread(field.truth, LINK)
  const ends = [damage.at.fiber, damage.at.fiber + damage.extent].map((at) => placeAt(thread, 'fiber', at).chainage)
  return [Math.min(...ends), Math.max(...ends)]
}

/** Shoots the case of a seed, locates its faults and holds them against the truth. */
export default function fieldOutcome({ seed, wavelengths, kind }: FieldTask): FieldOutcome {
  const field = fieldCase(seed, kind)
  const { faults } = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field, wavelengths) })
  const pulse = field.present.settings.pulseWidth!
  const near = 30 + 2 * pulseLength(pulse, 1.468)
  const stretches = field.damages.map((_, k) => stretchOf(field, k))
  const claimed = new Set<Fault>()
  const outcomes = field.damages.map((damage, k): Outcome => {
    const [low, high] = stretches[k]!
    const away = (at: number) => Math.max(0, low - at, at - high)
    const nearest = faults.toSorted((a, b) => away(a.chainage) - away(b.chainage))[0]
    const fault = nearest && away(nearest.chainage) < near ? nearest : null
    if (fault) claimed.add(fault)
    const atNode = field.node !== null && k === 0
    const middle = (low + high) / 2
    // A node's chainage is one place in the records: rounding must not count.
    const slack = atNode ? 0.5 : 0
    return {
      seed,
      size: damage.breaks ? Infinity : typeof damage.loss === 'number' ? damage.loss : (damage.loss?.['1550'] ?? 0),
      noise: field.present.farScatter,
      pulse: pulse * 1e9,
      found: fault !== null,
      spread: high > low,
      error: fault ? Math.abs(fault.chainage - middle) : NaN,
      covered: !!fault && fault.interval95[0] - slack <= middle && middle <= fault.interval95[1] + slack,
      halfWidth: fault ? (fault.interval95[1] - fault.interval95[0]) / 2 : NaN,
      kind: field.kind,
      atNode,
      nodes: fault ? nodesAsPlaces(field, fault, atNode ? field.node : null, pulseLength(pulse, 1.468)) : [],
      likeliestCause: fault?.causes[0]?.cause ?? 'none',
    }
  })
  const beside = (fault: Fault) =>
    !stretches.some(([low, high]) => fault.chainage > low - near && fault.chainage < high + near)
  return {
    seed,
    noise: field.present.farScatter,
    outcomes,
    falseFaults: faults.filter((fault) => !claimed.has(fault) && beside(fault)).length,
  }
}

function nodesAsPlaces(
  field: FieldCase,
  fault: Fault,
  trueNode: string | null,
  pulseMetres: number,
): { probability: number; isTrue: boolean }[] {
  const fiberAt = new Map(buildThread(field.records, LINK).nodes.map((node) => [node.id, node.fiber]))
  const given = fault.places
    .flatMap(({ node, probability }) => (node === undefined ? [] : [{ node, probability, fiber: fiberAt.get(node)! }]))
    .sort((a, b) => a.fiber - b.fiber)
  const merged: { probability: number; isTrue: boolean; fiber: number }[] = []
  for (const { node, probability, fiber } of given) {
    const before = merged.at(-1)
    if (before && fiber - before.fiber < pulseMetres) {
      before.probability += probability
      before.isTrue ||= node === trueNode
    } else merged.push({ probability, isTrue: node === trueNode, fiber })
  }
  return merged.map(({ probability, isTrue }) => ({ probability, isTrue }))
}
