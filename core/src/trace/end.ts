import { powerFromDisplayLevel } from '../units/decibel.ts'
import { medianOf, sigmaAt, SIGNAL_LOST_DB, type Noise } from './noise.ts'
import type { Peak } from './peaks.ts'
import type { PrefixSums } from './prefixSums.ts'

/** Where the fiber's light is lost in the noise. */
export interface FiberEnd {
  /** First point of the fall or of the reflection before it; null where the fiber fades away without an edge. */
  start: number | null
  startSigma: number
  /** First point of noise: nothing after it is fiber. */
  lost: number
  peak: Peak | null
}

/** First point from which the trace stays in the noise, or null when it never does. */
export function findSignalLoss(
  levels: Float64Array,
  sums: PrefixSums,
  noise: Noise,
  pulsePoints: number,
): number | null {
  const { blocks, blockSize } = noise
  const isLost = (b: number) => !(blocks[b]! < SIGNAL_LOST_DB)
  let block = 0
  while (block < blocks.length && isLost(block)) block++
  while (block < blocks.length && !(isLost(block) && (block + 1 >= blocks.length || isLost(block + 1)))) block++
  if (block >= blocks.length) return null
  const floor = noisePower(levels, Math.min(levels.length - 1, (block + 2) * blockSize))
  const window = Math.max(4, Math.ceil(pulsePoints))
  const least = 3 * floor * Math.min(1, Math.sqrt(noise.correlation / window))
  const from = Math.max(0, (block - 4) * blockSize)
  let light = 0
  for (let i = from; i < levels.length; i++) {
    light += powerFromDisplayLevel(levels[i]!)
    if (i - from < window) continue
    light -= powerFromDisplayLevel(levels[i - window]!)
    if (light / window < least) return i - window + 1
  }
  return Math.min(levels.length, block * blockSize)
}

/** The edge with which the fiber ends at `lost`: the last reflection that reaches into the noise, or a fall. */
export function findFiberEnd(
  levels: Float64Array,
  sums: PrefixSums,
  noise: Noise,
  pulsePoints: number,
  peaks: readonly Peak[],
  lost: number,
): FiberEnd {
  const reach = Math.ceil(2 * pulsePoints) + 4
  const last = peaks.findLast((peak) => peak.start < lost)
  if (last && last.settled + reach >= lost) return { start: last.start - 0.5, startSigma: 0.3, lost, peak: last }
  const zone0 = Math.max(0, lost - Math.ceil(2 * pulsePoints) - 4)
  const line0 = Math.max(last ? last.settled : 0, zone0 - Math.max(40, Math.ceil(6 * pulsePoints)))
  const line = sums.line(line0, zone0)
  if (!line) return endInNoise(levels, pulsePoints, lost)
  const base = line.mean + line.slope * (zone0 - line.center)
  const drop = base - sums.mean(lost, Math.min(levels.length, lost + Math.max(4, Math.ceil(pulsePoints))))
  // The block that holds the end is partly noise floor: the one before it tells the fiber's own noise.
  const sigma = Math.min(sigmaAt(noise, zone0), sigmaAt(noise, zone0 - noise.blockSize))
  if (drop < Math.max(1, 5 * sigma)) return endInNoise(levels, pulsePoints, lost)
  // The light that is left in the zone is that of the pulse's part still on the fiber: its sum gives the edge's middle.
  let light = 0
  for (let i = zone0; i < lost; i++) light += Math.min(2, powerFromDisplayLevel(levels[i]! - base))
  const middle = zone0 + light - 0.5
  const edgeSigma = 0.5 + (Math.sqrt(lost - zone0) * sigma) / 2.17
  return { start: middle - pulsePoints / 2 + 0.5, startSigma: edgeSigma, lost, peak: null }
}

/** Where the fiber fades away, the first reflection that stands clear of the noise is taken for its end. */
function endInNoise(levels: Float64Array, pulsePoints: number, lost: number): FiberEnd {
  const clear = 5 * Math.log10(6 * noisePower(levels, lost))
  const wanted = Math.max(2, Math.floor(pulsePoints * 0.7))
  let run = 0
  for (let i = lost; i < levels.length; i++) {
    run = levels[i]! > clear ? run + 1 : 0
    if (run < wanted) continue
    const start = i - run + 1
    const settled = Math.min(levels.length, start + Math.ceil(1.5 * pulsePoints))
    return {
      start,
      startSigma: 0.5,
      lost: settled,
      peak: { start, settled, height: 0, saturated: false, inNoise: true },
    }
  }
  return { start: null, startSigma: 0, lost, peak: null }
}

/**
 * Standard deviation of the noise as linear power, from the points beyond `from`.
 * Instruments clip or fold negative readings; the median of the readings left is that of half a normal distribution.
 */
function noisePower(levels: Float64Array, from: number): number {
  let lowest = Infinity
  for (const level of levels) if (level < lowest) lowest = level
  const readings = levels.slice(from).filter((level) => level > lowest + 0.0015)
  if (readings.length === 0) return 0
  return powerFromDisplayLevel(medianOf(readings)) / 0.674_49
}
