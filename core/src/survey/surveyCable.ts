import { groundOf, recordPlace, type Calibration } from '../locate/records/calibrate.ts'
import { layPosterior, summarize, weigh, type Place } from '../locate/posterior/posterior.ts'
import { covarianceOf } from '../locate/records/recordErrors.ts'
import type { Cable } from '../plant/types.ts'
import { placeAt } from '../plant/thread.ts'
import { groupsOf, type FiberGroup } from './groups.ts'
import { patternOf, PATTERN_MEANINGS, type SurveyPattern } from './patterns.ts'
import type { FiberReading } from './readFiber.ts'

/** One fiber of the cable, all its traces together. */
export interface SurveyedFiber {
  fiber: number
  state: 'sound' | 'lossy' | 'broken'
  compared: boolean
  /** m on the thread's ground ruler that light reaches, from each end that was shot from. */
  litFrom: number | null
  litTo: number | null
  /** Ground of each damage, m, with its loss, dB; null for a break. */
  damages: { ground: number; loss: number | null }[]
}

/** A place where fibers of the cable are hit. */
export interface SurveyPlace {
  fibers: number[]
  breaks: boolean
  /** Median added loss of the fibers that still carry light, dB; null when there is none. */
  loss: number | null
  chainage: number
  ground: number
  interval95: [number, number]
  places: Place[]
  /** Ground of the two outermost hits, m. */
  extent: [number, number]
  pattern: SurveyPattern
  whole: number[]
  partly: number[]
  meaning: string
  first: string
  /** Fibers of this place that had no baseline: a large splice of old looks the same. */
  withoutBaseline: number
}

export interface CableSurvey {
  cable: string
  groups: FiberGroup[]
  fibers: SurveyedFiber[]
  places: SurveyPlace[]
  /** Fibers of the cable that no trace was read of. */
  missing: number[]
}

/** One hit on one fiber, on the records' fiber ruler. */
interface Hit {
  fiber: number
  breaks: boolean
  loss: number | null
  place: number
  sigma: number
  sensitivity: Float64Array
  compared: boolean
}

/** Hits further apart than this belong to two damages unless measuring is coarser, m. */
const ONE_DAMAGE = 60
/** One group alone points to a closure or tray rather than to the run between: so many times over (judgement). */
const GROUP_AT_NODE = 5

/**
 * Puts the fibers of a cable together: which are sound, where the others are hit, which groups that takes and what such a
 * pattern means. What all fibers share (the records' errors) stays shared, so that many fibers sharpen only what is
 * their own.
 * @param calibration of the link whose path the cable's fibers run along
 */
export function surveyCable(cable: Cable, readings: readonly FiberReading[], calibration: Calibration): CableSurvey {
  const thread = calibration.threads.ab
  const groups = groupsOf(cable)
  const read = [...new Set(readings.map((reading) => reading.fiber))].sort((a, b) => a - b)
  const hits = read.flatMap((fiber) => hitsOf(fiber, readings, calibration))
  const groundAt = (fiber: number) => placeAt(thread, 'fiber', Math.min(thread.fiberLength, Math.max(0, fiber))).ground
  const fibers = read.map((fiber): SurveyedFiber => {
    const own = hits.filter((hit) => hit.fiber === fiber)
    const lit = (direction: 'ab' | 'ba') => {
      const shots = readings.filter((reading) => reading.fiber === fiber && reading.direction === direction)
      if (shots.length === 0) return null
      const seen = Math.max(...shots.map((shot) => shot.seenTo))
      return groundAt(recordPlace(calibration, direction, seen).fiber)
    }
    return {
      fiber,
      state: own.some((hit) => hit.breaks) ? 'broken' : own.length > 0 ? 'lossy' : 'sound',
      compared: readings.some((reading) => reading.fiber === fiber && reading.compared),
      litFrom: lit('ab'),
      litTo: lit('ba'),
      damages: own.map((hit) => ({ ground: groundAt(hit.place), loss: hit.breaks ? null : hit.loss })),
    }
  })
  return {
    cable: cable.id,
    groups,
    fibers,
    places: clustersOf(hits).map((cluster) => placeOf(cluster, { calibration, groups, read, groundAt })),
    missing: Array.from({ length: cable.fiberCount }, (_, k) => k + 1).filter((fiber) => !read.includes(fiber)),
  }
}

