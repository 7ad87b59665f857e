import { DB_PER_RELATIVE_POWER, powerFromDisplayLevel } from '../../units/decibel.ts'
import { meanSigma, powerMeanSigma, powerSigmaAt, SIGNAL_LOST_DB, type TraceNoise } from '../noise/noise.ts'
import type { Peak } from './peaks.ts'
import type { PrefixSums } from '../noise/prefixSums.ts'
import type { Response } from './response.ts'
import { edgeLead } from './edgeLead.ts'

/** Where the fiber's light is lost in the noise. */
export interface FiberEnd {
  /** Where the fall or the reflection before it begins; null where the fiber fades away without an edge. */
  start: number | null
  startSigma: number
  /** First point of noise: nothing after it is fiber. */
  lost: number
  peak: Peak | null
  /** Reflections before it that stand alone in the noise. */
  before?: Peak[]
}

/** Folded noise has a mean of its own: √(2/π) of its standard deviation. */
const FOLDED_MEAN = Math.sqrt(2 / Math.PI)

/** Light before an end stands over the noise by at least this much. */
const CLEAR_FALL = 2

/** First point from which the trace stays in the noise, or null when it never does. */
export function findSignalLoss(levels: Float64Array, noise: TraceNoise, pulsePoints: number): number | null {
  const { blocks, blockSize } = noise
  const isLost = (b: number) => !(blocks[b]! < SIGNAL_LOST_DB)
  // A stretch of noise shorter than a pulse may be a dip beside a reflection.
  const needed = 1 + Math.ceil(pulsePoints / blockSize)
  let block = blocks.findIndex((_, b) => !isLost(b))
  if (block < 0) return 0
  let run = 0
  while (block < blocks.length && run < needed) run = isLost(block++) ? run + 1 : 0
  if (run === 0 || (run < needed && run * blockSize < pulsePoints)) return null
  const firstLost = block - run
  const window = Math.max(4, Math.ceil(pulsePoints / 2))
  const floorAt = Math.min(levels.length - 1, (firstLost + needed) * blockSize)
  const sigma = powerSigmaAt(noise, floorAt)
  const least = sigma * FOLDED_MEAN + 3 * powerMeanSigma(noise, floorAt, window)
  const from = Math.max(0, Math.floor((firstLost - 1) * blockSize - 2 * pulsePoints))
  let light = 0
  for (let i = from; i < levels.length; i++) {
    light += powerFromDisplayLevel(levels[i]!)
    if (i - from < window) continue
    light -= powerFromDisplayLevel(levels[i - window]!)
    if (i >= (firstLost - 1) * blockSize - pulsePoints && light / window < least) return i - window + 1
  }
  return Math.min(levels.length, firstLost * blockSize)
}

/** The edge with which the fiber ends at `lost`: the last reflection that reaches into the noise, or a fall. */
export function findFiberEnd(
  levels: Float64Array,
  sums: PrefixSums,
  noise: TraceNoise,
  pulsePoints: number,
  slope: number,
  response: Response,
  peaks: readonly Peak[],
  lost: number,
): FiberEnd {
  const reach = Math.ceil(2 * pulsePoints) + 4
  const last = peaks.findLast((peak) => peak.start < lost)
  if (last && last.settled + reach >= lost) return { start: last.start, startSigma: last.startSigma, lost, peak: last }
  const zone0 = Math.max(0, Math.floor(lost - 2 * response.settled - 2 * pulsePoints - 4))
  const line0 = Math.max(last ? Math.ceil(last.settled) : 0, zone0 - Math.max(40, Math.ceil(6 * pulsePoints)))
  if (zone0 - line0 < 4) return endInNoise(levels, noise, pulsePoints, lost)
  const center = sums.center(line0, zone0)
  const mean = sums.mean(line0, zone0)
  const base = (x: number) => mean + slope * (x - center)
  // A fiber that ends falls from clear light into the noise; one that fades is hardly over the noise before it.
  const window = Math.max(4, Math.ceil(pulsePoints / 2))
  const floor = powerSigmaAt(noise, lost) * FOLDED_MEAN + 3 * powerMeanSigma(noise, lost, window)
  if (!(powerFromDisplayLevel(base(lost)) > CLEAR_FALL * floor)) return endInNoise(levels, noise, pulsePoints, lost)
  // The light that is left in the zone is that of the pulse's part still on the fiber: its sum gives the edge's middle.
  let light = 0
  for (let i = zone0; i < lost; i++) light += Math.min(2, powerFromDisplayLevel(levels[i]! - base(i)))
  const middle = zone0 + light - 0.5
  const points = lost - zone0
  const edgeSigma = Math.hypot(
    0.4,
    response.middleSigma,
    (meanSigma(noise, zone0, points) * points) / DB_PER_RELATIVE_POWER,
  )
  return { start: middle - response.middle + 0.5, startSigma: edgeSigma, lost, peak: null }
}

/**
 * Where the fiber fades away, the tallest of the reflections that stand clear of the noise is taken for its end: those
 * before it are of connections, those behind it, weaker than what they come from, may be its echoes.
 */
function endInNoise(levels: Float64Array, noise: TraceNoise, pulsePoints: number, lost: number): FiberEnd {
  const peaks = peaksInNoise(levels, noise, pulsePoints, lost)
  if (peaks.length === 0) return { start: null, startSigma: 0, lost, peak: null }
  const tops = peaks.map(({ start, settled }) => levels.subarray(start, settled).reduce((a, b) => Math.max(a, b)))
  const tallest = tops.indexOf(Math.max(...tops))
  const peak = peaks[tallest]!
  return { start: peak.start, startSigma: peak.startSigma, lost: peak.settled, peak, before: peaks.slice(0, tallest) }
}

/** What stands clear of the noise behind `lost` for most of a pulse; the tail of such a reflection is no further one. */
function peaksInNoise(levels: Float64Array, noise: TraceNoise, pulsePoints: number, lost: number): Peak[] {
  const clear = 5 * Math.log10(6 * powerSigmaAt(noise, lost))
  const wanted = Math.max(2, Math.floor(pulsePoints * 0.7))
  const peaks: Peak[] = []
  let run = 0
  for (let i = lost; i < levels.length; i++) {
    run = levels[i]! > clear ? run + 1 : 0
    if (run !== wanted) continue
    const start = i - run + 1
    const settled = Math.min(levels.length, start + Math.ceil(1.5 * pulsePoints))
    const lead = edgeLead(pulsePoints)
    peaks.push({ start, startSigma: 0.5, lead, fallen: settled, settled, height: 0, saturated: false, inNoise: true })
  }
  return peaks
}

/** The light of a pulse at its top stands within so much of the highest level, display dB. */
const TOP_DB = 0.5

/**
 * An end so near the instrument that nothing of the fiber shows behind the front: the last pulse that comes back ends with the
 * top of what is seen, so that the light turned back somewhere between the port and a pulse before that.
 * @param from first point behind the front's dead zone
 */
export function endInFront(levels: Float64Array, pulsePoints: number, from: number, lost: number): FiberEnd {
  let top = -Infinity
  for (let i = 0; i < from; i++) top = Math.max(top, levels[i]!)
  let last = 0
  for (let i = 0; i < from; i++) if (levels[i]! > top - TOP_DB) last = i
  const latest = Math.max(0, last - pulsePoints)
  return { start: latest / 2, startSigma: latest / Math.sqrt(12), lost, peak: null }
}
