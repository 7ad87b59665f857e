import type { Piece, Thread } from '../../plant/thread.ts'
import { normalCumulative } from '../../units/normal.ts'
import { SUSPICION_RULES, type FaultNature, type PlaceClass, type SuspicionRules } from './suspicionRules.ts'

/** A node or a stretch of cable with the probability that the fault is there. */
export interface Place {
  node?: string
  cable?: string
  /** Chainage, m. */
  from: number
  to: number
  probability: number
}

/** One possible place of a fault: a joint, a part of a coil or tray, or a few metres of run. */
export interface Cell {
  piece: Piece
  /** The node whose joint, coil or tray this is; null in a run. */
  node: string | null
  placeClass: PlaceClass
  /** m of fiber and of ground from the thread's start, and chainage, in its middle. */
  fiber: number
  ground: number
  chainage: number
  /** m of ground covered; 0 at a node. */
  width: number
  weight: number
}

/** Where a fault is, over all places of a thread. Weights add up to 1; cells in order of ground. */
export interface Posterior {
  cells: Cell[]
}

const CELL_METRES = 25
/** Standard deviations around a measured place that are laid out finely. */
const FINE_REACH = 5
const FINE_CELLS = 240

/**
 * Spreads a fault's place over the thread: point masses at joints and at coils and trays, where the ground stands
 * still, a density in between; weighted by the rule book's priors.
 * @param measured place by the records, m of fiber from the link's `from`, with one standard deviation; null when no
 * instrument has measured it: every place is possible
 */
export function layPosterior(
  thread: Thread,
  measured: { fiber: number; sigma: number } | null,
  nature: FaultNature,
  rules: SuspicionRules = SUSPICION_RULES,
): Posterior {
  const cells = [
    ...thread.pieces.flatMap((piece) => pieceCells(thread, piece, measured, rules)),
    ...thread.nodes.map((node): Cell => {
      const isConnector = node.joint === 'connector' || node.joint === 'mechanical'
      const metres =
        node.joint === 'through'
          ? rules.passedNodeMetres
          : rules.jointMetres[nature === 'reflection' && !isConnector ? 'loss' : nature]
      return {
        piece: thread.pieces.find((piece) => piece.fiberTo >= node.fiber) ?? thread.pieces.at(-1)!,
        node: node.id,
        placeClass: node.joint === 'through' ? 'coil' : isConnector ? 'connector' : 'splice',
        fiber: node.fiber,
        ground: node.ground,
        chainage: node.chainage,
        width: 0,
        weight: metres * (measured ? density(node.fiber, measured) : 1),
      }
    }),
  ].sort((a, b) => a.ground - b.ground || a.fiber - b.fiber)
  if (!cells.some((cell) => cell.weight > 0)) {
    // A place measured past the thread's ends is put at that end.
    const end = measured!.fiber <= 0 ? cells.find((cell) => cell.width === 0)! : cells.findLast((c) => c.width === 0)!
    end.weight = 1
  }
  return normalize(cells)
}

/** The posterior after more evidence. @returns also how well the evidence fitted what was known, 0 … 1 */
export function weigh(posterior: Posterior, likelihood: (cell: Cell) => number): { posterior: Posterior; fit: number } {
  let most = 0
  let sum = 0
  const cells = posterior.cells.map((cell) => {
    const value = likelihood(cell)
    most = Math.max(most, value)
    sum += cell.weight * value
    return { ...cell, weight: cell.weight * value }
  })
  return { posterior: sum > 0 ? normalize(cells) : posterior, fit: most > 0 ? sum / most : 0 }
}

function normalize(cells: Cell[]): Posterior {
  const total = cells.reduce((sum, cell) => sum + cell.weight, 0)
  for (const cell of cells) cell.weight /= total
  return { cells }
}

function density(fiber: number, { fiber: mean, sigma }: { fiber: number; sigma: number }): number {
  const z = (fiber - mean) / sigma
  return Math.exp(-0.5 * z * z) / (sigma * Math.sqrt(2 * Math.PI))
}

function pieceCells(
  thread: Thread,
  piece: Piece,
  measured: { fiber: number; sigma: number } | null,
  rules: SuspicionRules,
): Cell[] {
  const length = piece.fiberTo - piece.fiberFrom
  if (!(length > 0)) return []
  const bounds = new Set([piece.fiberFrom, piece.fiberTo])
  const parts = piece.kind === 'run' ? Math.max(1, Math.ceil(length / CELL_METRES)) : 1
  for (let k = 1; k < parts; k++) bounds.add(piece.fiberFrom + (k / parts) * length)
  if (measured && piece.kind === 'run')
    for (let k = 0; k <= FINE_CELLS; k++) {
      const at = measured.fiber + (2 * (k / FINE_CELLS) - 1) * FINE_REACH * measured.sigma
      if (at > piece.fiberFrom && at < piece.fiberTo) bounds.add(at)
    }
  const sorted = [...bounds].sort((a, b) => a - b)
  const between = (fiber: number, from: number, to: number) => from + ((fiber - piece.fiberFrom) / length) * (to - from)
  return sorted.slice(1).map((high, k): Cell => {
    const low = sorted[k]!
    const fiber = (low + high) / 2
    const chainage = between(fiber, piece.chainageFrom, piece.chainageTo)
    const share = measured
      ? normalCumulative((high - measured.fiber) / measured.sigma) -
        normalCumulative((low - measured.fiber) / measured.sigma)
      : high - low
    return {
      piece,
      node: piece.node,
      placeClass: piece.kind === 'run' ? 'run' : classOfCoil(thread, piece),
      fiber,
      ground: between(fiber, piece.groundFrom, piece.groundTo),
      chainage,
      width: ((high - low) / length) * (piece.groundTo - piece.groundFrom),
      weight: share * (piece.kind === 'run' ? environmentWeight(thread, piece.cable, chainage, rules) : 1),
    }
  })
}