/** Hits of one fiber: what several of its traces show at one place is one hit. */
function hitsOf(fiber: number, readings: readonly FiberReading[], calibration: Calibration): Hit[] {
  const all = readings
    .filter((reading) => reading.fiber === fiber)
    .flatMap((reading) =>
      reading.changes.map((change): Hit => {
        const { fiber: place, sensitivity } = recordPlace(calibration, reading.direction, change.measured)
        const { breaks, loss, sigma } = change
        return { fiber, breaks, loss, place, sigma, sensitivity, compared: reading.compared }
      }),
    )
    .sort((a, b) => a.sigma - b.sigma)
  const kept: Hit[] = []
  for (const hit of all) {
    const same = kept.find((other) => Math.abs(other.place - hit.place) < 20 + 4 * Math.hypot(other.sigma, hit.sigma))
    if (same) same.breaks ||= hit.breaks
    else kept.push({ ...hit })
  }
  return kept
}

function clustersOf(hits: readonly Hit[]): Hit[][] {
  const clusters: Hit[][] = []
  for (const hit of hits.toSorted((a, b) => a.place - b.place)) {
    const last = clusters.at(-1)
    const before = last?.at(-1)
    if (before && hit.place - before.place < Math.max(ONE_DAMAGE, 4 * Math.hypot(hit.sigma, before.sigma)))
      last!.push(hit)
    else clusters.push([hit])
  }
  return clusters.sort((a, b) => b.length - a.length || Number(b[0]!.breaks) - Number(a[0]!.breaks))
}

function placeOf(
  cluster: readonly Hit[],
  {
    calibration,
    groups,
    read,
    groundAt,
  }: { calibration: Calibration; groups: FiberGroup[]; read: number[]; groundAt: (fiber: number) => number },
): SurveyPlace {
  const thread = calibration.threads.ab
  const weights = cluster.map((hit) => 1 / Math.max(0.1, hit.sigma) ** 2)
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  const mean = cluster.reduce((sum, hit, k) => sum + hit.place * weights[k]!, 0) / total
  const spread = Math.sqrt(cluster.reduce((sum, hit) => sum + (hit.place - mean) ** 2, 0) / cluster.length)
  const sigma = Math.sqrt(cluster.length / total)
  const sensitivity = cluster[0]!.sensitivity.map(
    (_, i) => cluster.reduce((sum, hit, k) => sum + hit.sensitivity[i]! * weights[k]!, 0) / total,
  )
  const shared = covarianceOf(calibration.errors, sensitivity, sensitivity)
  const breaks = cluster.some((hit) => hit.breaks)
  const fibers = [...new Set(cluster.map((hit) => hit.fiber))]
  const laid = layPosterior(thread, { fiber: mean, sigma: Math.sqrt(1 / total + shared) }, breaks ? 'break' : 'loss')
  const found = summarize(laid)
  const panel = thread.nodes.find((node) => node.id === found.places[0]?.node && node.joint === 'connector')
  const facts = { hit: fibers, read, groups, spread, sigma, breaks, atPanel: panel !== undefined && !breaks }
  const alone = patternOf({ ...facts, atNode: true }).pattern === 'one-group'
  const posterior = alone ? weigh(laid, (cell) => (cell.node ? GROUP_AT_NODE : 1)).posterior : laid
  const { chainage, interval95, places } = summarize(posterior)
  const inRun = posterior.cells.reduce((sum, cell) => sum + (cell.node === null ? cell.weight : 0), 0)
  const { pattern, whole, partly } = patternOf({ ...facts, atNode: inRun < 0.5 })
  const word = groups[0]!.word
  const losses = cluster.flatMap((hit) => (hit.loss === null ? [] : [hit.loss])).sort((a, b) => a - b)
  const grounds = cluster.map((hit) => groundAt(hit.place))
  return {
    fibers,
    breaks,
    loss: losses[losses.length >> 1] ?? null,
    chainage,
    ground: groundOf(thread, { chainage }) ?? groundAt(mean),
    interval95,
    places,
    extent: [Math.min(...grounds), Math.max(...grounds)],
    pattern,
    whole,
    partly,
    meaning: PATTERN_MEANINGS[pattern].meaning.replaceAll('group', word),
    first: PATTERN_MEANINGS[pattern].first.replaceAll('group', word),
    withoutBaseline: new Set(cluster.filter((hit) => !hit.compared).map((hit) => hit.fiber)).size,
  }
}
