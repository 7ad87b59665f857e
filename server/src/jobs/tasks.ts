import type { ShotStages, TraceRole } from '@cold-thread/contract'
import {
  fiberProofOf,
  linkOfFiber,
  proveRepair,
  type Continuity,
  type FiberProof,
  type LossFigure,
  type OtherFibers,
  type Proof,
  type ReceivedPower,
  type ReadTrunk,
  type Work,
} from '@cold-thread/core/prove'
import { calibrate, faultsInWords, locateFaults, type Evidence, type Shot } from '@cold-thread/core/locate'
import { buildThread, type Direction, type PlantBundle } from '@cold-thread/core/plant'
import { traceFacts, type TraceFacts } from '@cold-thread/core/report'
import { readFiber, surveyCable, type CableSurvey, type FiberReading } from '@cold-thread/core/survey'
import { seedFrom } from '@cold-thread/core/math'
import {
  plantBehindRecords,
  repaired,
  shootLink,
  standInSeed,
  watchLink,
  type Damage,
  type LinkShot,
  type ShotSettings,
} from '@cold-thread/core/sim'
import {
  analyzeTrace,
  CompareError,
  decodeTrace,
  smallestLossSeen,
  UNNAMED,
  type TraceWarning,
} from '@cold-thread/core/trace'
import { CodedError } from '@cold-thread/core/errors'
import { calloutReport, type ReportPaper } from '../report/calloutReport.ts'
import type { ReportEvidence } from '../report/reportEvidence.ts'
import { renderPdf } from '../report/renderPdf.ts'
import type { OutlinePoint, StoredShot } from './data.ts'
import { pulseLength } from '@cold-thread/core/units'

/** Stretches of a trace's outline. */
const OUTLINE = 500

export interface SimulateTask {
  plant: PlantBundle
  linkId: string
  damages: Damage[]
  /** As built without damage, damaged, or with the damages replaced by good joints. */
  role: TraceRole
  direction: Direction
  wavelength: number
  /** ns */
  pulseWidth?: number | undefined
  /** Averaging time. */
  minutes?: number | undefined
  takenAt: string
  shotSeed: number
  /** Averages at which it was stopped. */
  stopAt?: number | undefined
}

/** Averages that the simulated OTDR makes in a minute. */
const AVERAGES_A_MINUTE = 2 ** 16

/** What was set on the simulated OTDR; the rest it chooses for the link's length. */
function settingsOf({ pulseWidth, minutes }: SimulateTask): Partial<Omit<ShotSettings, 'wavelength'>> {
  const pulse = pulseWidth === undefined ? null : pulseWidth * 1e-9
  return {
    // Four points to a pulse, no finer than 0.25 m and no coarser than 2.5 m.
    ...(pulse === null
      ? {}
      : { pulseWidth: pulse, spacing: Math.min(2.5, Math.max(0.25, pulseLength(pulse, 1.468) / 4)) }),
    ...(minutes === undefined ? {} : { averages: Math.round(minutes * AVERAGES_A_MINUTE) }),
  }
}

export interface ProveTask {
  plant: PlantBundle
  linkId: string
  baseline: StoredShot[]
  after: StoredShot[]
  work: Work
  present: StoredShot[]
  losses: LossFigure[]
  received: ReceivedPower[]
  continuity: Continuity[]
  trunks: ReadTrunk[]
  fibers: OtherFibers | null
  rules?: string | undefined
}

export interface LocatedTask {
  plant: PlantBundle
  linkId: string
  baseline: StoredShot[]
  present: StoredShot[]
  evidence: Evidence[]
}

export interface ReadFiberTask {
  plant: PlantBundle
  linkId: string
  fiber: number
  present: StoredShot
  /** The fiber's own baselines. */
  baselines: StoredShot[]
}

export interface ProveFiberTask {
  plant: PlantBundle
  /** The link along whose path the fiber runs. */
  linkId: string
  fiber: number
  baseline: StoredShot[]
  after: StoredShot[]
  work: Work
}

