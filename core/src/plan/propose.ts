import { CodedError } from '../errors/index.ts'
import { countOf, crewsOf, EMPTY_KIT, kindName, SKILLS, type Kit } from '../kit/index.ts'
import type { PlantBundle } from '../plant/types.ts'
import { FIRST_SCENARIO, unitsOf, type Scenario } from './logistics/crews.ts'
import { hitFibers, type HitFiber } from './repairs/hit.ts'
import { PlanError } from './schedule/network.ts'
import type { DraftOption, Lack, OptionMinutes, Part, RepairOption } from './repairs/option.ts'
import { chanceByPlace, type PlacedFault } from './repairs/placed.ts'
import { PLAN_RULES, REPAIR_KINDS, type PlanRules, type SiteFacts, type Weights } from './planRules.ts'
import type { MeasuredLosses } from './repairs/projectLoss.ts'
import { part, type RepairCase } from './repairs/repairs.ts'
import { clean, redress, resplice, reterminate } from './repairs/repairsAtJoints.ts'
import { oneClosure, section, temporary } from './repairs/repairsOfCable.ts'
import { placeInOrder, type Schedule } from './schedule/schedule.ts'
import { seededRandom } from '../math/random.ts'
import { percentile, simulateSchedule } from './schedule/simulate.ts'
import { moveToSpares } from './repairs/spareFibers.ts'
import type { Step } from './schedule/steps.ts'
import { substituteFor } from './logistics/substitutes.ts'
import { momentsOf } from './schedule/threePoint.ts'

export interface ProposeInput {
  plant: PlantBundle
  linkId: string
  fault: PlacedFault
  /** Fibers of the cable that are known to be hit; null to go by the kind of fault. */
  hit: readonly number[] | null
  kit: Kit
  site: SiteFacts
  scenario?: Scenario
  weights?: Weights
  rules?: PlanRules
  measured?: MeasuredLosses
  /** ISO date that calibration and wear are held against; null leaves them aside. */
  today?: string | null
}

const LIVE =
  'this link is not recorded as dark: no OTDR, source or visible light at traffic wavelengths before the desk has released it and the fiber is shown dark'

/** Repairs that apply, weighed. */
export interface RepairProposal {
  cable: string
  hit: HitFiber[]
  /** Those that can be done by score, then those that can't. */
  options: RepairOption[]
  /** What restores the link for good. */
  lasting: RepairOption | null
  /** What brings priority circuits back before that, when it gains enough. */
  first: RepairOption | null
  warnings: string[]
}

/**
 * Draws up the repairs that apply to a placed fault and ranks them by the lead's wishes.
 * Common practice, no published source: the least intervention that restores the link to its baseline; temporary
 * restoration first where it brings priority circuits back much sooner.
 * @throws CodedError when the plant has no such cable or link
 */
export function proposeRepairs(input: ProposeInput): RepairProposal {
  const { plant, linkId, fault, rules = PLAN_RULES, scenario = FIRST_SCENARIO, measured = {}, today = null } = input
  const cable = plant.cables.find(({ id }) => id === fault.cable)
  if (!cable) throw new CodedError('not-found', `there is no cable "${fault.cable}"`)
  const hit = hitFibers(plant, cable, linkId, fault, input.hit)
  const repair: RepairCase = {
    plant,
    linkId,
    fault,
    cable,
    hit,
    places: chanceByPlace(plant, linkId, fault),
    kit: input.kit,
    site: input.site,
    scenario,
    rules,
    measured,
  }
  const drafts = [
    clean(repair),
    redress(repair),
    resplice(repair),
    ...reterminate(repair),
    moveToSpares(repair),
    oneClosure(repair),
    section(repair),
    temporary(repair),
  ]
  const link = plant.links.find(({ id }) => id === linkId)
  if (link?.state !== 'dark') drafts.forEach((option) => option.hazards.unshift(LIVE))
  const warnings = warningsOf(repair)
  const weighed = drafts.map((option) => weigh(option, repair, today))
  const ranked = score(weighed, input.weights ?? rules.weights, crewSizeOf(input.kit))
  const possible = ranked.filter((option) => option.possible)
  const lasting = possible.find(({ permanence }) => permanence === 'permanent') ?? null
  // On a link that still carries traffic nothing comes back sooner by a temporary repair.
  const first = fault.breaks || lasting === null ? worthBefore(possible, lasting, rules) : null
  return { cable: cable.id, hit, options: ranked, lasting: explain(lasting, possible), first, warnings }
}

