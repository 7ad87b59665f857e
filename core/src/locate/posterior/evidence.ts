import type { Direction } from '../../plant/types.ts'
import { normalCumulative } from '../../units/normal.ts'
import type { Cell } from './posterior.ts'
import type { Growth } from './suspicionRules.ts'

/** Something a person saw, heard or measured without a trace. Places are nodes or chainages, m; powers dBm. */
export type Evidence =
  | { kind: 'light'; from: Direction; place: EvidencePlace; seen: boolean }
  | { kind: 'power'; from: Direction; node: string; expected: number; measured: number }
  | { kind: 'report'; place: EvidencePlace; spread: number; text: string }
  | { kind: 'opened'; node: string; found: boolean }
  | {
      kind: 'distance'
      from: Direction
      /** m on the instrument's display, cord included */
      distance: number
      groupIndex: number
      /** m of fiber of the launch cord */
      launch: number
      /** One standard deviation, m. */
      sigma: number
      what: 'break' | 'loss' | 'reflection'
    }
  | {
      kind: 'neighbours'
      affected: boolean
      /** Where traces of neighbouring fibers show it: how many, and the place with half its 95 % interval, m. */
      traced?: { fibers: number; chainage: number; within: number } | undefined
    }
  | { kind: 'growth'; how: Growth }

export type EvidencePlace = { node: string } | { chainage: number }

/** Chance that a person or a report is simply mistaken: nothing is ever ruled out for good. */
const MISTAKEN = 0.03
/** Visible light fades within a few km, so that unseen light says less than seen light (common practice). */
const UNSEEN_BY_CHANCE = 0.15
/** Two power readings of one place differ by about this, dB (cords, mating). */
const POWER_SIGMA_DB = 0.5
/** A closure that was opened and looked at may still hide a bend or a bad splice. */
const OVERLOOKED = 0.1

/** Several faults of one night may hit neighbours elsewhere. */
const NEIGHBOUR_TRUST = 0.85
/**
 * Records err alike for all fibers of a cable, so that a neighbour's trace does not sharpen the place: it says which of
 * several places is meant. At least so wide, m, and twice as wide as its own interval.
 */
const NEIGHBOUR_WIDTH = 30

/** What evidence needs to know of the fault and its thread. */
export interface EvidenceContext {
  /** Ground on the thread's ruler, m, of a node or chainage; null when the link does not pass there. */
  groundOf(place: EvidencePlace): number | null
  breaks: boolean
  /** dB; null when not measured */
  loss: number | null
}

/**
 * How well a piece of evidence fits a fault in each cell; 1 where it says nothing. Evidence about kinds of faults, or
 * of places off the link, returns null.
 */
export function likelihoodOf(evidence: Evidence, context: EvidenceContext): ((cell: Cell) => number) | null {
  switch (evidence.kind) {
    case 'light': {
      const ground = context.groundOf(evidence.place)
      if (ground === null || !context.breaks) return null
      return (cell) => {
        const passes = evidence.from === 'ab' ? cell.ground > ground : cell.ground < ground
        const seen = passes ? 1 - UNSEEN_BY_CHANCE : MISTAKEN
        return evidence.seen ? seen : 1 - seen
      }
    }
    case 'power': {
      const ground = context.groundOf({ node: evidence.node })
      if (ground === null) return null
      const deficit = evidence.expected - evidence.measured
      // A fault between the source and the meter takes its loss; a break takes all light.
      const lossBefore = context.breaks ? Math.max(20, deficit) : (context.loss ?? Math.max(1, deficit))
      const fit = (expected: number) =>
        MISTAKEN + (1 - MISTAKEN) * Math.exp(-0.5 * ((deficit - expected) / POWER_SIGMA_DB) ** 2)
      const [before, beyond] = [fit(lossBefore), fit(0)]
      return (cell) => {
        const isBefore = evidence.from === 'ab' ? cell.ground < ground : cell.ground > ground
        return cell.ground === ground ? (before + beyond) / 2 : isBefore ? before : beyond
      }
    }
    case 'report': {
      const ground = context.groundOf(evidence.place)
      if (ground === null) return null
      const half = Math.max(5, evidence.spread)
      // Half of all reports have to do with the fault; those say that it lies within the spread.
      return (cell) => 0.5 + 0.5 * REPORT_GAIN * Math.exp(-0.5 * ((cell.ground - ground) / half) ** 2)
    }
    case 'neighbours': {
      const ground = evidence.traced && context.groundOf({ chainage: evidence.traced.chainage })
      if (ground === undefined || ground === null) return null
      const half = Math.max(NEIGHBOUR_WIDTH, evidence.traced!.within)
      return (cell) => 1 - NEIGHBOUR_TRUST + NEIGHBOUR_TRUST * Math.exp(-0.5 * ((cell.ground - ground) / half) ** 2)
    }
    case 'opened':
      return (cell) => (cell.node === evidence.node ? (evidence.found ? 1 : OVERLOOKED) : evidence.found ? MISTAKEN : 1)
    default:
      return null
  }
}

/** A report makes its place so many times as likely as the rest. */
const REPORT_GAIN = 20

/** A piece of evidence in a few words, for messages. */
export function evidenceInWords(evidence: Evidence, nameOf: (place: EvidencePlace) => string): string {
  const end = (from: Direction) => (from === 'ab' ? 'near' : 'far')
  switch (evidence.kind) {
    case 'light':
      return `visible light from the ${end(evidence.from)} end ${evidence.seen ? 'seen' : 'not seen'} at ${nameOf(evidence.place)}`
    case 'power':
      return `${evidence.measured.toFixed(1)} dBm read at ${nameOf({ node: evidence.node })} from the ${end(evidence.from)} end, ${evidence.expected.toFixed(1)} dBm expected`
    case 'report':
      return `report: ${evidence.text} (${nameOf(evidence.place)})`
    case 'opened':
      return `${nameOf({ node: evidence.node })} opened: ${evidence.found ? 'the fault was seen' : 'nothing wrong'}`
    case 'distance':
      return `${evidence.what} read out at ${evidence.distance.toFixed(0)} m from the ${end(evidence.from)} end`
    case 'neighbours':
      if (evidence.traced)
        return `traces of ${evidence.traced.fibers} neighbouring ${evidence.traced.fibers === 1 ? 'fiber' : 'fibers'} show it at ${nameOf({ chainage: evidence.traced.chainage })}`
      return evidence.affected ? 'neighbouring fibers are affected too' : 'neighbouring fibers are well'
    case 'growth':
      return { sudden: 'came suddenly', slow: 'grew slowly', weather: 'comes and goes with the weather' }[evidence.how]
  }
}

/** Chance that a normal variable with this spread lies between two bounds. */
export function normalBetween(low: number, high: number, mean: number, sigma: number): number {
  return normalCumulative((high - mean) / sigma) - normalCumulative((low - mean) / sigma)
}
