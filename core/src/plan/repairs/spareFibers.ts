import { isCableStep, nodeAfter, nodeBefore } from '../../plant/check.ts'
import { buildThread } from '../../plant/thread.ts'
import type { Link } from '../../plant/types.ts'
import { TYPICAL, type LossChange } from './projectLoss.ts'
import { linksAcross, type HitFiber } from './hit.ts'
import type { DraftOption } from './option.ts'
import { confirmEach, draft, linksOf, part, project, spliceParts, type RepairCase } from './repairs.ts'
import { ARC, GLASS, hazardsOf, INVISIBLE, none } from './repairsAtJoints.ts'
import { spliceAll } from './spliceAll.ts'
import { arrive, groundAtNode, leave, StepList, type Site } from '../schedule/steps.ts'

/** A circuit's move from a hurt fiber to a spare one of the same cable. */
export interface Swap {
  link: Link
  from: number
  to: number
}

/** An end of the hurt cable on a link's way: where a fiber is changed for another. */
interface ChangeOver {
  node: string
  /** A patch at a panel, or a splice in a closure. */
  patch: boolean
}

/** Fibers of the cable that no link rides anywhere and that are not hit. */
export function spareFibers(repair: Pick<RepairCase, 'plant' | 'cable' | 'hit'>): number[] {
  const used = new Set(
    repair.plant.links.flatMap(({ path }) =>
      path.flatMap((step) => (isCableStep(step) && step.cable === repair.cable.id ? [step.fiber] : [])),
    ),
  )
  const hit = new Set(repair.hit.map(({ fiber }) => fiber))
  return Array.from({ length: repair.cable.fiberCount }, (_, k) => k + 1).filter(
    (fiber) => !used.has(fiber) && !hit.has(fiber),
  )
}

/** Spares for the hurt links, the most important first; of the spares those of a tube that is not hit. */
export function proposeSwaps(repair: Pick<RepairCase, 'plant' | 'cable' | 'hit'>): Swap[] {
  const { tubeSize } = repair.cable
  const hurtTubes = new Set(repair.hit.map(({ fiber }) => Math.ceil(fiber / tubeSize)))
  const spares = spareFibers(repair).sort(
    (a, b) => Number(hurtTubes.has(Math.ceil(a / tubeSize))) - Number(hurtTubes.has(Math.ceil(b / tubeSize))) || a - b,
  )
  const links = repair.hit
    .filter((fiber): fiber is HitFiber & { link: Link } => fiber.link !== null)
    .toSorted((a, b) => (a.priority === b.priority ? 0 : a.priority - b.priority) || a.fiber - b.fiber)
  return links.slice(0, spares.length).map(({ link, fiber }, k) => ({ link, from: fiber, to: spares[k]! }))
}

function changeOvers({ cable }: RepairCase, link: Link): ChangeOver[] {
  const j = link.path.findIndex((step) => isCableStep(step) && step.cable === cable.id)
  const jointAt = (step: Link['path'][number] | undefined) => (step && !isCableStep(step) ? step.joint : 'connector')
  return [
    { node: nodeBefore(link, j), patch: jointAt(link.path[j - 1]) === 'connector' },
    { node: nodeAfter(link, j), patch: jointAt(link.path[j + 1]) === 'connector' },
  ]
}

/**
 * A link on another fiber of the cable, joined anew at both of its ends: on average it loses what it lost, and what is
 * known of the old fiber and its joints is not known of the new ones. Twice the typical spread, for the one that goes and
 * the one that comes.
 */
function onAnotherFiber(repair: RepairCase, link: Link): LossChange {
  const pieces = buildThread(repair.plant, link.id).pieces.filter(({ cable }) => cable === repair.cable.id)
  const kilometres = pieces.reduce((sum, { fiberFrom, fiberTo }) => sum + fiberTo - fiberFrom, 0) / 1000
  const joints = changeOvers(repair, link).map(({ patch }) => (patch ? TYPICAL.pair.sigma : TYPICAL.splice.sigma))
  const sigma = Math.SQRT2 * Math.hypot(kilometres * TYPICAL.perKilometreSigma, ...joints)
  return { splices: 0, added: { loss: 0, sigma } }
}