function warningsOf({ fault, hit, kit, plant, cable }: RepairCase): string[] {
  const out: string[] = []
  if (!fault.goodEnoughToDig)
    out.push('The place is not good enough to dig: shoot from the other end or take the next test of Locate first.')
  if (kit === EMPTY_KIT || kit.people.length === 0)
    out.push('Nobody is in the kit: minutes are those of one person who can do everything.')
  const rides = new Map<string, number[]>()
  for (const { fiber, link } of hit) if (link) rides.set(link.id, [...(rides.get(link.id) ?? []), fiber])
  for (const [id, fibers] of rides)
    if (fibers.length > 1)
      out.push(
        `The record has ${plant.links.find((link) => link.id === id)!.name} on fibers ${fibers.join(' and ')} of cable ${cable.id}: mend the record; the plan splices all of them.`,
      )
  return out
}

/** Chance that a repair cures the fault: over kinds of places and causes, taken as independent. */
function chanceOf({ kind }: DraftOption, { places, fault, rules }: RepairCase): number {
  let chance = 0
  for (const [place, rates] of Object.entries(rules.cures[kind]) as [keyof typeof places, Record<string, number>][])
    for (const { cause, probability } of fault.causes)
      chance += places[place].probability * probability * (rates[cause] ?? 0)
  return chance
}

function weigh(option: DraftOption, repair: RepairCase, today: string | null): RepairOption {
  const chance = chanceOf(option, repair)
  const whyNot = [...option.whyNot]
  if (whyNot.length === 0 && chance < repair.rules.leastChance)
    whyNot.push(`it would help with a probability of ${Math.round(100 * chance)} % only: ${causesInWords(repair)}`)
  let minutes: OptionMinutes = {
    firstCircuit: null,
    allCircuits: null,
    all: 0,
    finish: { p10: 0, p50: 0, p90: 0 },
    people: 0,
  }
  if (whyNot.length === 0)
    try {
      const schedule = placeInOrder(option.steps, unitsFor(option, repair, today))
      minutes = minutesOf(schedule, option, crewSizeOf(repair.kit))
    } catch (error) {
      if (!(error instanceof PlanError)) throw error
      whyNot.push(error.message)
    }
  const possible = whyNot.length === 0
  return {
    ...option,
    whyNot,
    possible,
    chance,
    minutes,
    lacks: possible ? lacksOf(option, repair, today) : [],
    score: null,
    wishes: {},
  }
}

function causesInWords({ fault, places }: RepairCase): string {
  const where = (Object.entries(places) as [string, { probability: number }][])
    .filter(([, { probability }]) => probability >= 0.1)
    .map(([kind, { probability }]) => `${kind === 'run' ? 'cable run' : kind} ${Math.round(100 * probability)} %`)
  const most = fault.causes[0]
  return `the fault lies in ${where.join(', ')}${most ? `, most likely ${most.name}` : ''}`
}

/** People and tools; with nobody in the kit, one person who can do everything and every tool once. */
export function unitsFor(
  option: Pick<DraftOption, 'steps'>,
  repair: Pick<RepairCase, 'kit' | 'scenario'>,
  today: string | null,
) {
  if (repair.kit.people.length > 0) return unitsOf(repair.kit, repair.scenario, today)
  const needs = [...new Set(option.steps.flatMap((step) => step.needs))]
  return needs.flatMap((need) => [1, 2, 3, 4].map((k) => ({ id: `${need}/${k}`, can: [need] })))
}

/** Runs of a repair that is compared with others: a large one's percentiles are good to some per cent only. */
const runsFor = (steps: number) => Math.round(Math.min(1000, Math.max(40, 100_000 / steps)))

