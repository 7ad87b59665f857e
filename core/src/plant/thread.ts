import { CodedError } from '../errors/index.ts'
import { SPEED_OF_LIGHT } from '../units/light.ts'
import { isCableStep, nodeAfter, nodeBefore } from './check.ts'
import type { Cable, Direction, JointKind, Link, NodeKind, PlantBundle, PlantNode } from './types.ts'

/**
 * A link as one continuous thread: pieces in the order in which light passes them.
 * `run` advances on the ground; `coil` and `tray` hold fiber at one place.
 */
export interface Piece {
  kind: 'run' | 'coil' | 'tray'
  cable: string
  /** The node where a coil or tray lies; null on a run. */
  node: string | null
  /** m of fiber from the thread's start */
  fiberFrom: number
  fiberTo: number
  /** m of sheath from the thread's start; bare fiber in trays has none */
  sheathFrom: number
  sheathTo: number
  /** m on the ground from the thread's start */
  groundFrom: number
  groundTo: number
  /** Chainage on the cable's route at both ends. */
  chainageFrom: number
  chainageTo: number
}

/** A connection or joint of the link, or a node that its cable passes uncut. */
export interface ThreadNode {
  id: string
  name: string
  nodeKind: NodeKind
  /** `through`: the cable is not opened here. */
  joint: JointKind | 'through'
  /** m of fiber from the thread's start to the joint (to the middle of the coil where the cable is uncut) */
  fiber: number
  sheath: number
  ground: number
  routeId: string
  chainage: number
}

export interface Thread {
  linkId: string
  direction: Direction
  pieces: Piece[]
  nodes: ThreadNode[]
  fiberLength: number
  sheathLength: number
  groundLength: number
  /** Cables by id, for indices and factors. */
  cables: Map<string, Cable>
}

/**
 * Lays out a link along its records: fiber, sheath and ground lengths through slack and helix.
 * Fiber of a cable between its ends = ((to − from)·sheathFactor + coils)·helixFactor + tray fiber.
 * @param direction `ba` lays it out from the link's `to`, for shots from there
 * @throws CodedError when the link does not exist; the plant must have passed {@link checkPlant}
 */
export function buildThread(plant: PlantBundle, linkId: string, direction: Direction = 'ab'): Thread {
  const link = plant.links.find((candidate) => candidate.id === linkId)
  if (!link) throw new CodedError('not-found', `there is no link "${linkId}"`)
  const forward = layOut(plant, link)
  return direction === 'ab' ? forward : reverse(forward)
}

function layOut(plant: PlantBundle, link: Link): Thread {
  const nodes = new Map(plant.nodes.map((node) => [node.id, node]))
  const cables = new Map(plant.cables.map((cable) => [cable.id, cable]))
  const thread: Thread = {
    linkId: link.id,
    direction: 'ab',
    pieces: [],
    nodes: [],
    fiberLength: 0,
    sheathLength: 0,
    groundLength: 0,
    cables,
  }
  placeNode(thread, nodes.get(link.from)!, 'connector')
  link.path.forEach((step, j) => {
    if (!isCableStep(step)) {
      placeNode(thread, nodes.get(step.node)!, step.joint)
      return
    }
    const cable = cables.get(step.cable)!
    layCable(thread, cable, nodes.get(nodeBefore(link, j))!, nodes.get(nodeAfter(link, j))!, plant.nodes)
  })
  placeNode(thread, nodes.get(link.to)!, 'connector')
  return thread
}

function layCable(
  thread: Thread,
  cable: Cable,
  begin: PlantNode,
  finish: PlantNode,
  allNodes: readonly PlantNode[],
): void {
  const up = finish.chainage >= begin.chainage
  const low = Math.min(begin.chainage, finish.chainage)
  const high = Math.max(begin.chainage, finish.chainage)
  const passed = allNodes
    .filter((node) => node.routeId === cable.routeId && node.chainage > low && node.chainage < high)
    .filter((node) => node.slack.some((slack) => slack.cable === cable.id))
    .sort((a, b) => (up ? a.chainage - b.chainage : b.chainage - a.chainage))
  addTray(thread, cable, begin)
  addCoil(thread, cable, begin, coilAt(begin, cable, up ? 'after' : 'before'))
  let chainage = begin.chainage
  for (const node of [...passed, finish]) {
    addRun(thread, cable, chainage, node.chainage)
    chainage = node.chainage
    if (node === finish) break
    const half = coilAt(node, cable, 'through') / 2
    addCoil(thread, cable, node, half)
    placeNode(thread, node, 'through')
    addCoil(thread, cable, node, half)
  }
  addCoil(thread, cable, finish, coilAt(finish, cable, up ? 'before' : 'after'))
  addTray(thread, cable, finish)
}

