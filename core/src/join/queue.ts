import { CodedError } from '../errors/index.ts'
import { RIBBON } from '../fiber/finder.ts'
import { splicePositions, trayUnits } from '../open/closure/trays.ts'
import { splicesAt, type RecordedSplice } from '../open/closure/closureRecord.ts'
import { linksAcross } from '../plan/repairs/hit.ts'
import { SPLICING_TIMES } from '../plan/schedule/splicing.ts'
import type { Circuit, Link, PlantBundle } from '../plant/types.ts'

export interface FiberEnd {
  cable: string
  fiber: number
}

/** Two ends that are to meet, with what rides them. */
export interface FiberPair {
  a: FiberEnd
  b: FiberEnd
  link: Link | null
}

/** One splice to be made: a fiber pair, or a ribbon of them. */
export interface SpliceJob {
  /** `TN-1/3-TN-2/3`; of a ribbon its first pair. */
  id: string
  pairs: FiberPair[]
  ribbon: boolean
  circuits: readonly Circuit[]
  /** The most important circuit's priority; Infinity where none rides it. */
  priority: number
  /** Place on the tray, counted from 1, where the record gives one. */
  position: number | null
}

/** Where joints are made: at a closure of the record, or in a cable's run. */
export type JoinPlace =
  | { node: string }
  | {
      /** m along the route */
      chainage: number
      cable: string
      /** Fibers that are joined; null: all. */
      fibers: readonly number[] | null
    }

/**
 * The splices of a place in the order of their circuits' priority: at a closure those of the record, in a run each fiber
 * to itself. Ribbons take twelve neighbours of one ribbon at once.
 * @throws CodedError for a node or cable that the plant does not have
 */
export function spliceQueue(plant: PlantBundle, place: JoinPlace, ribbon: boolean): SpliceJob[] {
  const pairs = 'node' in place ? pairsAt(plant, place.node) : pairsInRun(plant, place)
  const groups = new Map<string, FiberPair[]>()
  for (const pair of pairs) {
    const key = ribbon
      ? `${pair.a.cable}/${Math.ceil(pair.a.fiber / RIBBON)}-${pair.b.cable}/${Math.ceil(pair.b.fiber / RIBBON)}`
      : pairId(pair)
    groups.set(key, [...(groups.get(key) ?? []), pair])
  }
  const positions = 'node' in place ? positionsAt(plant, place.node) : new Map<string, number>()
  const made = [...groups.values()].map((group): SpliceJob => {
    const sorted = group.toSorted((x, y) => x.a.fiber - y.a.fiber)
    const circuits = [
      ...new Map(sorted.flatMap(({ link }) => link?.circuits ?? []).map((one) => [one.name, one])).values(),
    ]
    return {
      id: pairId(sorted[0]!),
      pairs: sorted,
      ribbon,
      circuits,
      priority: Math.min(Infinity, ...circuits.map(({ priority }) => priority)),
      position: positions.get(pairId(sorted[0]!)) ?? null,
    }
  })
  const first = ({ pairs: [pair] }: SpliceJob) => pair!.a.fiber
  return made.sort((x, y) => x.priority - y.priority || first(x) - first(y))
}

function pairId({ a, b }: Pick<FiberPair, 'a' | 'b'>): string {
  return `${a.cable}/${a.fiber}-${b.cable}/${b.fiber}`
}

function pairsAt(plant: PlantBundle, node: string): FiberPair[] {
  if (!plant.nodes.some(({ id }) => id === node)) throw new CodedError('not-found', `the plant has no node “${node}”`)
  const links = new Map(plant.links.map((link) => [link.id, link]))
  const pairs = new Map<string, FiberPair>()
  for (const { a, b, link } of splicesAt(plant, node)) {
    const [first, second] = [a, b].sort(byCable) as [FiberEnd, FiberEnd]
    const pair = { a: first, b: second, link: links.get(link) ?? null }
    if (!pairs.has(pairId(pair))) pairs.set(pairId(pair), pair)
  }
  return [...pairs.values()]
}

const byCable = (x: FiberEnd, y: FiberEnd) => x.cable.localeCompare(y.cable) || x.fiber - y.fiber

function pairsInRun(plant: PlantBundle, place: Exclude<JoinPlace, { node: string }>): FiberPair[] {
  const cable = plant.cables.find(({ id }) => id === place.cable)
  if (!cable) throw new CodedError('not-found', `the plant has no cable “${place.cable}”`)
  const links = linksAcross(plant, cable.id, place.chainage)
  const fibers = place.fibers ?? Array.from({ length: cable.fiberCount }, (_, i) => i + 1)
  return fibers.map((fiber) => {
    const end = { cable: cable.id, fiber }
    return { a: end, b: end, link: links.get(fiber) ?? null }
  })
}

/** The place of each splice on its tray, by the record: as the closure's trays are filled. */
function positionsAt(plant: PlantBundle, node: string): Map<string, number> {
  const splices: RecordedSplice[] = splicesAt(plant, node)
  const out = new Map<string, number>()
  for (const unit of trayUnits(splices, plant.cables))
    for (const { a, b, position } of splicePositions([unit], splices, plant.cables)) {
      const [first, second] = [a, b].sort(byCable) as [FiberEnd, FiberEnd]
      out.set(pairId({ a: first, b: second }), position)
    }
  return out
}