export interface SurveyTask {
  plant: PlantBundle
  linkId: string
  cableId: string
  readings: FiberReading[]
  /** Of the link, to calibrate its records with. */
  baselines: StoredShot[]
}

function toShot({ content, ...shot }: StoredShot): Shot {
  return { ...shot, analysis: analyzeTrace(decodeTrace(content)) }
}

/** What is asked of the stand-in, at a plant that lies a little off its records. */
function aim(task: SimulateTask) {
  const seed = standInSeed(task.plant)
  const truth = plantBehindRecords(task.plant, seed)
  const link = truth.links.find((candidate) => candidate.id === task.linkId)
  if (!link) throw new CodedError('not-found', `there is no link "${task.linkId}"`)
  const [launch, receive] =
    task.direction === 'ab'
      ? [link.launchCord ?? 0, link.receiveCord ?? 0]
      : [link.receiveCord ?? 0, link.launchCord ?? 0]
  const shot: LinkShot = {
    direction: task.direction,
    wavelength: task.wavelength,
    cords: { launch, receive },
    takenAt: task.takenAt,
    condition: CONDITION[task.role],
    seed: seedFrom(task.shotSeed, task.direction, task.wavelength),
    damages: damagesOf(task, seed),
    settings: settingsOf(task),
  }
  return { truth, seed, shot }
}

/** The display's own resolution. */
const COLUMNS = 480
/** The smallest loss is asked for so far before the far end, where there is fiber on both sides: m and pulse lengths. */
const FROM_THE_END = { metres: 300, pulses: 6 }

/** Lowest and highest level of each column of the display, dB to a hundredth. */
function columnsOf(levels: Float64Array): { low: number[]; high: number[] } {
  const [low, high]: [number[], number[]] = [[], []]
  const count = Math.min(COLUMNS, levels.length)
  for (let column = 0; column < count; column++) {
    const from = Math.floor((column * levels.length) / count)
    const points = levels.subarray(from, Math.max(from + 1, Math.floor(((column + 1) * levels.length) / count)))
    low.push(Math.round(100 * points.reduce((a, b) => Math.min(a, b))) / 100)
    high.push(Math.round(100 * points.reduce((a, b) => Math.max(a, b))) / 100)
  }
  return { low, high }
}

const CONDITION = { baseline: 'BC', present: 'CC', after: 'RC' } as const

function damagesOf({ role, damages }: SimulateTask, seed: number): Damage[] {
  if (role === 'baseline') return []
  return role === 'after' ? damages.map((damage) => repaired(damage, seed)) : damages
}