/** At a joint the coil of the wanted side; a cable passing uncut has its whole coil there. */
function coilAt(node: PlantNode, cable: Cable, side: 'before' | 'after' | 'through'): number {
  return node.slack
    .filter(
      (slack) => slack.cable === cable.id && (side === 'through' || slack.side === side || slack.side === 'through'),
    )
    .reduce((sum, slack) => sum + slack.sheath, 0)
}

function addRun(thread: Thread, cable: Cable, from: number, to: number): void {
  const ground = Math.abs(to - from)
  const sheath = ground * cable.sheathFactor
  extend(thread, { kind: 'run', cable: cable.id, node: null }, sheath * cable.helixFactor, sheath, ground, from, to)
}

function addCoil(thread: Thread, cable: Cable, node: PlantNode, sheath: number): void {
  if (sheath === 0) return
  const at = node.chainage
  extend(thread, { kind: 'coil', cable: cable.id, node: node.id }, sheath * cable.helixFactor, sheath, 0, at, at)
}

function addTray(thread: Thread, cable: Cable, node: PlantNode): void {
  const fiber = (node.trayFiber ?? []).filter((t) => t.cable === cable.id).reduce((sum, t) => sum + t.fiber, 0)
  if (fiber === 0) return
  extend(thread, { kind: 'tray', cable: cable.id, node: node.id }, fiber, 0, 0, node.chainage, node.chainage)
}

function extend(
  thread: Thread,
  what: Pick<Piece, 'kind' | 'cable' | 'node'>,
  fiber: number,
  sheath: number,
  ground: number,
  chainageFrom: number,
  chainageTo: number,
): void {
  thread.pieces.push({
    ...what,
    fiberFrom: thread.fiberLength,
    fiberTo: thread.fiberLength + fiber,
    sheathFrom: thread.sheathLength,
    sheathTo: thread.sheathLength + sheath,
    groundFrom: thread.groundLength,
    groundTo: thread.groundLength + ground,
    chainageFrom,
    chainageTo,
  })
  thread.fiberLength += fiber
  thread.sheathLength += sheath
  thread.groundLength += ground
}

function placeNode(thread: Thread, node: PlantNode, joint: ThreadNode['joint']): void {
  thread.nodes.push({
    id: node.id,
    name: node.name,
    nodeKind: node.kind,
    joint,
    fiber: thread.fiberLength,
    sheath: thread.sheathLength,
    ground: thread.groundLength,
    routeId: node.routeId,
    chainage: node.chainage,
  })
}

function reverse(thread: Thread): Thread {
  const { fiberLength, sheathLength, groundLength } = thread
  return {
    ...thread,
    direction: thread.direction === 'ab' ? 'ba' : 'ab',
    pieces: thread.pieces
      .map((piece) => ({
        ...piece,
        fiberFrom: fiberLength - piece.fiberTo,
        fiberTo: fiberLength - piece.fiberFrom,
        sheathFrom: sheathLength - piece.sheathTo,
        sheathTo: sheathLength - piece.sheathFrom,
        groundFrom: groundLength - piece.groundTo,
        groundTo: groundLength - piece.groundFrom,
        chainageFrom: piece.chainageTo,
        chainageTo: piece.chainageFrom,
      }))
      .reverse(),
    nodes: thread.nodes
      .map((node) => ({
        ...node,
        fiber: fiberLength - node.fiber,
        sheath: sheathLength - node.sheath,
        ground: groundLength - node.ground,
      }))
      .reverse(),
  }
}