/** Something logged about a splice of the queue, in order. */
export type QueueEvent =
  | { kind: 'attempt'; splice: string; outcome: 'accepted' | 'redo' | 'stopped'; at: string }
  | { kind: 'skipped'; splice: string; reason: string }
  | { kind: 'first'; splice: string }

export interface QueuedSplice {
  splice: SpliceJob
  state: 'waiting' | 'begun' | 'accepted' | 'stopped' | 'skipped'
  attempts: number
  /** Why it was put off. */
  reason: string | null
  /** When it was accepted. */
  at: string | null
}

export interface Queue {
  /** In the order in which they are to be made; what is done stays in its place. */
  splices: QueuedSplice[]
  /** The next to be made; null when none is left. */
  current: QueuedSplice | null
  /** Links with all of their splices here accepted, and all that have any. */
  restored: { link: Link; at: string }[]
  links: Link[]
}

/** Where the queue stands. A splice put off comes at the end; one asked for first comes now. */
export function queueOf(splices: readonly SpliceJob[], events: readonly QueueEvent[]): Queue {
  const all = new Map<string, QueuedSplice>(
    splices.map((splice) => [splice.id, { splice, state: 'waiting', attempts: 0, reason: null, at: null }]),
  )
  let order = splices.map(({ id }) => id)
  for (const event of events) {
    const found = all.get(event.splice)
    if (!found) continue
    if (event.kind === 'attempt') {
      found.attempts++
      found.reason = null
      found.state = event.outcome === 'redo' ? 'begun' : event.outcome
      found.at = event.outcome === 'accepted' ? event.at : null
    } else if (event.kind === 'skipped') {
      found.state = 'skipped'
      found.reason = event.reason
      order = [...order.filter((id) => id !== event.splice), event.splice]
    } else {
      if (found.state === 'skipped' || found.state === 'stopped') found.state = found.attempts > 0 ? 'begun' : 'waiting'
      order = [event.splice, ...order.filter((id) => id !== event.splice)]
    }
  }
  const queued = order.map((id) => all.get(id)!)
  const open = (state: QueuedSplice['state']) => state === 'waiting' || state === 'begun'
  // What was put off is made when nothing else is left; what was stopped waits for its cause.
  const current = queued.find(({ state }) => open(state)) ?? queued.find(({ state }) => state === 'skipped') ?? null
  const links = new Map<string, { link: Link; ats: (string | null)[] }>()
  for (const { splice, at } of queued)
    for (const { link } of splice.pairs)
      if (link) links.set(link.id, { link, ats: [...(links.get(link.id)?.ats ?? []), at] })
  return {
    splices: queued,
    current,
    restored: [...links.values()].flatMap(({ link, ats }) =>
      ats.every((at) => at !== null) ? [{ link, at: ats.reduce((a, b) => (a! > b! ? a : b))! }] : [],
    ),
    links: [...links.values()].map(({ link }) => link),
  }
}

/** Minutes to a splice, as measured here or by the book, with how far it may be off. */
export interface Pace {
  minutes: number
  source: 'this session' | 'splicing times'
}

/** So many splices tell the pace of this session. */
const LEAST_MEASURED = 3

/** Pace from when splices were accepted, in order; by the book until enough are. Breaks do not count: the middle gap does. */
export function paceOf(acceptedAt: readonly string[], ribbon: boolean): Pace {
  const times = acceptedAt.map((at) => Date.parse(at)).sort((a, b) => a - b)
  const gaps = times.slice(1).map((at, i) => (at - times[i]!) / 60_000)
  // The oven shrinks the last sleeve while hands prepare the next.
  const { prepare, splice, store } = SPLICING_TIMES[ribbon ? 'ribbon' : 'single']
  const byBook = (prepare + splice + store) / 60
  const middle = gaps.toSorted((a, b) => a - b)[Math.floor(gaps.length / 2)]
  // Quicker than a fifth of the book's time they were entered afterwards, not made (judgement).
  return gaps.length >= LEAST_MEASURED && middle! > byBook / 5
    ? { minutes: middle!, source: 'this session' }
    : { minutes: byBook, source: 'splicing times' }
}

/** When each link that is not back yet is expected, minutes from now: after the last of its splices in this order. */
export function expectedBack(queue: Queue, pace: Pace): { link: Link; minutes: number }[] {
  const back = new Set(queue.restored.map(({ link }) => link.id))
  const open = queue.splices.filter(({ state }) => state !== 'accepted' && state !== 'stopped')
  const last = new Map<string, { link: Link; minutes: number }>()
  for (const [i, { splice }] of open.entries())
    for (const { link } of splice.pairs)
      if (link && !back.has(link.id)) last.set(link.id, { link, minutes: (i + 1) * pace.minutes })
  // A link with a splice that was stopped is not back by going on.
  const stopped = new Set(
    queue.splices.flatMap(({ state, splice }) => (state === 'stopped' ? splice.pairs.map(({ link }) => link?.id) : [])),
  )
  return [...last.values()].filter(({ link }) => !stopped.has(link.id))
}
