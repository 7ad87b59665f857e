import type { Random } from '../../math/random.ts'
import type { Circuit } from '../../plant/types.ts'
import { lineOf, tubeOf, withEdits, type PlanEdit } from './edits.ts'
import type { HitFiber } from '../repairs/hit.ts'
import { findSchedule, lowerBound, type Schedule, type ScheduledTask } from './schedule.ts'
import { percentile, simulateSchedule } from './simulate.ts'
import type { StepKind } from '../planRules.ts'
import type { Step } from './steps.ts'
import type { Unit } from './unit.ts'

export interface ScheduledStep extends ScheduledTask {
  task: Step
}

/** When something is done: mean of the schedule, and how sure that is. Minutes from the begin. */
export interface Finish {
  planned: number
  /** Half of the runs are done by then, nine of ten by the other. */
  p50: number
  p90: number
}

/** A line of the order of work: a step, or a tube's opening and splices at a place. */
export interface OrderLine {
  id: string
  kind: StepKind
  name: string
  site: string
  start: number
  end: Finish
  /** Units that work on it, people first. */
  units: string[]
  /** Part of the runs in which it decided the end. */
  critical: number
  /** On the chain that decides the end of the schedule as planned. */
  onChain: boolean
  pinned: boolean
}

/** When the circuits of a link are back. */
export interface Restored {
  linkId: string
  name: string
  circuits: readonly Circuit[]
  priority: number
  /** Begin of the first step that may make its light blink, minutes; null when none touches it. */
  touchedAt: number | null
  at: Finish
}

/** The plan of a repair that a technician can follow and a lead defend. */
export interface OrderOfWork {
  lines: OrderLine[]
  finish: Finish
  restored: Restored[]
  /** Links back over time: minutes at which so many of them are back, in one run of ten, of two, in nine of ten. */
  curve: { links: number; early: number; median: number; late: number }[]
  /** From the first touch of a working fiber to the last link back; null when nothing is touched or brought back. */
  outage: { firstTouch: string; touchAt: number; p50: number; p90: number } | null
  /** No order ends before this, minutes. */
  bound: number
  steps: number
  runs: number
}

export interface OrderInput {
  steps: readonly Step[]
  units: readonly Unit[]
  hit: readonly HitFiber[]
  tubeSize: number
  edits: readonly PlanEdit[]
  random: Random
  /** Changed orders that are tried, and runs of the best one. */
  tries: number
  runs: number
  onRun?: (done: number) => boolean
}

/** Steps that may make light blink: what is prepared is cut or laid bare. */
const TOUCHES: ReadonlySet<StepKind> = new Set([
  'prepare-end',
  'clean',
  'dress',
  'terminate',
  'mechanical-splice',
  'patch',
  'splice',
  'open-tube',
])

/**
 * Schedules the steps of a repair so that important circuits come back first, and tells how sure each time is.
 * Same random source, same plan.
 * @throws PlanError when edits turn the order in a circle, or nobody can do a step
 */
export function orderOfWork(input: OrderInput): OrderOfWork {
  const { units, hit, tubeSize, edits, random, tries, runs, onRun } = input
  const steps = withEdits(input.steps, edits, tubeSize)
  const priorityOf = new Map(hit.flatMap(({ link, priority }) => (link ? [[link.id, priority] as const] : [])))
  const schedule = findSchedule(steps, units, random, tries, (candidate) => worth(candidate, priorityOf))
  const tasks = schedule.tasks as ScheduledStep[]
  const touching = tasks.filter(({ task }) => TOUCHES.has(task.kind)).toSorted((a, b) => a.start - b.start)
  const back = tasks.filter(({ task }) => task.restores)
  const outcomes = simulateSchedule(schedule, runs, random, onRun, {
    begins: new Set(touching.map(({ task }) => task.id)),
    ends: new Set(back.map(({ task }) => task.id)),
  })
  const finishOf = ({ task, end }: ScheduledStep): Finish => ({
    planned: end,
    p50: percentile(outcomes.ends.get(task.id)!, 0.5),
    p90: percentile(outcomes.ends.get(task.id)!, 0.9),
  })
  const chain = decidingChain(schedule)
  const pinned = new Set(edits.flatMap((edit) => (edit.kind === 'pin' ? [edit.line] : [])))
  const firstTouch = touching[0]
  return {
    lines: linesOf(tasks, tubeSize).map(({ id, members }) => {
      const last = members.reduce((a, b) => (b.end > a.end ? b : a))
      return {
        id,
        kind: last.task.kind,
        name: members.length === 1 ? last.task.name : nameOf(members, tubeSize),
        site: last.task.site,
        start: Math.min(...members.map(({ start }) => start)),
        end: finishOf(last),
        units: [...new Set(members.flatMap((member) => member.units))].sort(
          (a, b) => Number(b.startsWith('person/')) - Number(a.startsWith('person/')) || a.localeCompare(b),
        ),
        critical: Math.max(...members.map(({ task }) => outcomes.critical.get(task.id)!)),
        onChain: members.some(({ task }) => chain.has(task.id)),
        pinned: pinned.has(id),
      }
    }),
    finish: {
      planned: schedule.end,
      p50: percentile(outcomes.whole, 0.5),
      p90: percentile(outcomes.whole, 0.9),
    },
    restored: back
      .flatMap((step) =>
        step.task.restores!.map((linkId): Restored => {
          const own = hit.filter((fiber) => fiber.link?.id === linkId)
          const link = own[0]!.link!
          const touched = touching.find(({ task }) => own.some(({ fiber }) => touchesFiber(task, fiber, tubeSize)))
          return {
            linkId,
            name: link.name,
            circuits: link.circuits,
            priority: priorityOf.get(linkId) ?? Infinity,
            touchedAt: touched?.start ?? null,
            at: finishOf(step),
          }
        }),
      )
      .sort((a, b) => a.at.planned - b.at.planned),
    curve: back
      .map(({ task }) => outcomes.ends.get(task.id)!)
      .sort((a, b) => percentile(a, 0.5) - percentile(b, 0.5))
      .map((ends, k) => ({
        links: k + 1,
        early: percentile(ends, 0.1),
        median: percentile(ends, 0.5),
        late: percentile(ends, 0.9),
      })),
    outage:
      firstTouch && outcomes.span.length > 0
        ? {
            firstTouch: firstTouch.task.name,
            touchAt: firstTouch.start,
            p50: percentile(outcomes.span, 0.5),
            p90: percentile(outcomes.span, 0.9),
          }
        : null,
    bound: lowerBound(steps, units),
    steps: steps.length,
    runs: outcomes.whole.length,
  }
}