function minutesOf(schedule: Schedule, option: DraftOption, crewSize: number): OptionMinutes {
  const ids = schedule.tasks.map(({ task }) => task.id)
  const back = option.steps.filter(({ restores }) => restores).map(({ id }) => id)
  const { whole, ends, span } = simulateSchedule(schedule, runsFor(ids.length), seededRandom(1), undefined, {
    begins: new Set(ids),
    ends: new Set(back),
  })
  return {
    // Confirmations stand in the order of priority.
    firstCircuit: back.length > 0 ? percentile(ends.get(back[0]!)!, 0.5) : null,
    allCircuits: back.length > 0 ? percentile(span, 0.5) : null,
    all: schedule.end,
    finish: { p10: percentile(whole, 0.1), p50: percentile(whole, 0.5), p90: percentile(whole, 0.9) },
    people: peopleMinutes(option.steps, crewSize),
  }
}

function lacksOf(option: DraftOption, { kit, scenario }: RepairCase, today: string | null): Lack[] {
  const wanted = new Map<string, Part>()
  for (const one of option.parts) {
    const key = `${one.kind} ${one.fit}`
    wanted.set(key, { ...one, count: one.count + (wanted.get(key)?.count ?? 0) })
  }
  if (option.steps.some(({ kind }) => kind === 'splice')) {
    const kind = scenario.ribbon ? 'ribbon splicer' : 'splicer'
    wanted.set(kind, part(kind, scenario.splicers, 'own or rented'))
    if (scenario.ribbon) wanted.set('thermal stripper', part('thermal stripper', 1, 'ribbons'))
  }
  return [...wanted.values()].flatMap(({ kind, fit, fibers, count, unit }) => {
    const demand = { fit, fibers, today }
    const there = countOf(kit, kind, demand)
    if (there >= count) return []
    const what = [kindName(kind), fit, fibers === null ? null : `for ${fibers} fibers`].filter(Boolean).join(' ')
    return [{ what, needed: count, there, unit, substitute: substituteFor(kit, kind, count - there, demand) }]
  })
}

const PERMANENCE = { permanent: 0, interim: 0.5, temporary: 1 }
/** What a wish is worth when nothing is gained by it, minutes: differences below it are no reason. */
const LEAST_SPAN = { minutes: 30, loss: 0.1 }

/** Each wish from 0 (the best there is) to 1 (the worst), weighted; time counts what a failed try would cost on top. */
function score(options: readonly RepairOption[], weights: Weights, crewSize: number): RepairOption[] {
  const possible = options.filter(({ possible: can }) => can)
  const permanent = possible.filter(({ permanence }) => permanence === 'permanent')
  const surest = permanent.toSorted((a, b) => b.chance - a.chance || a.minutes.all - b.minutes.all)[0]
  // Where it fails, the surest one follows; what both need (the way there, the opening) is done by then.
  const expected = (option: RepairOption, minutes: number, next: number | undefined) =>
    minutes + (1 - Math.min(1, option.chance)) * Math.max(0, (next ?? minutes) - sharedMinutes(option, surest))
  /** People's minutes of what the surest needs on top of what was done in vain. */
  const alsoNeeded = (option: RepairOption) => {
    const done = new Set(option.steps.map(({ id }) => id))
    return peopleMinutes(
      (surest?.steps ?? []).filter(({ id }) => !done.has(id)),
      crewSize,
    )
  }
  const figures = new Map(
    possible.map((option) => [
      option,
      {
        firstCircuit: expected(
          option,
          option.minutes.firstCircuit ?? option.minutes.all,
          surest?.minutes.firstCircuit ?? undefined,
        ),
        allCircuits: expected(
          option,
          option.minutes.allCircuits ?? option.minutes.all,
          surest?.minutes.allCircuits ?? undefined,
        ),
        cost: option.minutes.people + (1 - Math.min(1, option.chance)) * alsoNeeded(option) + missing(option),
        margin: Math.max(0, ...option.projected.map(({ after, before }) => after.loss - before.loss)),
        permanence: PERMANENCE[option.permanence] + (option.leavesOut.length > 0 ? 0.5 : 0),
        intervention: REPAIR_KINDS.indexOf(option.kind) / (REPAIR_KINDS.length - 1),
      },
    ]),
  )
  const keys = Object.keys(weights) as (keyof Weights)[]
  const span = (key: keyof Weights) => {
    const values = [...figures.values()].map((figure) => figure[key])
    const least =
      key === 'margin' ? LEAST_SPAN.loss : key === 'permanence' || key === 'intervention' ? 1 : LEAST_SPAN.minutes
    const low = Math.min(...values)
    return { low, width: Math.max(least, Math.max(...values) - low) }
  }
  const spans = Object.fromEntries(keys.map((key) => [key, span(key)])) as Record<
    keyof Weights,
    { low: number; width: number }
  >
  const total = keys.reduce((sum, key) => sum + weights[key], 0) || 1
  const scored = options.map((option): RepairOption => {
    const figure = figures.get(option)
    if (!figure) return option
    const wishes = Object.fromEntries(keys.map((key) => [key, (figure[key] - spans[key].low) / spans[key].width]))
    const sum = keys.reduce((all, key) => all + weights[key] * wishes[key]!, 0)
    return { ...option, wishes, score: sum / total }
  })
  const order = (option: RepairOption) => option.score ?? Infinity
  return scored.sort((a, b) =>
    order(a) === order(b) ? REPAIR_KINDS.indexOf(a.kind) - REPAIR_KINDS.indexOf(b.kind) : order(a) - order(b),
  )
}