/** The hurt links move to dark fibers of the same cable. */
export function moveToSpares(repair: RepairCase): DraftOption {
  const common = {
    id: 'spare-fibers',
    kind: 'spare-fibers',
    name: 'Move circuits to spare fibers',
    permanence: 'interim',
  } as const
  const swaps = proposeSwaps(repair)
  const lit = linksAcross(repair.plant, repair.cable.id, repair.fault.chainage).size
  if (swaps.length === 0) {
    const why =
      repair.hit.length >= repair.cable.fiberCount
        ? `all ${repair.cable.fiberCount} fibers of cable ${repair.cable.id} are taken to be hit`
        : repair.hit.every(({ link }) => !link)
          ? 'no circuit rides the fibers that are hit'
          : `cable ${repair.cable.id} has no spare fiber: ${lit} of ${repair.cable.fiberCount} carry links, ${repair.hit.length} are hit`
    return none(common, why)
  }
  const list = new StepList(repair.rules)
  const moved = repair.hit.filter(({ fiber }) => swaps.some(({ from }) => from === fiber))
  const over = new Map<string, { patch: boolean; fibers: HitFiber[] }>()
  for (const swap of swaps)
    for (const { node, patch } of changeOvers(repair, swap.link)) {
      const known = over.get(node) ?? { patch, fibers: [] }
      known.fibers.push(moved.find(({ fiber }) => fiber === swap.from)!)
      over.set(node, known)
    }
  const doneOf = new Map<number, string[]>()
  const note = (fiber: number, ids: readonly string[]) => doneOf.set(fiber, [...(doneOf.get(fiber) ?? []), ...ids])
  const hazards = new Set<string>([INVISIBLE, 'live traffic beside it: right panel, right port, second look'])
  let splices = 0
  let before: string[] = []
  let k = 0
  const { crews } = repair.scenario
  for (const [id, { patch, fibers }] of over) {
    const crew = crews === 2 ? (((k++ % 2) + 1) as 1 | 2) : null
    const site: Site = { id, name: repair.plant.nodes.find((node) => node.id === id)!.name, crew }
    const ground = groundAtNode(repair.plant, id, repair.site)
    hazardsOf(ground).forEach((hazard) => hazards.add(hazard))
    const there = arrive(list, site, ground, repair.site, before)
    if (patch) {
      for (const { fiber } of fibers) {
        const swap = swaps.find(({ from }) => from === fiber)!
        const name = `patch ${swap.link.name}: fiber ${fiber} to ${swap.to}`
        note(fiber, [list.add('patch', site, there, { name, mark: String(fiber), fibers: [fiber] })])
      }
      const patched = fibers.map(({ fiber }) => doneOf.get(fiber)!.at(-1)!)
      before = crews === 2 ? [] : patched
      continue
    }
    hazards.add(GLASS).add(ARC)
    const opened = ground === 'indoor' ? there : [list.add('open', site, there)]
    const joints = spliceAll(list, repair, site, fibers, () => opened, false)
    splices += joints.count
    fibers.forEach(({ fiber }) => note(fiber, joints.storedOf([fiber])))
    const left = leave(list, site, ground, joints.stored, true)
    before = crews === 2 ? [] : left
  }
  const ends: Site = { id: 'desk', name: 'the operations desk', crew: null }
  confirmEach(list, ends, linksOf(moved), (fibers) => fibers.flatMap((fiber) => doneOf.get(fiber) ?? []))
  const moving = new Set(swaps.map(({ link }) => link.id))
  const leftOut = linksOf(repair.hit).filter(({ id }) => !moving.has(id))
  return draft({
    ...common,
    whyNot: [],
    steps: list.steps,
    parts: [part('wipe', 4 * swaps.length, 'both ends'), ...(splices > 0 ? spliceParts(splices, false) : [])],
    projected: swaps.flatMap(({ link, from }) =>
      project(
        repair,
        moved.filter(({ fiber }) => fiber === from),
        onAnotherFiber(repair, link),
      ),
    ),
    leavesOut: leftOut.map(({ name }) => name),
    hazards: [...hazards],
    reasons: [
      swaps.map(({ link, from, to }) => `${link.name} from fiber ${from} to ${to}`).join(', '),
      'the hurt fibers stay hurt: a permanent repair follows in a window',
      ...(leftOut.length > 0 ? [`spares for ${swaps.length} of ${swaps.length + leftOut.length} links`] : []),
      'shoot the spare before traffic is put on it',
    ],
  })
}
