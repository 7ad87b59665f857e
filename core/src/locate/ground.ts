import type { Piece, Thread } from '../plant/thread.ts'
import { normalCumulative } from '../units/normal.ts'

/** A node or a stretch of cable with the probability that the fault is there. */
export interface Place {
  node?: string
  cable?: string
  /** Chainage, m. */
  from: number
  to: number
  probability: number
}

export interface GroundPosterior {
  /** Most likely chainage: the node's where a node holds half or more, else the median. */
  chainage: number
  interval95: [number, number]
  places: Place[]
  /** The piece of the thread at the best place. */
  piece: Piece
}

/**
 * How likely a fault sits in a joint rather than in the fiber beside it, as the metres of run that are as likely.
 * Judgement, no source: cables are cut between nodes; added loss grows at splices and, most of all, at connectors.
 */
export const JOINT_WEIGHT_METRES = { break: 15, loss: 400, reflection: 2000 } as const

export type FaultNature = keyof typeof JOINT_WEIGHT_METRES

interface Mass {
  piece: Piece
  node: string | null
  ground: number
  chainageFrom: number
  chainageTo: number
  weight: number
  /** Quantile in the mass, chainage; atoms return their node's. */
  at(part: number): number
}

/**
 * Spreads a fault's place, normal along the fiber, over the ground: point masses at joints and at coils and trays,
 * where the ground stands still, a density in between.
 * @param fiber m of fiber from the link's `from`
 */
export function groundPosterior(thread: Thread, fiber: number, sigma: number, nature: FaultNature): GroundPosterior {
  const masses = [...pieceMasses(thread, fiber, sigma), ...jointMasses(thread, fiber, sigma, nature)].sort(
    (a, b) => a.ground - b.ground,
  )
  const total = masses.reduce((sum, mass) => sum + mass.weight, 0)
  if (!(total > 0)) return beyondThread(thread, fiber)
  for (const mass of masses) mass.weight /= total
  const quantile = (part: number) => {
    let left = part
    for (const mass of masses) {
      if (left <= mass.weight) return mass.at(mass.weight > 0 ? left / mass.weight : 0)
      left -= mass.weight
    }
    return masses.at(-1)!.at(1)
  }
  const places = gather(masses)
  const best = places[0]!
  const interval = [quantile(0.025), quantile(0.975)].sort((a, b) => a - b) as [number, number]
  const heaviest = masses.reduce((a, b) => (b.weight > a.weight ? b : a))
  const chainage = best.node !== undefined && best.probability >= 0.5 ? best.from : quantile(0.5)
  return { chainage, interval95: interval, places, piece: heaviest.piece }
}

function pieceMasses(thread: Thread, fiber: number, sigma: number): Mass[] {
  return thread.pieces.flatMap((piece): Mass[] => {
    const low = normalCumulative((piece.fiberFrom - fiber) / sigma)
    const high = normalCumulative((piece.fiberTo - fiber) / sigma)
    const weight = high - low
    if (!(weight > 1e-6)) return []
    const base = { piece, ground: (piece.groundFrom + piece.groundTo) / 2, weight }
    if (piece.kind !== 'run')
      return [
        {
          ...base,
          node: piece.node,
          chainageFrom: piece.chainageFrom,
          chainageTo: piece.chainageTo,
          at: () => piece.chainageFrom,
        },
      ]
    const chainageOf = (x: number) => {
      const part = (x - piece.fiberFrom) / (piece.fiberTo - piece.fiberFrom)
      return piece.chainageFrom + Math.min(1, Math.max(0, part)) * (piece.chainageTo - piece.chainageFrom)
    }
    return [
      {
        ...base,
        node: null,
        chainageFrom: chainageOf(fiber - 3 * sigma),
        chainageTo: chainageOf(fiber + 3 * sigma),
        at: (part) => chainageOf(normalQuantile(low + part * weight, fiber, sigma)),
      },
    ]
  })
}

function jointMasses(thread: Thread, fiber: number, sigma: number, nature: FaultNature): Mass[] {
  return thread.nodes.flatMap((node): Mass[] => {
    const isConnector = node.joint === 'connector' || node.joint === 'mechanical'
    const metres =
      node.joint === 'through'
        ? 5
        : nature === 'reflection' && !isConnector
          ? JOINT_WEIGHT_METRES.loss
          : JOINT_WEIGHT_METRES[nature]
    const weight = (metres * Math.exp(-0.5 * ((node.fiber - fiber) / sigma) ** 2)) / (sigma * Math.sqrt(2 * Math.PI))
    if (!(weight > 1e-6)) return []
    const piece = thread.pieces.find((p) => p.fiberTo >= node.fiber) ?? thread.pieces.at(-1)!
    const { ground, chainage } = node
    return [{ piece, node: node.id, ground, chainageFrom: chainage, chainageTo: chainage, weight, at: () => chainage }]
  })
}

/** One entry a node and one a cable, most likely first. */
function gather(masses: readonly Mass[]): Place[] {
  const places: Place[] = []
  for (const mass of masses) {
    const same = places.find((place) =>
      mass.node !== null ? place.node === mass.node : place.node === undefined && place.cable === mass.piece.cable,
    )
    const from = Math.min(mass.chainageFrom, mass.chainageTo)
    const to = Math.max(mass.chainageFrom, mass.chainageTo)
    if (same) {
      same.probability += mass.weight
      same.from = Math.min(same.from, from)
      same.to = Math.max(same.to, to)
    } else
      places.push({
        ...(mass.node !== null ? { node: mass.node } : { cable: mass.piece.cable }),
        from,
        to,
        probability: mass.weight,
      })
  }
  return places.filter((place) => place.probability >= 0.001).sort((a, b) => b.probability - a.probability)
}

/** By bisection: exact enough for a place on the ground. */
function normalQuantile(probability: number, mean: number, sigma: number): number {
  let low = mean - 6 * sigma
  let high = mean + 6 * sigma
  for (let round = 0; round < 40; round++) {
    const middle = (low + high) / 2
    if (normalCumulative((middle - mean) / sigma) < probability) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/** A measured place past the thread's ends is put at that end. */
function beyondThread(thread: Thread, fiber: number): GroundPosterior {
  const piece = fiber <= 0 ? thread.pieces[0]! : thread.pieces.at(-1)!
  const node = fiber <= 0 ? thread.nodes[0]! : thread.nodes.at(-1)!
  const { chainage } = node
  return {
    chainage,
    interval95: [chainage, chainage],
    places: [{ node: node.id, from: chainage, to: chainage, probability: 1 }],
    piece,
  }
}