function crewSizeOf(kit: Kit): number {
  return crewsOf(kit)[0]?.people.length ?? 1
}

/** People's minutes of some steps; all of a crew travel, whoever works then. */
function peopleMinutes(steps: readonly Step[], crewSize: number): number {
  return steps.reduce((sum, { kind, minutes, needs }) => {
    const people = kind === 'travel' ? crewSize : needs.filter((need) => isSkill(need.replace(/^\d:/, ''))).length
    return sum + people * momentsOf(minutes).mean
  }, 0)
}

function isSkill(need: string): boolean {
  return (SKILLS as readonly string[]).includes(need)
}

/** Minutes of the steps before the first circuit that another repair needs as well. */
function sharedMinutes(option: RepairOption, other: RepairOption | undefined): number {
  const ids = new Set(other?.steps.map(({ id }) => id))
  const until = option.steps.findIndex(({ restores }) => restores)
  return option.steps
    .slice(0, until < 0 ? undefined : until)
    .reduce((sum, step) => sum + (ids.has(step.id) ? momentsOf(step.minutes).mean : 0), 0)
}

/** A part that must be fetched first counts as a journey (judgement, minutes). */
function missing({ lacks }: RepairOption): number {
  return lacks.filter(({ substitute }) => substitute === null).length > 0 ? 90 : 0
}

function worthBefore(
  possible: readonly RepairOption[],
  lasting: RepairOption | null,
  rules: PlanRules,
): RepairOption | null {
  const until = lasting?.minutes.firstCircuit ?? Infinity
  const sooner = possible
    .filter(({ permanence, minutes }) => permanence !== 'permanent' && minutes.firstCircuit !== null)
    .filter(({ minutes }) => until - minutes.firstCircuit! >= rules.worthATemporary)
    .sort((a, b) => a.minutes.firstCircuit! - b.minutes.firstCircuit!)[0]
  if (!sooner) return null
  const gain = Number.isFinite(until) ? Math.round(until - sooner.minutes.firstCircuit!) : null
  const reason =
    gain === null
      ? 'nothing permanent can be done with what is at hand'
      : `the first circuit is back ${inHours(gain)} sooner`
  return { ...sooner, reasons: [reason, ...sooner.reasons] }
}

/** "45 min", "3 h 44 min" */
function inHours(minutes: number): string {
  const hours = Math.floor(minutes / 60)
  return hours > 0 ? `${hours} h ${minutes % 60} min` : `${minutes} min`
}

/** Says why the chosen one is chosen. */
function explain(lasting: RepairOption | null, possible: readonly RepairOption[]): RepairOption | null {
  if (!lasting) return null
  const less = possible.filter(
    (option) =>
      option.permanence === 'permanent' && REPAIR_KINDS.indexOf(option.kind) < REPAIR_KINDS.indexOf(lasting.kind),
  )
  const reason =
    less.length === 0
      ? `least intervention that is likely to restore the link (${Math.round(100 * lasting.chance)} %)`
      : `${Math.round(100 * lasting.chance)} % likely to restore the link, where "${less[0]!.name}" is ${Math.round(100 * less[0]!.chance)} %`
  return { ...lasting, reasons: [reason, ...lasting.reasons] }
}
