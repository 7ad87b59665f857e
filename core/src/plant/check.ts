import { CodedError } from '../errors/index.ts'
import type { Cable, Link, PathStep, PlantBundle, PlantNode } from './types.ts'

/** A plant record that contradicts itself: what, and where in the bundle. */
export class PlantError extends CodedError<'duplicate-id' | 'dangling-id' | 'out-of-range' | 'broken-path'> {
  /** @param path in the bundle, e.g. `links[2].path[0].fiber` */
  constructor(code: PlantError['code'], path: string, message: string) {
    super(code, `${path}: ${message}`, path)
  }
}

/**
 * Checks what a schema can't: ids that exist and are unique, lengths and chainages in order, fiber numbers within
 * their cable, link paths that hang together.
 * @throws PlantError at the first contradiction, naming its place
 */
export function checkPlant(plant: PlantBundle): void {
  const routes = uniqueById(plant.routes, 'routes')
  const cables = uniqueById(plant.cables, 'cables')
  const nodes = uniqueById(plant.nodes, 'nodes')
  const links = uniqueById(plant.links, 'links')

  plant.routes.forEach((route, i) => {
    positive(route.length, `routes[${i}].length`)
    route.landmarks.forEach((mark, j) =>
      within(mark.chainage, 0, route.length, `routes[${i}].landmarks[${j}].chainage`),
    )
  })
  plant.cables.forEach((cable, i) => {
    const at = `cables[${i}]`
    const route = known(routes, cable.routeId, `${at}.routeId`, 'route')
    within(cable.from, 0, route.length, `${at}.from`)
    within(cable.to, 0, route.length, `${at}.to`)
    if (cable.to <= cable.from) throw new PlantError('out-of-range', `${at}.to`, `${cable.to} m is not beyond from`)
    within(cable.sheathFactor, 0.9, 1.5, `${at}.sheathFactor`)
    within(cable.helixFactor, 1, 1.2, `${at}.helixFactor`)
    for (const [key, index] of Object.entries(cable.groupIndex)) within(index, 1, 2, `${at}.groupIndex.${key}`)
    cable.spans?.forEach((span, j) => {
      within(span.from, cable.from, cable.to, `${at}.spans[${j}].from`)
      within(span.to, span.from, cable.to, `${at}.spans[${j}].to`)
    })
  })
  plant.nodes.forEach((node, i) => {
    const at = `nodes[${i}]`
    const route = known(routes, node.routeId, `${at}.routeId`, 'route')
    within(node.chainage, 0, route.length, `${at}.chainage`)
    node.slack.forEach((slack, j) => {
      known(cables, slack.cable, `${at}.slack[${j}].cable`, 'cable')
      notNegative(slack.sheath, `${at}.slack[${j}].sheath`)
    })
    node.trayFiber?.forEach((tray, j) => {
      known(cables, tray.cable, `${at}.trayFiber[${j}].cable`, 'cable')
      notNegative(tray.fiber, `${at}.trayFiber[${j}].fiber`)
    })
  })
  plant.links.forEach((link, i) => checkLink(link, `links[${i}]`, plant, nodes))
  plant.baselines?.forEach((baseline, i) => known(links, baseline.linkId, `baselines[${i}].linkId`, 'link'))
}

