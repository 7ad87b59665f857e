import { coreOf } from '../../fiber/fiberKind.ts'
import { countOf, crewsOf, itemsOf, KIT_KINDS, kindName, whyUnfit, type Kit, type KitKind } from '../../kit/index.ts'
import type { Cable, Link } from '../../plant/types.ts'
import { chooseCords, type CordChoice } from './cords.ts'
import type { RepairOption } from '../repairs/option.ts'
import type { Scenario } from './crews.ts'
import { substituteFor } from './substitutes.ts'

/** A line of the packing list. */
export interface PackingLine {
  /** Kind and fit: stays the same when the plan changes a little. */
  id: string
  kind: string
  name: string
  group: KitKind['group']
  count: number
  unit: KitKind['unit']
  why: string
  /** Where it is, with how many; empty when it is nowhere. */
  places: string[]
  /** How many are missing. */
  missing: number
  substitute: string | null
  /** Why one that is there is not counted. */
  unfit: string[]
}

/** Consumables are taken with so much more, at least one. Common practice, no published source. */
const MARGIN: Partial<Record<string, number>> = {
  'splice sleeve': 0.2,
  'ribbon sleeve': 0.5,
  wipe: 0.5,
  pigtail: 0.25,
  'splice-on connector': 0.5,
  'mechanical connector': 0.5,
  'mechanical splice': 0.25,
  'connector body': 0.5,
  cable: 0.1,
  'surface cable': 0.1,
}

interface Wanted {
  kind: string
  fit: string | null
  fibers?: number | null
  count: number
  why: string
}

/** What goes into the van for some repairs, held against kit and stock. */
export function packingList(
  options: readonly RepairOption[],
  {
    kit,
    cable,
    link,
    scenario,
    today,
  }: { kit: Kit; cable: Cable; link: Link; scenario: Scenario; today: string | null },
): { lines: PackingLine[]; cords: CordChoice | null } {
  const cords = cordsFor(link, kit, cable)
  const people = crewsOf(kit)
    .slice(0, scenario.crews)
    .reduce((sum, crew) => sum + crew.people.length, 0)
  const wanted = [
    ...options.flatMap(partsOf),
    ...options.flatMap((option) => toolsOf(option, scenario, cable)),
    ...(cords?.cords.map(({ to, count }) => ({ kind: 'test cord', fit: to, count, why: 'loss test' })) ?? []),
    ...(cords?.adapters.map(({ fit, count }) => ({ kind: 'adapter', fit, count, why: 'loss test, open ends' })) ?? []),
    ...launchCords(link),
    ...safety(options, Math.max(1, people)),
  ]
  return { lines: together(wanted).map((want) => held(want, kit, today)), cords }
}

function partsOf({ parts, name }: RepairOption): Wanted[] {
  return parts.map(({ kind, fit, fibers, count }) => {
    const more = MARGIN[kind]
    const extra = more === undefined ? 0 : Math.max(1, Math.ceil(more * count))
    return {
      kind,
      fit,
      fibers,
      count: count + extra,
      why: extra > 0 ? `${count} and ${extra} to spare: ${name}` : name,
    }
  })
}

const PACKED: ReadonlySet<string> = new Set(
  KIT_KINDS.filter(({ group }) => ['instrument', 'tool', 'access'].includes(group)).map(({ kind }) => kind),
)

function toolsOf({ steps, kind }: RepairOption, scenario: Scenario, { construction }: Cable): Wanted[] {
  const tools = new Set(steps.flatMap(({ needs }) => needs.map((need) => need.replace(/^\d:/, ''))))
  const splices = steps.some((step) => step.kind === 'splice')
  if (steps.some((step) => step.kind === 'close')) tools.add('closure stand')
  if (steps.some((step) => step.kind === 'gas-test')) tools.add('ventilator').add('gas meter')
  if (splices && steps.some((step) => step.site !== '')) tools.add('splicing tent')
  if (splices && (scenario.ribbon || /ribbon/.test(construction))) tools.add('thermal stripper')
  tools.add('microscope').add('fiber identifier').add('visible light')
  if (steps.some((step) => step.kind === 'final-test')) tools.add('light source').add('power meter')
  return [...tools]
    .filter((tool) => PACKED.has(tool) && tool !== 'oven' && tool !== 'vehicle')
    .map((tool) => ({
      kind: tool === 'splicer' && scenario.ribbon ? 'ribbon splicer' : tool,
      fit: null,
      count: tool === 'splicer' || (tool === 'cleaver' && splices) ? Math.max(1, scenario.splicers) : 1,
      why: kind === 'clean' ? 'cleaning and proof' : 'steps of the plan',
    }))
}

