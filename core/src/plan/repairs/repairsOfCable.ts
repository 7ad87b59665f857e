import { countOf } from '../../kit/index.ts'
import { metres } from '../../units/index.ts'
import type { DraftOption, Part } from './option.ts'
import {
  addedSplices,
  confirmEach,
  draft,
  linksOf,
  part,
  project,
  proveFromBothEnds,
  spliceParts,
  type RepairCase,
} from './repairs.ts'
import { ARC, GLASS, hazardsOf, INVISIBLE, none } from './repairsAtJoints.ts'
import { siteOfFault } from './siteOfFault.ts'
import { slackFor, type SlackSum } from './slack.ts'
import { spliceAll, type LaidSplices } from './spliceAll.ts'
import { inCircuitOrder, type HitFiber } from './hit.ts'
import { arrive, groundAt, leave, StepList, type Site } from '../schedule/steps.ts'

const length = (metres: number) => `${metres.toFixed(1).replace(/\.0$/, '')} m`

/** Cable identified, both ends prepared. @returns ids after which tubes can be opened */
function prepareEnds(list: StepList, site: Site, there: readonly string[], ends = 2): string[] {
  const known = list.add('identify', site, there)
  return Array.from({ length: ends }, (_, k) =>
    list.add('prepare-end', site, [known], { name: `prepare cable end ${k + 1} of ${ends}`, mark: String(k + 1) }),
  )
}

/** Tubes opened in the order of their circuits, their fibers spliced. */
function joinHere(
  list: StepList,
  repair: RepairCase,
  site: Site,
  fibers: readonly HitFiber[],
  ready: readonly string[],
): LaidSplices {
  const opened = new Map<number, string>()
  const open = (tube: number) => {
    const known = opened.get(tube)
    if (known !== undefined) return [known]
    const name = `open tube ${tube} at both sides, clean its fibers`
    const id = list.add('open-tube', site, ready, { name, mark: String(tube) })
    opened.set(tube, id)
    return [id]
  }
  return spliceAll(list, repair, site, fibers, open)
}

const needsFor = ({ site }: RepairCase) => ({ toBench: site.toBench, preparation: site.preparation, lost: site.lost })

export function slackSumOf(repair: RepairCase): SlackSum {
  return slackFor(repair.plant, repair.cable.id, repair.fault.chainage, needsFor(repair))
}

function closureParts(repair: RepairCase, closures: number, fibers: number, splices: number): Part[] {
  const { ribbon } = repair.scenario
  const trays = Math.ceil(fibers / repair.cable.tubeSize)
  return [
    ...(closures > 0
      ? [part('closure', closures, `${fibers} splices each`, null, fibers)]
      : [part('sealing kit', 1, 'closing again')]),
    part('tray', trays * Math.max(1, closures), 'one a tube'),
    ...spliceParts(splices, ribbon),
  ]
}

const ribbonReason = ({ scenario, cable }: RepairCase) =>
  scenario.ribbon
    ? [
        'ribbon by ribbon: quicker; a ribbon with one bad fiber is redone whole',
        ...(/ribbon/.test(cable.construction)
          ? []
          : ['the cable has no ribbons: its fibers are laid into ribbons first, which these minutes do not count']),
      ]
    : []

/** One closure at the break, on the slack of the coils. */
export function oneClosure(repair: RepairCase): DraftOption {
  const common = {
    id: 'one-closure',
    kind: 'one-closure',
    name: 'One new closure on slack',
    permanence: 'permanent',
  } as const
  const slack = slackSumOf(repair)
  const sum = `needed ${length(slack.needed)} (twice ${length(repair.site.toBench)} to the bench and ${length(repair.site.preparation)} to prepare, ${length(repair.site.lost)} cut away), coils hold ${length(slack.available)}`
  if (slack.short > 0) return none({ ...common, slack }, `slack is ${length(slack.short)} short: ${sum}`)
  const { site, ground, closureThere } = siteOfFault(repair)
  const list = new StepList(repair.rules)
  const there = arrive(list, site, ground, repair.site)
  const ready = prepareEnds(list, site, closureThere ? [list.add('open', site, there)] : there)
  const joints = joinHere(list, repair, site, repair.hit, ready)
  const confirmed = confirmEach(list, site, linksOf(repair.hit), joints.storedOf)
  proveFromBothEnds(list, repair, leave(list, site, ground, [...joints.stored, ...confirmed], true))
  return draft({
    ...common,
    name: closureThere ? `Cut and splice in ${site.name}` : common.name,
    whyNot: [],
    steps: list.steps,
    parts: closureParts(repair, closureThere ? 0 : 1, repair.hit.length, joints.count),
    projected: project(repair, repair.hit, addedSplices(1, repair.rules)),
    slack,
    hazards: [INVISIBLE, GLASS, ARC, ...hazardsOf(ground)],
    reasons: [
      `slack of ${length(slack.available)} is enough for ${length(slack.needed)}; ${length(slack.remains!.before)} and ${length(slack.remains!.after)} remain for next time`,
      ...(Math.abs(slack.shift) > 0.05
        ? [
            `the closure stands ${length(Math.abs(slack.shift))} towards ${slack.shift > 0 ? 'higher' : 'lower'} chainage, where the slack is short`,
          ]
        : []),
      'one splice more in each fiber',
      ...ribbonReason(repair),
    ],
  })
}