/** A path alternates cable, node, cable …, and each cable reaches both of the nodes that it joins. */
function checkLink(link: Link, at: string, plant: PlantBundle, nodes: Map<string, PlantNode>): void {
  const cables = new Map(plant.cables.map((cable) => [cable.id, cable]))
  known(nodes, link.from, `${at}.from`, 'node')
  known(nodes, link.to, `${at}.to`, 'node')
  if (link.launchCord !== undefined) notNegative(link.launchCord, `${at}.launchCord`)
  if (link.receiveCord !== undefined) notNegative(link.receiveCord, `${at}.receiveCord`)
  if (link.path.length % 2 === 0)
    throw new PlantError('broken-path', `${at}.path`, 'a path runs cable, node, cable … and ends with a cable')
  const odd = link.path.findIndex((step, j) => isCableStep(step) !== (j % 2 === 0))
  if (odd >= 0)
    throw new PlantError('broken-path', `${at}.path[${odd}]`, `expected a ${odd % 2 === 0 ? 'cable' : 'node'} here`)
  link.path.forEach((step, j) => {
    const here = `${at}.path[${j}]`
    if (!isCableStep(step)) {
      known(nodes, step.node, `${here}.node`, 'node')
      return
    }
    const cable = known(cables, step.cable, `${here}.cable`, 'cable')
    if (!Number.isInteger(step.fiber) || step.fiber < 1 || step.fiber > cable.fiberCount)
      throw new PlantError('out-of-range', `${here}.fiber`, `fiber ${step.fiber} of a cable of ${cable.fiberCount}`)
    for (const nodeId of [nodeBefore(link, j), nodeAfter(link, j)]) {
      const node = known(nodes, nodeId, here, 'node')
      if (node.routeId !== cable.routeId || missedBy(cable, node) > RECORDS_APART)
        throw new PlantError('broken-path', here, `cable ${cable.id} does not reach node ${nodeId}`)
    }
  })
}

/** A cable's end and the closure that it is spliced in stand so far apart in a record at most, m: the path says that it reaches it. */
const RECORDS_APART = 50
/** Two figures of one place that differ by less are one, m. */
const SAME_PLACE = 2

/** How far a node lies outside a cable's chainages, m. */
function missedBy(cable: Cable, node: PlantNode): number {
  return Math.max(0, cable.from - node.chainage, node.chainage - cable.to)
}

/** Where a link's records say two things of one place: a cable's end here, its closure there. In words, one for each. */
export function contradictions(plant: PlantBundle, linkId: string): string[] {
  const link = plant.links.find(({ id }) => id === linkId)
  if (!link) return []
  return link.path.flatMap((step, j) => {
    if (!isCableStep(step)) return []
    const cable = plant.cables.find(({ id }) => id === step.cable)!
    return [nodeBefore(link, j), nodeAfter(link, j)].flatMap((id) => {
      const node = plant.nodes.find((one) => one.id === id)!
      const missed = missedBy(cable, node)
      return missed > SAME_PLACE
        ? [
            `by the record cable ${cable.id} ends ${missed.toFixed(0)} m from ${node.name}, which it is joined in: the chainage of ${node.name}, ${node.chainage.toFixed(0)} m, is taken`,
          ]
        : []
    })
  })
}

export function isCableStep(step: PathStep): step is { cable: string; fiber: number } {
  return 'cable' in step
}

/** Node at which path step `j` (a cable) begins. */
export function nodeBefore(link: Link, j: number): string {
  const step = link.path[j - 1]
  return step && !isCableStep(step) ? step.node : link.from
}

/** Node at which path step `j` (a cable) ends. */
export function nodeAfter(link: Link, j: number): string {
  const step = link.path[j + 1]
  return step && !isCableStep(step) ? step.node : link.to
}

function uniqueById<T extends { id: string }>(items: readonly T[], at: string): Map<string, T> {
  const byId = new Map<string, T>()
  items.forEach((item, i) => {
    if (byId.has(item.id)) throw new PlantError('duplicate-id', `${at}[${i}].id`, `"${item.id}" stands twice`)
    byId.set(item.id, item)
  })
  return byId
}

function known<T>(byId: Map<string, T>, id: string, path: string, what: string): T {
  const item = byId.get(id)
  if (!item) throw new PlantError('dangling-id', path, `there is no ${what} "${id}"`)
  return item
}

function positive(value: number, path: string): void {
  if (!(value > 0)) throw new PlantError('out-of-range', path, `${value} is not a length above 0`)
}

function notNegative(value: number, path: string): void {
  if (!(value >= 0)) throw new PlantError('out-of-range', path, `${value} is negative`)
}

function within(value: number, low: number, high: number, path: string): void {
  if (!(value >= low && value <= high))
    throw new PlantError('out-of-range', path, `${value} is not within ${low} to ${high}`)
}