function classOfCoil(thread: Thread, piece: Piece): PlaceClass {
  const node = thread.nodes.find((candidate) => candidate.id === piece.node)
  return piece.kind === 'tray' && node?.joint === 'splice' ? 'splice' : 'coil'
}

function environmentWeight(thread: Thread, cable: string, chainage: number, rules: SuspicionRules): number {
  const span = thread.cables.get(cable)!.spans?.find((s) => chainage >= s.from && chainage <= s.to)
  return span ? (rules.environment[span.environment] ?? 1) : 1
}

/** Ground at which the posterior has gathered `part` of the probability, m on the thread's ruler. */
export function groundQuantile({ cells }: Posterior, part: number): { ground: number; chainage: number } {
  let left = part
  for (const cell of cells) {
    if (left <= cell.weight) {
      const within = cell.width * (left / cell.weight - 0.5)
      const { piece } = cell
      const sense = piece.chainageTo >= piece.chainageFrom ? 1 : -1
      return { ground: cell.ground + within, chainage: cell.chainage + sense * within }
    }
    left -= cell.weight
  }
  return cells.at(-1)!
}

/** Entropy of a posterior over nodes and stretches of `grain` metres, bits. */
export function placeEntropy({ cells }: Posterior, grain = 20): number {
  const bins = new Map<string, number>()
  for (const cell of cells) {
    const key = cell.node ?? String(Math.floor(cell.ground / grain))
    bins.set(key, (bins.get(key) ?? 0) + cell.weight)
  }
  let bits = 0
  for (const p of bins.values()) if (p > 0) bits -= p * Math.log2(p)
  return bits
}

/** One entry a node and one a cable, most likely first. */
export function gatherPlaces({ cells }: Posterior): Place[] {
  const places = new Map<string, Place>()
  for (const cell of cells) {
    if (cell.weight < 1e-7) continue
    const key = cell.node === null ? `cable ${cell.piece.cable}` : `node ${cell.node}`
    const from = cell.chainage - cell.width / 2
    const to = cell.chainage + cell.width / 2
    const known = places.get(key)
    if (known) {
      known.probability += cell.weight
      // A far corner with next to no probability does not stretch the place.
      if (cell.weight > 1e-5) {
        known.from = Math.min(known.from, from)
        known.to = Math.max(known.to, to)
      }
    } else
      places.set(key, {
        ...(cell.node === null ? { cable: cell.piece.cable } : { node: cell.node }),
        from,
        to,
        probability: cell.weight,
      })
  }
  return [...places.values()]
    .filter((place) => place.probability >= 0.001)
    .sort((a, b) => b.probability - a.probability)
}

/** Probability of each kind of place. */
export function placeClasses({ cells }: Posterior): Record<PlaceClass, number> {
  const out: Record<PlaceClass, number> = { splice: 0, connector: 0, coil: 0, run: 0 }
  for (const cell of cells) out[cell.placeClass] += cell.weight
  return out
}

/** What a person is told of a posterior. */
export interface PosteriorSummary {
  /** Most likely chainage: the node's where a node holds half or more, else the median. */
  chainage: number
  interval95: [number, number]
  places: Place[]
  /** The piece of the thread at the best place. */
  piece: Piece
  /** m of fiber from the thread's start at the best place. */
  fiber: number
}

/**
 * Chainages of a record are right to about this, m, one standard deviation (judgement: measured by wheel, written down to a
 * metre or two).
 */
const CHAINAGE_SIGMA = 1.5

export function summarize(posterior: Posterior): PosteriorSummary {
  const places = gatherPlaces(posterior)
  const best = places[0]!
  const [low, high] = [groundQuantile(posterior, 0.025).chainage, groundQuantile(posterior, 0.975).chainage].sort(
    (a, b) => a - b,
  ) as [number, number]
  const atNode = best.node !== undefined && best.probability >= 0.5
  const chainage = atNode ? best.from : groundQuantile(posterior, 0.5).chainage
  // The ground that a chainage means is on the record's word: independent of what the traces leave open.
  const within = (part: number) => Math.hypot(part, 1.96 * CHAINAGE_SIGMA)
  const interval: [number, number] = [
    chainage - within(Math.max(0, chainage - low)),
    chainage + within(Math.max(0, high - chainage)),
  ]
  const nearest = posterior.cells.reduce((a, b) =>
    Math.abs(b.chainage - chainage) - (b.weight > 0 ? 1e-9 : 0) < Math.abs(a.chainage - chainage) ? b : a,
  )
  return { chainage, interval95: interval, places, piece: nearest.piece, fiber: nearest.fiber }
}
