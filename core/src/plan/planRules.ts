import type { Skill } from '../kit/kinds.ts'
import type { Cause, PlaceClass } from '../locate/posterior/suspicionRules.ts'
import { SPLICING_TIMES, type SplicingTimes } from './schedule/splicing.ts'
import type { ThreePoint } from './schedule/threePoint.ts'

/** Ways of repair, least intervention first. */
export const REPAIR_KINDS = [
  'clean',
  're-dress',
  're-splice',
  're-terminate',
  'spare-fibers',
  'one-closure',
  'section',
  'temporary',
] as const
export type RepairKind = (typeof REPAIR_KINDS)[number]

/** Ways of putting a connector on. */
export type TerminationWay = 'pigtail' | 'splice-on' | 'mechanical' | 'anaerobic' | 'hot-melt' | 'epoxy'

/** Kinds of steps whose minutes a rule book gives and rates are learned for. */
export type StepKind =
  | 'travel'
  | 'set-up'
  | 'permit'
  | 'locate-services'
  | 'dig'
  | 'gas-test'
  | 'access'
  | 'identify'
  | 'open'
  | 'prepare-end'
  | 'open-tube'
  | 'clean'
  | 'dress'
  | 'terminate'
  | 'mechanical-splice'
  | 'haul'
  | 'patch'
  | 'splice'
  | 'confirm'
  | 'close'
  | 'pressure-test'
  | 'reinstate'
  | 'clear-up'
  | 'final-test'

export interface StepRule {
  name: string
  minutes: ThreePoint
  /** Skills and kinds of kit, one unit each. */
  needs: readonly string[]
}

export interface TerminationRule {
  name: string
  minutes: ThreePoint
  /** Kinds of kit used up, one each. */
  parts: readonly string[]
  tools: readonly string[]
  /** Expected loss of the mated pair with its standard deviation, dB. */
  loss: { expected: number; sigma: number }
  permanent: boolean
}

/** Weights of what a lead wants, any scale. */
export interface Weights {
  firstCircuit: number
  allCircuits: number
  cost: number
  margin: number
  permanence: number
  /** As little as possible is opened and changed. */
  intervention: number
}

/** What repairs take and how they are chosen. Data, so that an operator can keep a book of its own. */
export interface PlanRules {
  name: string
  version: number
  source: string
  steps: Record<StepKind, StepRule>
  splicing: SplicingTimes
  terminations: Record<TerminationWay, TerminationRule>
  /** Chance that a repair cures a cause at a kind of place; what is not listed, it doesn't. */
  cures: Record<RepairKind, Partial<Record<PlaceClass, Partial<Record<Cause, number>>>>>
  /** A repair less likely to help than this is not offered. */
  leastChance: number
  /** A temporary repair is worth its work when priority circuits come back so many minutes sooner. */
  worthATemporary: number
  /** Expected loss of what a repair adds, dB. */
  adds: { splice: { expected: number; sigma: number }; mechanicalSplice: { expected: number; sigma: number } }
  /** Pace of hauling cable, m a minute, from one end. */
  haulPace: number
  weights: Weights
}

const judged = (best: number, likely: number, worst: number): ThreePoint => ({ best, likely, worst })
const step = (name: string, minutes: ThreePoint, ...needs: (Skill | string)[]): StepRule => ({ name, minutes, needs })

const RUN_CURES = { break: 0.97, crush: 0.95, pull: 0.85, macrobend: 0.8, water: 0.8, aging: 0.3 } as const

/**
 * Judgement of common practice, no published source: minutes by step, chances that a repair helps, expected losses.
 * The order of choices is common practice: the least intervention that restores the link to its baseline.
 */
