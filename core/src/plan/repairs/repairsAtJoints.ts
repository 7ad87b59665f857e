import { countOf, kindName } from '../../kit/index.ts'
import type { ThreadNode } from '../../plant/thread.ts'
import type { DraftOption } from './option.ts'
import { TYPICAL } from './projectLoss.ts'
import type { TerminationWay } from '../planRules.ts'
import {
  confirmEach,
  draft,
  linksOf,
  NO_CHANGE,
  part,
  project,
  proveFromBothEnds,
  spliceParts,
  type RepairCase,
} from './repairs.ts'
import { spliceAll } from './spliceAll.ts'
import { siteOfFault } from './siteOfFault.ts'
import { arrive, groundAt, groundAtNode, leave, StepList, type Ground, type Site } from '../schedule/steps.ts'

/** Fiber in the tray below which a splice can't be made again, m (judgement: two tries on each side). */
const TRAY_FIBER = 0.3
export const GLASS = 'glass: eye protection, shards counted into a closed bin'
export const INVISIBLE = 'invisible light: look at no fiber or connector before it is shown dark'
export const ARC = 'the arc ignites gas: splice at the surface, in the vehicle or tent'

const siteOf = (node: ThreadNode): Site => ({ id: node.id, name: node.name, crew: null })

/** What can hurt at such a place. */
export function hazardsOf(ground: Ground): string[] {
  switch (ground) {
    case 'chamber':
      return ['confined space: gas test first, ventilate, trained people only, by local code']
    case 'aerial':
      return ['height and power lines: trained people, local code']
    case 'structure':
      return ['height or water: secured access, trained people']
    case 'dig':
      return [
        'buried services: locate them on site before digging, by local code',
        'moving traffic and open trench: signs, barriers, trained people',
      ]
    case 'indoor':
      return []
  }
}

/** Inspect, clean and re-seat the connector. */
export function clean(repair: RepairCase): DraftOption {
  const { node } = repair.places.connector
  const list = new StepList(repair.rules)
  const common = { id: 'clean', kind: 'clean', name: 'Clean and re-seat', permanence: 'permanent' } as const
  if (!node) return none(common, 'no connector stands where the fault may be')
  const site = siteOf(node)
  const there = arrive(list, site, groundAtNode(repair.plant, node.id, repair.site), repair.site)
  const cleaned = list.add('clean', site, there)
  const confirmed = confirmEach(list, site, linksOf(repair.hit), () => [cleaned])
  proveFromBothEnds(list, repair, [cleaned, ...confirmed])
  return draft({
    ...common,
    name: `Clean and re-seat at ${node.name}`,
    whyNot: [],
    steps: list.steps,
    parts: [part('wipe', 4, 'two sides, two passes'), part('cleaning pen', 1, 'adapter')],
    projected: project(repair, repair.hit, NO_CHANGE),
    hazards: [INVISIBLE],
    reasons: ['nothing is opened, nothing is used up but wipes'],
  })
}

/** Lay the fibers of a closure, coil or panel back to their radius; in a run, free the cable from its bend. */
export function redress(repair: RepairCase): DraftOption {
  const { splice, coil, connector, run } = repair.places
  const best = [splice, coil, connector].filter(({ node }) => node).sort((a, b) => b.probability - a.probability)[0]
  const common = { id: 're-dress', kind: 're-dress', name: 'Re-dress the bend', permanence: 'permanent' } as const
  const list = new StepList(repair.rules)
  const inRun = !best?.node || run.probability > best.probability
  const node = inRun ? null : best.node!
  const site = node ? siteOf(node) : siteOfFault(repair).site
  const ground = node ? groundAtNode(repair.plant, node.id, repair.site) : groundAt(repair.cable, repair.fault.chainage)
  const there = arrive(list, site, ground, repair.site)
  const reached = node === null || ground === 'indoor' ? there : [list.add('open', site, there)]
  const dressed = list.add(
    'dress',
    site,
    reached,
    node ? {} : { name: 'free the cable from its bend, look at its sheath' },
  )
  const confirmed = confirmEach(list, site, linksOf(repair.hit), () => [dressed])
  proveFromBothEnds(list, repair, leave(list, site, ground, [dressed, ...confirmed], node !== null))
  return draft({
    ...common,
    name: node
      ? `Re-dress the fibers at ${node.name}`
      : `Free the cable from its bend at ${site.name.replace('the fault at ', '')}`,
    whyNot: [],
    steps: list.steps,
    parts: node === null || ground === 'indoor' ? [] : [part('sealing kit', 1, 'closing again')],
    projected: project(repair, repair.hit, NO_CHANGE),
    hazards: [INVISIBLE, ...hazardsOf(ground)],
    reasons: [
      'no joint is added',
      ...(node ? [] : ['watch the loss while the cable is freed; a kinked sheath needs more than that']),
    ],
  })
}

