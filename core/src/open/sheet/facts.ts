import type { Ground } from '../../plan/schedule/steps.ts'

/** Closures and panels that procedures are written for. */
export const CLOSURE_KINDS = ['gel-dome', 'wall-box', 'panel-module', 'live-panel'] as const
export type ClosureKind = (typeof CLOSURE_KINDS)[number]

/** How a kind of closure is called. */
export const CLOSURE_WORDS: Record<ClosureKind, string> = {
  'gel-dome': 'gel-sealed dome closure',
  'wall-box': 'wall or strand box with pigtails and adapters',
  'panel-module': 'panel pigtail module',
  'live-panel': 'panel in service',
}

/** Constructions of cables that are described, as they are called. */
export const CONSTRUCTION_WORDS: Readonly<Record<string, string>> = {
  'loose-tube': 'stranded loose tube',
  'micro-module': 'micro-module',
  'rollable-ribbon': 'rollable ribbon, wrapped core',
  ribbon: 'ribbon',
  'active-4': 'four-fiber active cable',
  'pigtail-module': 'panel pigtail module',
}

/** How a construction is called; one that is not described by its name in the record. */
export function constructionWord(construction: string): string {
  return CONSTRUCTION_WORDS[construction] ?? construction
}

/** What is to be done at the place. */
export const WORKS = ['re-enter', 'bring-in', 'prepare', 'connector', 'panel'] as const
export type Work = (typeof WORKS)[number]

export const WORK_WORDS: Record<Work, string> = {
  're-enter': 'open it, work on its joints, close it',
  'bring-in': 'open it, bring a cable in, join, close it',
  prepare: 'prepare a cable, no closure',
  connector: 'put a connector on a fiber',
  panel: 'work at a panel in service',
}

/** Ways of getting a connector on whose preparation has lengths. */
export const CONNECTOR_WAYS = ['soft-coated', 'tube-900', 'field-lc', 'epoxy', 'anaerobic', 'hot-melt'] as const
export type ConnectorWay = (typeof CONNECTOR_WAYS)[number]

export const CONNECTOR_WORDS: Record<ConnectorWay, string> = {
  'soft-coated': 'pre-polished connector, soft-coated fiber',
  'tube-900': 'pre-polished connector, 900 µm tube',
  'field-lc': 'field-installable LC',
  epoxy: 'epoxy and polish',
  anaerobic: 'anaerobic adhesive and polish',
  'hot-melt': 'hot-melt and polish',
}

/** Where customs differ: the schools. */
export interface Schools {
  /** Where the sheath ends: at the closure's cable attachment, or run on to the basket. */
  sheathEnd: 'attachment' | 'basket'
  /** The ground cable goes from the armor's bond to its stud before or after the wedge goes in: both work. */
  groundCable: 'before-wedge' | 'after-wedge'
}

export const DEFAULT_SCHOOLS: Schools = { sheathEnd: 'attachment', groundCable: 'before-wedge' }

/** Under this diameter tape and a bushing go on: 12.7 mm (½ in), common practice. */
export const THIN_BELOW = 0.0127

/** What a run sheet is compiled for. */
export interface SheetFacts {
  work: Work
  /** Node id; null where there is none (a new closure in a run). */
  node: string | null
  /** In the words of the plant. */
  place: string
  /** Cable that is worked on; null at a panel. */
  cable: string | null
  /** From the cable's record. */
  construction: string
  fiberCount: number
  /** Tubes, modules or bundles. */
  groups: number
  /** Fibers in each but the last; null where nobody knows. */
  groupFibers: number | null
  /** What they are called. */
  groupWord: string
  armored: boolean
  /** Here the operator grounds armor: it gets a bond plate and a ground cable. */
  grounded: boolean
  doubleJacket: boolean
  /** It has a member that the closure holds; rods bonded into the jacket are none. */
  strengthMember: boolean
  /** Copper, tracer wire or messenger, which can carry a voltage. */
  metallic: boolean
  /** Outer diameter, m; null where nobody measured it. */
  diameter: number | null
  entry: 'end' | 'mid-span'
  closure: ClosureKind | null
  /** As in the record; null where it has none. */
  closureModel: string | null
  /** Port that is free and right for the cable by habit; null where none is known. */
  port: number | null
  /** Ports of the closure. */
  ports: number
  /** Thinner cables go in with tape and a bushing, m; 0: none does. */
  bushingBelow: number
  /** Ports that hold a cable by the record. */
  cables: number
  /** A closure that holds joints already; a new one is vented too. */
  inService: boolean
  /** Fibers of this cable or this panel carry traffic, or nobody knows. */
  live: boolean
  /** Other cables in the same closure or panel carry traffic, or nobody knows. */
  liveNeighbours: boolean
  /** Which, by the record. */
  neighbours: readonly string[]
  ground: Ground
  schools: Schools
  connector: ConnectorWay | null
  /** Connector type where lengths depend on it. */
  ferrule: 'SC' | 'LC' | null
  /** Connectors to be made on this cable's end. */
  connectors: number
  /** What a panel module brings: pigtails one by one, or ribbons of them. */
  pigtails: 'single' | 'ribbon'
}

