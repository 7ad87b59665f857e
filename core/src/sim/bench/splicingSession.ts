import { seededRandom, type Random } from '../../math/random.ts'
import { SplicerStandIn, type Aligner, type Day, type PlantedCause, type SplicerReport } from './splicer.ts'

/** One splice of a session as somebody reads it from the machine: null where nothing is shown. */
export interface ReadSplice {
  estimate: number | null
  cleaveLeft: number | null
  cleaveRight: number | null
  offset: number | null
  gap: 'good' | 'bad' | null
  proof: 'held' | 'broke' | null
  modeFields: readonly [number, number]
  ribbon: { estimate: number | null; cleaveLeft: number | null; cleaveRight: number | null }[]
  session: number
}

/** A session with what came before it on the same machine. */
export interface SimulatedSession {
  reference: ReadSplice[]
  attempts: ReadSplice[]
  refusedCalibrations: number
}

/** What a session is to be like. */
export interface SessionPlan {
  aligner: Aligner
  causes: readonly PlantedCause[]
  /** The splice from which it is so, counted from 0. */
  begin: number
  /** Fibers of a ribbon; 1 for single ones. */
  fibers: number
  earlierSessions: number
}

const SPLICES = 24
/**
 * How machines and days differ, invented: machines by a third, days, operators and reels by a tenth; one reading in twelve
 * is missing; one machine in eight shows no offset, one in twelve no angles. What the fibers of a ribbon share of their
 * angles, being cleaved together.
 */
const MACHINES = 0.3
const DAYS = 0.1
const MISSING = 0.08
const NO_OFFSET = 1 / 8
const NO_ANGLES = 1 / 12
const CLEAVED_TOGETHER = 0.3
/** Another operator or another reel comes within a session so often. */
const CHANGES = 0.3
const MOST_CALIBRATIONS = 4
const USUAL_FIELDS = [9.2e-6, 9.2e-6] as const
const ODD_FIELDS = [9.2e-6, 7.5e-6] as const

function scattered(random: Random, by: number): Day {
  const one = () => Math.exp(by * random.normal())
  return { angles: one(), seat: one(), loss: one() }
}

function together(a: Day, b: Day): Day {
  return { angles: a.angles * b.angles, seat: a.seat * b.seat, loss: a.loss * b.loss }
}

/** A machine's earlier sessions and the one to be judged, with days, operators and reels that differ, and gaps in readings. */
export function splicingSession(seed: number, plan: SessionPlan): SimulatedSession {
  const random = seededRandom(seed)
  const machine = new SplicerStandIn(seed + 1, plan.aligner)
  const usual = scattered(random, MACHINES)
  const shows = { offset: random.uniform() >= NO_OFFSET, angles: random.uniform() >= NO_ANGLES }
  const session = (number: number, causes: readonly PlantedCause[]): ReadSplice[] => {
    let day = together(usual, scattered(random, DAYS))
    const changesAt = random.uniform() < CHANGES ? Math.floor(SPLICES * random.uniform()) : null
    return Array.from({ length: SPLICES }, (_, k) => {
      if (k === changesAt) day = together(day, scattered(random, DAYS))
      machine.causes = k >= plan.begin ? causes : []
      return oneSplice(machine, day, random, { fibers: plan.fibers, shows, session: number })
    })
  }
  const reference = Array.from({ length: plan.earlierSessions }, (_, number) => session(number, [])).flat()
  machine.causes = plan.causes
  let refusedCalibrations = 0
  while (refusedCalibrations < MOST_CALIBRATIONS && machine.calibrate() === 'refused') refusedCalibrations++
  return { reference, attempts: session(plan.earlierSessions, plan.causes), refusedCalibrations }
}

function oneSplice(
  machine: SplicerStandIn,
  day: Day,
  random: Random,
  { fibers, shows, session }: { fibers: number; shows: { offset: boolean; angles: boolean }; session: number },
): ReadSplice {
  const cleaved = fibers > 1 ? Math.exp(CLEAVED_TOGETHER * random.normal()) : 1
  machine.day = { ...day, angles: day.angles * cleaved }
  const reports: SplicerReport[] = Array.from({ length: fibers }, () => machine.splice())
  const shown = <T>(value: T, isShown = true) => (isShown && random.uniform() >= MISSING ? value : null)
  const readings = reports.map(({ estimate, cleaveLeft, cleaveRight }) => ({
    estimate: shown(estimate),
    cleaveLeft: shown(cleaveLeft, shows.angles),
    cleaveRight: shown(cleaveRight, shows.angles),
  }))
  return {
    ...readings[0]!,
    // A ribbon's fibers lie as far off as the one that lies farthest.
    offset: shown(Math.max(...reports.map(({ offset }) => offset)), shows.offset),
    gap: shown(reports.some(({ gap }) => gap === 'bad') ? 'bad' : 'good'),
    proof: shown(reports.some(({ proof }) => proof === 'broke') ? 'broke' : 'held'),
    modeFields: machine.causes.includes('mode fields') ? ODD_FIELDS : USUAL_FIELDS,
    ribbon: fibers > 1 ? readings : [],
    session,
  }
}