/** A step that names no fibers may touch all that are hit. */
function touchesFiber(step: Step, fiber: number, tubeSize: number): boolean {
  if (step.kind === 'open-tube') return tubeOf(step, tubeSize) === Math.ceil(fiber / tubeSize)
  return step.fibers?.includes(fiber) ?? true
}

/** Important links weigh by one over their priority; the end of the whole a little, so that nothing is left lying. */
function worth(schedule: Schedule, priorityOf: ReadonlyMap<string, number>): number {
  const back = (schedule.tasks as ScheduledStep[]).flatMap(({ task, end }) =>
    (task.restores ?? []).map((id) => end / Math.max(1, priorityOf.get(id) ?? Infinity)),
  )
  return back.reduce((a, b) => a + b, 0) + 0.2 * schedule.end
}

/** Ids of the steps that decide the end: back from the last, each behind the one that it waited for, task or unit. */
function decidingChain({ tasks, end }: Schedule): Set<string> {
  const chain = new Set<string>()
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-6
  let last = tasks.find((step) => near(step.end, end))
  while (last && !chain.has(last.task.id)) {
    chain.add(last.task.id)
    const { start, task, units } = last
    last = tasks.find(
      (step) =>
        near(step.end, start) &&
        !chain.has(step.task.id) &&
        (task.after.includes(step.task.id) || step.units.some((unit) => units.includes(unit))),
    )
  }
  return chain
}

function linesOf(tasks: readonly ScheduledStep[], tubeSize: number): { id: string; members: ScheduledStep[] }[] {
  const lines = new Map<string, ScheduledStep[]>()
  for (const step of tasks.toSorted((a, b) => a.start - b.start || a.end - b.end)) {
    const id = lineOf(step.task, tubeSize)
    const members = lines.get(id)
    if (members) members.push(step)
    else lines.set(id, [step])
  }
  return [...lines].map(([id, members]) => ({ id, members }))
}

/** "open tube 1, splice fibers 5, 7, 1 to 4, 6, 8 to 12" */
function nameOf(members: readonly ScheduledStep[], tubeSize: number): string {
  const fibers = [...new Set(members.flatMap(({ task }) => task.fibers ?? []))]
  const opening = members.find(({ task }) => task.kind === 'open-tube')
  const mechanical = members.some(({ task }) => task.kind === 'mechanical-splice')
  const joining = `${mechanical ? 'join mechanically' : 'splice'} ${fibers.length === 1 ? 'fiber' : 'fibers'} ${inRuns(fibers)}`
  return opening ? `open tube ${tubeOf(opening.task, tubeSize)}, ${joining}` : joining
}

/** Numbers in their order, with runs of three and more drawn together. */
export function inRuns(numbers: readonly number[]): string {
  const runs: [number, number][] = []
  for (const number of numbers) {
    const run = runs.at(-1)
    if (run && number === run[1] + 1) run[1] = number
    else runs.push([number, number])
  }
  return runs
    .map(([from, to]) => (to === from ? `${from}` : to === from + 1 ? `${from}, ${to}` : `${from} to ${to}`))
    .join(', ')
}