/** The three rulers on which a place of the thread can be read. */
export type Ruler = 'fiber' | 'sheath' | 'ground'

/** A place on the thread in all its measures. */
export interface ThreadPlace {
  fiber: number
  sheath: number
  ground: number
  chainage: number
  piece: Piece
}

/** The place at `value` metres on one ruler; beyond the ends, the end itself. Inside a coil the ground stands still. */
export function placeAt(thread: Thread, ruler: Ruler, value: number): ThreadPlace {
  const from = `${ruler}From` as const
  const to = `${ruler}To` as const
  const clamped = Math.min(Math.max(value, 0), thread.pieces.at(-1)![to])
  const piece = thread.pieces.find((candidate) => clamped <= candidate[to]) ?? thread.pieces.at(-1)!
  const length = piece[to] - piece[from]
  const part = length > 0 ? (clamped - piece[from]) / length : 0
  const between = (a: number, b: number) => a + part * (b - a)
  return {
    fiber: between(piece.fiberFrom, piece.fiberTo),
    sheath: between(piece.sheathFrom, piece.sheathTo),
    ground: between(piece.groundFrom, piece.groundTo),
    chainage: between(piece.chainageFrom, piece.chainageTo),
    piece,
  }
}

/**
 * Metres of fiber from the thread's start at a chainage: in the first run that covers it.
 * @throws CodedError when the thread does not pass there
 */
export function fiberAtChainage(thread: Thread, chainage: number): number {
  const run = thread.pieces.find(
    (piece) =>
      piece.kind === 'run' &&
      chainage >= Math.min(piece.chainageFrom, piece.chainageTo) &&
      chainage <= Math.max(piece.chainageFrom, piece.chainageTo),
  )
  if (!run) throw new CodedError('not-found', `the link does not pass chainage ${chainage} m`)
  const part = (chainage - run.chainageFrom) / (run.chainageTo - run.chainageFrom)
  return run.fiberFrom + part * (run.fiberTo - run.fiberFrom)
}

/**
 * Group index of a cable at a wavelength: the record's own, or interpolated between the two nearest in the record
 * (beyond them the nearest).
 * @throws CodedError when the record has none
 */
export function groupIndexOf(cable: Cable, wavelength: number): number {
  const exact = cable.groupIndex[String(wavelength)]
  if (exact !== undefined) return exact
  const known = Object.entries(cable.groupIndex)
    .map(([key, index]) => ({ wavelength: Number(key), index }))
    .sort((a, b) => a.wavelength - b.wavelength)
  if (known.length === 0) throw new CodedError('not-enough', `cable ${cable.id} has no group index`)
  const above = known.find((k) => k.wavelength >= wavelength)
  const below = known.findLast((k) => k.wavelength <= wavelength)
  if (!above || !below) return (above ?? below)!.index
  const part = (wavelength - below.wavelength) / (above.wavelength - below.wavelength)
  return below.index + part * (above.index - below.index)
}

/** One-way delay in seconds from the thread's start to `fiber` metres, each cable with its own index. */
export function delayToFiber(thread: Thread, fiber: number, wavelength: number): number {
  let delay = 0
  for (const piece of thread.pieces) {
    const length = Math.min(fiber, piece.fiberTo) - piece.fiberFrom
    if (length <= 0) break
    delay += (length * groupIndexOf(thread.cables.get(piece.cable)!, wavelength)) / SPEED_OF_LIGHT
  }
  return delay
}

/** Metres of fiber from the thread's start that light passes in `delay` seconds; beyond the end the last index goes on. */
export function fiberAtDelay(thread: Thread, delay: number, wavelength: number): number {
  let left = delay
  let index = 1
  for (const piece of thread.pieces) {
    index = groupIndexOf(thread.cables.get(piece.cable)!, wavelength)
    const length = piece.fiberTo - piece.fiberFrom
    const takes = (length * index) / SPEED_OF_LIGHT
    if (left <= takes) return piece.fiberFrom + (left * SPEED_OF_LIGHT) / index
    left -= takes
  }
  return thread.fiberLength + (left * SPEED_OF_LIGHT) / index
}