/** A cable on a bench, nothing else known of it; treated as live. */
export const BENCH_FACTS: SheetFacts = {
  work: 'prepare',
  node: null,
  place: 'bench',
  cable: null,
  construction: 'loose-tube',
  fiberCount: 12,
  groups: 1,
  groupFibers: null,
  groupWord: 'tube',
  armored: false,
  grounded: false,
  doubleJacket: false,
  strengthMember: true,
  metallic: false,
  diameter: null,
  entry: 'end',
  closure: null,
  closureModel: null,
  port: null,
  ports: 6,
  bushingBelow: THIN_BELOW,
  cables: 0,
  inService: false,
  live: true,
  liveNeighbours: false,
  neighbours: [],
  ground: 'indoor',
  schools: DEFAULT_SCHOOLS,
  connector: null,
  ferrule: null,
  connectors: 1,
  pigtails: 'single',
}

/** A test of facts: all that is said must hold; a list holds by any of its values. */
export interface Condition {
  work?: readonly Work[] | undefined
  construction?: readonly string[] | undefined
  closure?: readonly ClosureKind[] | undefined
  /** Not in these; holds also where there is no closure. */
  closureOtherThan?: readonly ClosureKind[] | undefined
  entry?: readonly SheetFacts['entry'][] | undefined
  ground?: readonly Ground[] | undefined
  connector?: readonly ConnectorWay[] | undefined
  ferrule?: readonly ('SC' | 'LC')[] | undefined
  armored?: boolean | undefined
  grounded?: boolean | undefined
  doubleJacket?: boolean | undefined
  strengthMember?: boolean | undefined
  metallic?: boolean | undefined
  inService?: boolean | undefined
  live?: boolean | undefined
  liveNeighbours?: boolean | undefined
  /** The cable is thinner than what seals without a bushing. */
  thin?: boolean | undefined
  /** More than so many fibers. */
  moreFibersThan?: number | undefined
  /** One connector is to be made, or more than one. */
  connectors?: 'one' | 'several' | undefined
  pigtails?: SheetFacts['pigtails'] | undefined
  sheathEnd?: Schools['sheathEnd'] | undefined
  groundCable?: Schools['groundCable'] | undefined
}

/** Whether facts fit a condition. */
export function holds(condition: Condition | undefined, facts: SheetFacts): boolean {
  if (condition === undefined) return true
  const any = <T>(allowed: readonly T[] | undefined, value: T | null) =>
    allowed === undefined || (value !== null && allowed.includes(value))
  const same = <T>(wanted: T | undefined, value: T) => wanted === undefined || wanted === value
  return (
    any(condition.work, facts.work) &&
    any(condition.construction, facts.construction) &&
    any(condition.closure, facts.closure) &&
    (facts.closure === null || !condition.closureOtherThan?.includes(facts.closure)) &&
    any(condition.entry, facts.entry) &&
    any(condition.ground, facts.ground) &&
    any(condition.connector, facts.connector) &&
    any(condition.ferrule, facts.ferrule) &&
    same(condition.armored, facts.armored) &&
    same(condition.grounded, facts.grounded) &&
    same(condition.doubleJacket, facts.doubleJacket) &&
    same(condition.strengthMember, facts.strengthMember) &&
    same(condition.metallic, facts.metallic) &&
    same(condition.inService, facts.inService) &&
    same(condition.live, facts.live) &&
    same(condition.liveNeighbours, facts.liveNeighbours) &&
    same(condition.thin, facts.diameter !== null && facts.diameter < facts.bushingBelow) &&
    (condition.moreFibersThan === undefined || facts.fiberCount > condition.moreFibersThan) &&
    same(condition.connectors, facts.connectors > 1 ? 'several' : 'one') &&
    same(condition.pigtails, facts.pigtails) &&
    same(condition.sheathEnd, facts.schools.sheathEnd) &&
    same(condition.groundCable, facts.schools.groundCable)
  )
}