function launchCords({ ends }: Link): Wanted[] {
  const fits = ends ? [ends.from, ends.to].map(({ connector, polish }) => `${connector}/${polish}`) : [null]
  return [...new Set(fits)].map((fit) => ({ kind: 'launch cord', fit, count: 1, why: 'OTDR from this end' }))
}

function safety(options: readonly RepairOption[], people: number): Wanted[] {
  const aerial = options.some(({ steps }) => steps.some(({ kind }) => kind === 'access'))
  return [
    { kind: 'eye protection', fit: null, count: people, why: 'one each: glass and light' },
    { kind: 'gloves', fit: null, count: people, why: 'one pair each: blades and rods' },
    { kind: 'high-visibility vest', fit: null, count: people, why: 'one each' },
    { kind: 'shard bin', fit: null, count: 1, why: 'every shard counted in' },
    { kind: 'first-aid kit', fit: null, count: 1, why: 'in the vehicle' },
    ...(aerial ? [{ kind: 'harness', fit: null, count: 1, why: 'work at height' }] : []),
  ]
}

/**
 * Test cords for a link, by the connector of the kit's power meter; null where the record does not tell the link's ends.
 * @param cable a cable of the link
 */
export function cordsFor({ ends }: Link, kit: Kit, cable: Cable | null): CordChoice | null {
  if (!ends) return null
  const meter = itemsOf(kit, 'power meter').flatMap(({ fits }) => fits)[0] ?? 'SC/UPC'
  const panel = ({ connector, polish }: { connector: string; polish: string }) =>
    ({ kind: 'panel', connector: `${connector}/${polish}` }) as const
  return chooseCords(meter, panel(ends.from), panel(ends.to), cable && coreOf(cable))
}

/** The same thing for two repairs: parts add up, tools are taken once. */
function together(wanted: readonly Wanted[]): Wanted[] {
  const byId = new Map<string, Wanted>()
  for (const want of wanted) {
    const id = `${want.kind} ${want.fit}`
    const known = byId.get(id)
    if (!known) byId.set(id, want)
    else if (PACKED.has(want.kind) || known.why === want.why)
      byId.set(id, { ...known, count: Math.max(known.count, want.count) })
    else byId.set(id, { ...known, count: known.count + want.count, why: `${known.why}; ${want.why}` })
  }
  return [...byId.values()]
}

function held({ kind, fit, fibers, count, why }: Wanted, kit: Kit, today: string | null): PackingLine {
  const known = KIT_KINDS.find((candidate) => candidate.kind === kind)
  const demand = { fit, fibers: fibers ?? null, today }
  const there = itemsOf(kit, kind, demand)
  const missing = Math.max(0, count - countOf(kit, kind, demand))
  const unit = known?.unit ?? 'piece'
  return {
    id: fit === null ? kind : `${kind} ${fit}`,
    kind,
    name: fit === null ? kindName(kind) : `${kindName(kind)} ${fit}`,
    group: known?.group ?? 'tool',
    count,
    unit,
    why,
    places: there.map((item) => `${item.place}: ${item.count} ${unit === 'm' ? 'm of' : '×'} ${item.name}`),
    missing,
    substitute: missing > 0 ? substituteFor(kit, kind, missing, demand) : null,
    unfit: kit.items.flatMap((item) => {
      const reason = item.kind === kind && item.count > 0 ? whyUnfit(item, today) : null
      return reason === null ? [] : [`${item.name}, ${item.place}: ${reason}`]
    }),
  }
}