export const PLAN_RULES: PlanRules = {
  name: 'repair plan',
  version: 1,
  source: 'common practice and judgement, no published source; splicing times are made to fit common practice',
  steps: {
    travel: step('travel', judged(20, 30, 60), 'vehicle'),
    'set-up': step('set up the place, signs and lights', judged(8, 12, 25), 'cabling'),
    permit: step('permit and word of the desk', judged(5, 10, 30)),
    'locate-services': step('locate buried services', judged(10, 15, 40), 'digging', 'cable locator'),
    dig: step('dig to the cable', judged(40, 75, 180), 'digging', 'digging gear'),
    'gas-test': step('gas test, ventilate', judged(5, 10, 25), 'confined space', 'gas meter'),
    access: step('ladder or platform up', judged(8, 15, 30), 'climbing', 'platform'),
    identify: step('identify the cable two ways, prove it free of voltage', judged(4, 8, 15), 'testing'),
    open: step('vent, then open the closure', judged(8, 12, 25), 'cabling'),
    'prepare-end': step('prepare the cable end', judged(20, 30, 50), 'cabling', 'sheath tools'),
    'open-tube': step('open the tube, clean its fibers', judged(2, 3, 6), 'cabling'),
    clean: step('inspect, clean, inspect, re-seat', judged(4, 6, 12), 'testing', 'microscope'),
    dress: step('re-dress fibers to their radius', judged(5, 10, 25), 'splicing'),
    terminate: step('put the connector on', judged(6, 10, 18), 'splicing'),
    'mechanical-splice': step('mechanical splice', judged(3, 5, 10), 'splicing', 'cleaver'),
    haul: step('haul the cable', judged(15, 25, 60), 'cabling', 'cabling'),
    patch: step('move the patch cord', judged(3, 5, 12), 'testing'),
    splice: step('splice', judged(1.5, 1.9, 2.3), 'splicing'),
    confirm: step('desk confirms light', judged(1, 2, 5)),
    close: step('close and seal the closure', judged(15, 22, 40), 'cabling'),
    'pressure-test': step(
      'pressure test, to the closure’s own figure only',
      judged(5, 8, 15),
      'cabling',
      'pressure test set',
    ),
    reinstate: step('backfill and reinstate', judged(25, 40, 90), 'digging', 'digging gear'),
    'clear-up': step('count shards, clear the place', judged(5, 10, 20), 'cabling'),
    'final-test': step('loss and reflectance from this end', judged(6, 10, 20), 'testing', 'otdr'),
  },
  splicing: SPLICING_TIMES,
  terminations: {
    pigtail: {
      name: 'spliced pigtail',
      minutes: judged(6, 9, 15),
      parts: ['pigtail', 'splice sleeve'],
      tools: ['splicer', 'cleaver'],
      loss: { expected: 0.25, sigma: 0.1 },
      permanent: true,
    },
    'splice-on': {
      name: 'splice-on connector',
      minutes: judged(7, 10, 16),
      parts: ['splice-on connector'],
      tools: ['splicer', 'cleaver'],
      loss: { expected: 0.3, sigma: 0.1 },
      permanent: true,
    },
    mechanical: {
      name: 'pre-polished mechanical connector',
      minutes: judged(5, 8, 15),
      parts: ['mechanical connector'],
      tools: ['cleaver'],
      loss: { expected: 0.45, sigma: 0.2 },
      permanent: true,
    },
    anaerobic: {
      name: 'anaerobic adhesive and polish',
      minutes: judged(12, 18, 30),
      parts: ['connector body', 'anaerobic kit'],
      tools: ['polishing set'],
      loss: { expected: 0.3, sigma: 0.12 },
      permanent: true,
    },
    'hot-melt': {
      name: 'hot-melt and polish',
      minutes: judged(14, 20, 32),
      parts: ['connector body', 'hot-melt kit'],
      tools: ['polishing set'],
      loss: { expected: 0.28, sigma: 0.1 },
      permanent: true,
    },
    epoxy: {
      name: 'epoxy and polish',
      minutes: judged(25, 40, 70),
      parts: ['connector body', 'epoxy kit'],
      tools: ['polishing set'],
      loss: { expected: 0.25, sigma: 0.1 },
      permanent: true,
    },
  },
  cures: {
    clean: { connector: { connector: 0.75, 'wrong-patch': 0.3, aging: 0.1 } },
    're-dress': {
      splice: { macrobend: 0.9, crush: 0.4, pull: 0.2, water: 0.1 },
      connector: { macrobend: 0.8, crush: 0.3 },
      coil: { macrobend: 0.85, crush: 0.2 },
      run: { macrobend: 0.6, crush: 0.15 },
    },
    're-splice': {
      splice: { 'bad-splice': 0.95, break: 0.9, crush: 0.6, pull: 0.5, macrobend: 0.85, water: 0.4, aging: 0.6 },
    },
    're-terminate': { connector: { connector: 0.97, break: 0.8, crush: 0.5, aging: 0.9 } },
    'spare-fibers': {
      splice: { 'bad-splice': 0.95, break: 0.95, crush: 0.9, pull: 0.85, macrobend: 0.9, water: 0.7, aging: 0.8 },
      coil: { break: 0.95, crush: 0.9, pull: 0.85, macrobend: 0.9, water: 0.7, aging: 0.8 },
      run: { break: 0.95, crush: 0.9, pull: 0.8, macrobend: 0.8, water: 0.6, aging: 0.6 },
    },
    'one-closure': { run: RUN_CURES, coil: RUN_CURES },
    section: { run: RUN_CURES, coil: RUN_CURES },
    temporary: { run: RUN_CURES, coil: RUN_CURES, splice: { 'bad-splice': 0.8, break: 0.9, crush: 0.8 } },
  },
  leastChance: 0.25,
  worthATemporary: 30,
  adds: { splice: { expected: 0.05, sigma: 0.03 }, mechanicalSplice: { expected: 0.2, sigma: 0.1 } },
  haulPace: 5,
  weights: { firstCircuit: 3, allCircuits: 2, cost: 2, margin: 1, permanence: 3, intervention: 2 },
}

/** What a site gives: entered by those who know it. */
export interface SiteFacts {
  /** From the closure to the bench, m. */
  toBench: number
  /** Sheath opened and prepared, each side, m. */
  preparation: number
  /** Damaged sheath that is cut away, m. */
  lost: number
  /** Length of the new section where one is laid, m on the ground. */
  section: number
  /** A road or railway is touched: signs and a permit. */
  traffic: boolean
  /** Work below ground level, in a manhole or hand-hole. */
  belowGround: boolean
}

export const SITE_DEFAULTS: SiteFacts = {
  toBench: 8,
  preparation: 3,
  lost: 2,
  section: 40,
  traffic: false,
  belowGround: true,
}