/** Heavy computing, each a pure function of its input; run by the worker pool. */
export const TASKS = {
  /** Facts and warnings of an uploaded file; refuses what is no trace. */
  inspect(content: Uint8Array): { facts: TraceFacts; warnings: TraceWarning[] } {
    const trace = decodeTrace(content)
    const analysis = analyzeTrace(trace)
    return { facts: traceFacts(trace), warnings: analysis.warnings }
  },

  /** One shot of the simulated OTDR at a link whose plant lies a little off its records. */
  simulate(task: SimulateTask): { content: Uint8Array; launch: number; receive: number } {
    const { truth, seed, shot } = aim(task)
    const content = shootLink(truth, task.linkId, { seed }, shot, task.stopAt)
    return { content, ...shot.cords }
  },

  /** The same shot as its display shows it while it averages. */
  watch(task: SimulateTask): ShotStages {
    const { truth, seed, shot } = aim(task)
    const { stages, settings } = watchLink(truth, task.linkId, { seed }, shot)
    const thread = buildThread(truth, task.linkId, task.direction)
    const before = Math.max(FROM_THE_END.metres, FROM_THE_END.pulses * pulseLength(settings.pulseWidth, 1.468))
    const place = shot.cords.launch + Math.max(thread.fiberLength / 2, thread.fiberLength - before)
    return {
      from: 0,
      to: settings.range,
      stages: stages.map(({ averages, levels, firstDistance }) => {
        const analysis = analyzeTrace({
          ...UNNAMED,
          ...settings,
          levels,
          firstDistance,
          backscatter: null,
          takenAt: task.takenAt,
        })
        return {
          averages,
          minutes: averages / AVERAGES_A_MINUTE,
          ...columnsOf(levels),
          smallestLoss: smallestLossSeen(analysis, place),
        }
      }),
    }
  },

  /** What one trace of a cable survey says of its fiber; refuses what is no trace. */
  readFiber({ plant, linkId, fiber, present, baselines }: ReadFiberTask): FiberReading {
    return readFiber(plant, linkId, fiber, toShot(present), baselines.map(toShot))
  },

  /** The verdict on one fiber of a cable; one that can't be compared tells why. */
  proveFiber({ plant, linkId, fiber, baseline, after, work }: ProveFiberTask): FiberProof {
    const along = plant.links.find(({ id }) => id === linkId)
    if (!along) throw new CodedError('not-found', `there is no link "${linkId}"`)
    const { link, recorded } = linkOfFiber(plant, along, fiber)
    const whole = recorded ? plant : { ...plant, links: [...plant.links, link] }
    const own = recorded ? link.id : null
    try {
      const shots = { baseline: baseline.map(toShot), after: after.map(toShot) }
      return fiberProofOf(fiber, own, proveRepair({ plant: whole, linkId: link.id, ...shots, work }))
    } catch (error) {
      if (!(error instanceof CompareError)) throw error
      const next = ['look at which fiber was shot, and with which settings']
      return { fiber, link: own, verdict: 'cannot-tell', reasons: [error.message], next, totals: [] }
    }
  },

  /** All fibers of a cable together, placed by the link's calibrated records. */
  survey({ plant, linkId, cableId, readings, baselines }: SurveyTask): CableSurvey {
    const cable = plant.cables.find((candidate) => candidate.id === cableId)
    if (!cable) throw new CodedError('not-found', `there is no cable "${cableId}"`)
    return surveyCable(cable, readings, calibrate(plant, linkId, baselines.map(toShot)))
  },

  /** A callout's report as PDF. */
  report({ evidence, paper }: { evidence: ReportEvidence; paper: ReportPaper }): Promise<Uint8Array> {
    return renderPdf(calloutReport(evidence, paper))
  },

  /** A trace's line in so many points that its shape is seen: of each stretch the least and the most. */
  outline({ content }: { content: Uint8Array }): OutlinePoint[] {
    const { levels, firstDistance, spacing } = decodeTrace(content)
    const stretch = Math.max(1, Math.ceil(levels.length / OUTLINE))
    const points: OutlinePoint[] = []
    for (let from = 0; from < levels.length; from += stretch) {
      const part = levels.subarray(from, Math.min(levels.length, from + stretch))
      const distance = firstDistance + from * spacing
      points.push({ distance, least: Math.min(...part), most: Math.max(...part) })
    }
    return points
  },

  /** Where the faults of a link lie, in one line. */
  located({ plant, linkId, baseline, present, evidence }: LocatedTask): string {
    const { faults } = locateFaults({
      plant,
      linkId,
      baseline: baseline.map(toShot),
      present: present.map(toShot),
      evidence,
    })
    return faultsInWords(plant, faults)
  },

  prove(task: ProveTask): Proof {
    return proveRepair({
      plant: task.plant,
      linkId: task.linkId,
      baseline: task.baseline.map(toShot),
      after: task.after.map(toShot),
      work: task.work,
      present: task.present.map(toShot),
      losses: task.losses,
      received: task.received,
      continuity: task.continuity,
      trunks: task.trunks,
      fibers: task.fibers,
      ...(task.rules === undefined ? {} : { rules: task.rules }),
    })
  },
}

export type Tasks = typeof TASKS
export type TaskName = keyof Tasks