/** Make the splice again in the closure where it is. */
export function resplice(repair: RepairCase): DraftOption {
  const { node } = repair.places.splice
  const common = { id: 're-splice', kind: 're-splice', name: 'Re-splice in place', permanence: 'permanent' } as const
  if (!node) return none(common, 'no splice stands where the fault may be')
  const record = repair.plant.nodes.find(({ id }) => id === node.id)!
  const left = record.trayFiber?.find(({ cable }) => cable === repair.cable.id)?.fiber ?? null
  if (left !== null && left < TRAY_FIBER)
    return none(common, `${left.toFixed(1)} m of fiber are left in the tray, ${TRAY_FIBER} m are needed`)
  const list = new StepList(repair.rules)
  const site = siteOf(node)
  const ground = groundAtNode(repair.plant, node.id, repair.site)
  const there = arrive(list, site, ground, repair.site)
  const opened = ground === 'indoor' ? there : [list.add('open', site, there)]
  const lifted = list.add('dress', site, opened, { name: 'lift the tray, free the fiber, lay it out to the bench' })
  const joints = spliceAll(list, repair, site, repair.hit, () => [lifted], false)
  const confirmed = confirmEach(list, site, linksOf(repair.hit), joints.storedOf)
  proveFromBothEnds(list, repair, leave(list, site, ground, [...joints.stored, ...confirmed], true))
  return draft({
    ...common,
    name: `Re-splice at ${node.name}`,
    whyNot: [],
    steps: list.steps,
    parts: [
      ...spliceParts(joints.count, false),
      ...(ground === 'indoor' ? [] : [part('sealing kit', 1, 'closing again')]),
    ],
    projected: project(repair, repair.hit, NO_CHANGE),
    hazards: [INVISIBLE, GLASS, ARC, ...hazardsOf(ground)],
    reasons: [
      'made again where it is, without a new closure',
      ...(left === null ? ['the record does not say how much fiber is left in the tray: look first'] : []),
    ],
  })
}

/** A new connector, each way that the kit allows. */
export function reterminate(repair: RepairCase): DraftOption[] {
  const { node } = repair.places.connector
  const ways = Object.entries(repair.rules.terminations) as [
    TerminationWay,
    (typeof repair.rules.terminations)[TerminationWay],
  ][]
  return ways.map(([way, rule]) => {
    const common = {
      id: `re-terminate/${way}`,
      kind: 're-terminate',
      name: `Re-terminate: ${rule.name}`,
      way,
      permanence: 'permanent',
    } as const
    if (!node) return none(common, 'no connector stands where the fault may be')
    const link = repair.plant.links.find(({ id }) => id === repair.linkId)!
    const end = link.ends && (node.id === link.from ? link.ends.from : node.id === link.to ? link.ends.to : null)
    const fit = end ? `${end.connector}/${end.polish}` : null
    const missing = rule.tools.filter((tool) => countOf(repair.kit, tool) === 0)
    if (missing.length > 0) return none(common, `no ${missing.map(kindName).join(', no ')} in the kit`)
    const list = new StepList(repair.rules)
    const site = siteOf(node)
    const there = arrive(list, site, groundAtNode(repair.plant, node.id, repair.site), repair.site)
    const done = repair.hit.map(({ fiber }) =>
      list.add('terminate', site, there, {
        name: `${rule.name} on fiber ${fiber}`,
        minutes: rule.minutes,
        needs: ['splicing', ...rule.tools],
        mark: String(fiber),
        fibers: [fiber],
      }),
    )
    const confirmed = confirmEach(list, site, linksOf(repair.hit), () => done)
    proveFromBothEnds(list, repair, [...done, ...confirmed])
    const splices = way === 'pigtail' ? 1 : 0
    return draft({
      ...common,
      name: `${common.name} at ${node.name}`,
      whyNot: [],
      steps: list.steps,
      parts: rule.parts.map((kind) =>
        part(kind, repair.hit.length, rule.name, kind === 'pigtail' || kind.endsWith('connector') ? fit : null),
      ),
      // The baseline knows the old pair only within the whole: it is taken as a typical one.
      projected: project(repair, repair.hit, {
        splices,
        added: {
          loss: rule.loss.expected - TYPICAL.pair.loss,
          sigma: Math.hypot(rule.loss.sigma, TYPICAL.pair.sigma),
        },
      }),
      hazards: [INVISIBLE, GLASS, ...(/epoxy|anaerobic/.test(way) ? ['adhesives: skin, eyes, fumes'] : [])],
      reflectanceRisk: /epoxy|anaerobic|hot-melt/.test(way)
        ? 'over-polishing shows in reflectance before it shows in loss'
        : way === 'mechanical'
          ? 'a mechanical joint reflects more than a fusion splice'
          : null,
      reasons: [`expected loss of the pair ${rule.loss.expected} ± ${rule.loss.sigma} dB`],
    })
  })
}

/** A repair that can't be done here. */
export function none(
  option: Pick<DraftOption, 'id' | 'kind' | 'name' | 'permanence'> & Partial<DraftOption>,
  ...whyNot: string[]
): DraftOption {
  return draft({ steps: [], parts: [], projected: [], hazards: [], reasons: [], ...option, whyNot })
}