/** A new length of cable between two closures. */
export function section(repair: RepairCase): DraftOption {
  const common = {
    id: 'section',
    kind: 'section',
    name: 'New section with two closures',
    permanence: 'permanent',
  } as const
  const { crews, haulFromBothEnds } = repair.scenario
  const slack = slackSumOf(repair)
  const ground = groundAt(repair.cable, repair.fault.chainage)
  const half = repair.site.section / 2
  const sites = ([-1, 1] as const).map((side, k): Site => {
    const chainage = Math.round(repair.fault.chainage + side * half)
    return {
      id: k === 0 ? 'low' : 'high',
      name: `closure at ${metres(chainage)}`,
      crew: crews === 2 ? (k === 0 ? 1 : 2) : null,
    }
  }) as [Site, Site]
  const [low, high] = sites
  const list = new StepList(repair.rules)
  const atLow = arrive(list, low, ground, repair.site)
  // One crew goes on to the other place when it has laid this one open.
  const nearby = { minutes: { best: 5, likely: 10, worst: 20 }, name: `on to ${high.name}` }
  const atHigh = arrive(list, high, ground, repair.site, crews === 2 ? [] : atLow, crews === 2 ? {} : nearby)
  const laid = repair.site.section + 2 * (repair.site.toBench + repair.site.preparation)
  const pace = (haulFromBothEnds ? 2 : 1) * repair.rules.haulPace
  const base = repair.rules.steps.haul.minutes
  const hauling = laid / pace
  const hauled = list.add('haul', { ...low, crew: null }, [...atLow, ...atHigh], {
    name: `haul ${length(laid)} of cable${haulFromBothEnds ? ' from both ends' : ''}`,
    minutes: { best: base.best + 0.7 * hauling, likely: base.likely + hauling, worst: base.worst + 2 * hauling },
    needs: haulFromBothEnds
      ? ['cabling', 'cabling', 'cabling', 'cabling', 'cable winch']
      : ['cabling', 'cabling', 'cable winch'],
  })
  const joints = sites.map((site) => joinHere(list, repair, site, repair.hit, prepareEnds(list, site, [hauled])))
  const confirmed = confirmEach(list, { ...low, crew: null }, linksOf(repair.hit), (fibers) =>
    joints.flatMap((joint) => joint.storedOf(fibers)),
  )
  const left = sites.flatMap((site, k) => leave(list, site, ground, joints[k]!.stored, true))
  proveFromBothEnds(list, repair, [...left, ...confirmed])
  const splices = joints.reduce((sum, { count }) => sum + count, 0)
  return draft({
    ...common,
    whyNot: [],
    steps: list.steps,
    parts: [
      part(
        'cable',
        Math.ceil(laid),
        `new section, ${repair.cable.fiberCount} fibers`,
        repair.cable.fiberType,
        repair.cable.fiberCount,
      ),
      ...closureParts(repair, 2, repair.hit.length, splices),
    ],
    projected: project(repair, repair.hit, addedSplices(2, repair.rules)),
    slack,
    hazards: [INVISIBLE, GLASS, ARC, ...hazardsOf(ground)],
    reasons: [
      slack.short > 0
        ? `slack is ${length(slack.short)} short for one closure`
        : 'all damaged cable goes, but slack would allow one closure',
      `two splices more in each fiber; ${length(laid)} of ${repair.cable.fiberType} cable shift all that lies beyond in the records`,
      ...ribbonReason(repair),
    ],
  })
}

/** A surface-laid length over the break for the fibers that carry circuits, joined mechanically. */
export function temporary(repair: RepairCase): DraftOption {
  const common = {
    id: 'temporary',
    kind: 'temporary',
    name: 'Surface-laid cable over the break',
    permanence: 'temporary',
  } as const
  const lit = repair.hit.filter(({ link }) => link)
  if (lit.length === 0) return none(common, 'no circuit rides the fibers that are hit')
  const { site, ground } = siteOfFault(repair)
  const list = new StepList(repair.rules)
  const there = arrive(list, site, ground, repair.site)
  const ready = prepareEnds(list, site, there)
  const laid = repair.site.lost + 2 * (repair.site.toBench + repair.site.preparation)
  const over = list.add('haul', site, there, {
    name: `lay ${length(laid)} of cable on the surface, guard it`,
    minutes: { best: 5, likely: 8, worst: 20 },
    needs: ['cabling'],
  })
  const joined = new Map<number, string[]>()
  for (const { tube, fibers } of inCircuitOrder(lit, repair.cable.tubeSize)) {
    const opened = list.add('open-tube', site, ready, { name: `open tube ${tube} at both sides`, mark: String(tube) })
    for (const { fiber } of fibers)
      joined.set(
        fiber,
        ['1', '2'].map((side) =>
          list.add('mechanical-splice', site, [opened, over], {
            name: `mechanical splice ${side} of 2 on fiber ${fiber}`,
            mark: `${fiber}-${side}`,
            fibers: [fiber],
          }),
        ),
      )
  }
  const confirmed = confirmEach(list, site, linksOf(lit), (fibers) =>
    fibers.flatMap((fiber) => joined.get(fiber) ?? []),
  )
  list.add('clear-up', site, confirmed, { name: 'fence and mark the temporary cable' })
  const metres = countOf(repair.kit, 'surface cable', { fit: repair.cable.fiberType })
  return draft({
    ...common,
    whyNot: [],
    steps: list.steps,
    parts: [
      part('surface cable', Math.ceil(laid), `over the break (${length(metres)} at hand)`, repair.cable.fiberType),
      part('mechanical splice', 2 * lit.length, 'two a fiber'),
      part('wipe', 4 * lit.length, 'two a splice'),
    ],
    projected: project(repair, lit, addedSplices(2, repair.rules, true)),
    hazards: [INVISIBLE, GLASS, ...hazardsOf(ground)],
    reflectanceRisk: 'mechanical splices reflect; watch reflectance where analogue video or high rates ride',
    reasons: [
      `only the ${lit.length === 1 ? 'fiber that carries circuits is' : `${lit.length} fibers that carry circuits are`} joined; a permanent repair must follow`,
    ],
  })
}
