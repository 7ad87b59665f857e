import { typicalFiber } from '../fiber/backscatter.ts'
import { powerFromDisplayLevel } from '../units/decibel.ts'
import { findSignalLoss } from './events/end.ts'
import { findPeaks, halfFall, highest, settle, type Peak } from './events/peaks.ts'
import { measuredResponse, type Response } from './events/response.ts'
import type { LongNoise } from './noise/longNoise.ts'
import { estimateNoise, medianOf, powerSigmaAt, sigmaAt, SIGNAL_LOST_DB, type TraceNoise } from './noise/noise.ts'
import { takeOffLogBias } from './noise/logBias.ts'
import { PrefixSums } from './noise/prefixSums.ts'
import { SLOWEST_RECOVERY, takeOffTails, type Reflected } from './noise/tails.ts'
import { indexOf, pulseLengthOf, type Trace } from './trace.ts'

/** How far one fiber's attenuation may lie from its neighbours', dB/m (common practice: a few hundredths per km). */
const SLOPE_SPREAD = 0.04e-3

/** What the search for events works on. */
export interface Clear {
  levels: Float64Array
  noise: TraceNoise
  sums: PrefixSums
  /** First point of noise; null where the trace never reaches it. */
  lost: number | null
  /** First usable point behind the port's own reflection. */
  from: number
  peaks: Peak[]
  response: Response
  /** The reflection after which no fiber goes on; null where it ends without one, or not at all. */
  last: Peak | null
}

/** A pulse goes on for so many of its nominal lengths at most (judgement). */
const SLOWEST_PULSE = 2

/** The trace without the tails of its reflections, its reflections, and the one at which its light ends. */
export function withoutTails(trace: Trace, pulsePoints: number, slope: number): Clear {
  const port = portOf(trace, pulsePoints, slope)
  const raw = searched(trace, trace.levels, pulsePoints, slope, port.fallen)
  const reflections = [port, ...raw.peaks]
  // A receiver that is slow enough for its pulse recovers as slowly.
  const slowest = Math.max(SLOWEST_RECOVERY.usual, Math.min(SLOWEST_RECOVERY.ever, 1.2 * trace.pulseWidth))
  const longest = (pulsePoints * slowest) / trace.pulseWidth
  // What falls as slowly as this trace's own fiber is fiber.
  const own = typicalSlope(trace, raw.sums, raw.noise, raw.from, raw.lost ?? trace.levels.length, raw.peaks).slope
  const fall = Math.min(0.5 * slope, own)
  // A pulse takes as long as it lasts to be off, and no longer than its receiver recovers in.
  const falling = pulsePoints * Math.min(1, SLOWEST_RECOVERY.usual / trace.pulseWidth)
  const search = { levels: trace.levels, noise: raw.noise, pulsePoints, slope: fall, longest, falling }
  const { levels, stretches } = takeOffTails(search, reflections)
  const clear = searched(trace, levels, pulsePoints, slope, stretches[0]!.settled, raw.noise.told)
  // Where the trace runs straight is asked of the trace, too: a slow pulse goes on after its nominal length. Joints that
  // follow soon bend it as well, so that no more than the next pulses count.
  const soonAfter = (settled: number, straight = 0) =>
    Math.ceil(Math.max(settled, Math.min(straight, settled + SLOWEST_PULSE * pulsePoints)))
  // Reflections are those that the trace shows, where they begin and how strong they are by what is left without tails.
  const near = pulsePoints + 2
  const peaks = raw.peaks.map((peak, k): Peak => {
    const own = clear.peaks.find(({ start }) => Math.abs(start - peak.start) < near)
    const room = raw.peaks[k + 1] ? raw.peaks[k + 1]!.start - raw.peaks[k + 1]!.lead : Infinity
    const settled = soonAfter(Math.max(peak.fallen, stretches[k + 1]!.settled), own?.settled)
    return { ...(own ?? peak), saturated: peak.saturated, settled: Math.min(settled, Math.max(room, peak.fallen + 1)) }
  })
  const lastLit = stretches.findLastIndex(({ lit }) => lit === true)
  const ended = stretches.findIndex(({ lit }, k) => k > lastLit && k > 0 && lit === false)
  const last = ended > 0 && isOnLight(raw, peaks[ended - 1]!, pulsePoints) ? peaks[ended - 1]! : null
  // How a pulse comes and goes is asked of what the instrument shows, its own slow fall and all.
  const response = measuredResponse(trace.levels, raw.sums, raw.noise, pulsePoints, trace.pulseWidth, raw.peaks)
  return { ...clear, from: soonAfter(stretches[0]!.settled, clear.from), peaks, last, response }
}

/** A step in the tail of a reflection must be more than this part of what was taken off there: so well a tail is known. */
export const TAIL_KNOWN = 0.3

/**
 * How much of reflections' tails was taken off a trace around a place, dB.
 * @param cleared the trace without its tails
 * @param at point
 */
export function tailAt({ levels }: Trace, cleared: { levels: Float64Array; pulsePoints: number }, at: number): number {
  const half = Math.max(2, Math.ceil(cleared.pulsePoints / 2))
  const [from, to] = [Math.max(0, Math.floor(at) - half), Math.min(levels.length, Math.ceil(at) + half)]
  let sum = 0
  for (let i = from; i < to; i++) sum += levels[i]! - cleared.levels[i]!
  return to > from ? sum / (to - from) : 0
}

/** Light before a reflection stands over the receiver's noise by so much, or what looks like one is noise after the end. */
const CLEAR_LIGHT = 4

/** Whether the fiber's light still comes in just before a reflection, and it rises over it. */
function isOnLight({ levels, noise }: Pick<Clear, 'levels' | 'noise'>, peak: Peak, pulsePoints: number): boolean {
  const pulse = Math.max(2, Math.ceil(pulsePoints))
  const to = Math.max(1, Math.floor(peak.start - peak.lead) - pulse)
  const from = Math.max(0, to - pulse)
  let light = 0
  for (let i = from; i < to; i++) light += powerFromDisplayLevel(levels[i]!)
  const before = light / (to - from)
  const top = powerFromDisplayLevel(levels[highest(levels, Math.floor(peak.start), Math.ceil(peak.start + pulse))]!)
  return before > CLEAR_LIGHT * powerSigmaAt(noise, levels.length - 1) && top > before
}

function searched(
  { pulseWidth }: Trace,
  levels: Float64Array,
  pulsePoints: number,
  slope: number,
  after: number,
  known?: LongNoise | null,
) {
  const noise = estimateNoise(levels, pulsePoints, pulseWidth, known)
  const sums = new PrefixSums(levels, null, (values) => takeOffLogBias(values, noise))
  const lost = findSignalLoss(levels, noise, pulsePoints)
  const search = { levels, sums, noise, pulsePoints, slope, to: lost ?? levels.length }
  const from = settle(search, after).settled
  const to = Math.min(levels.length, Math.ceil((lost ?? levels.length) + pulsePoints))
  return { levels, noise, sums, lost, from, peaks: from < to ? findPeaks({ ...search, from, to }) : [] }
}

/** A port's reflection falls to half its height within so many pulses (judgement). */
const PORT_PULSES = 20

/** Behind its reflection the fiber's level is asked for so many pulses on, and a receiver at its limit holds a level to this, dB. */
const PORT_BESIDE = 3
const FLAT_TOP_DB = 0.01

/**
 * The instrument's own front: where its reflection, if it has one, has fallen to half its height.
 * @param slope of usual fiber, dB a point
 */
function portOf({ levels, ...trace }: Trace, pulsePoints: number, slope: number): Reflected {
  const start = Math.max(0, Math.ceil(indexOf(trace, 0)))
  const behind = Math.min(levels.length, start + Math.ceil(pulsePoints) + 1)
  const top = highest(levels, start, behind)
  // Without a reflection the trace begins on the fiber's line, and does not fall so soon.
  const soon = Math.min(levels.length, behind + PORT_PULSES * Math.ceil(pulsePoints + 2))
  // Half of what stands over the fiber, whose line goes back up from where it shows by then: half of all the light that
  // long fiber itself loses.
  const beside = Math.min(soon - 1, behind + Math.ceil(PORT_BESIDE * pulsePoints))
  const fiber = levels[beside]! - slope * (beside - behind)
  const base = fiber < levels[top]! - FLAT_TOP_DB ? fiber : -Infinity
  const fallen = halfFall(levels, top, base, levels[top]!, soon)
  return { start, lead: 0, fallen: fallen < soon - 1 ? Math.max(behind, fallen) : behind }
}

/** Median slope between neighbouring blocks: events are few, so that the median passes them by. */
export function typicalSlope(
  trace: Trace,
  sums: PrefixSums,
  noise: TraceNoise,
  from: number,
  to: number,
  peaks: readonly Peak[],
): { slope: number; slopeSigma: number } {
  const spread = SLOPE_SPREAD * trace.spacing
  const typical = (-typicalFiber(trace.wavelength).attenuation / 1000) * trace.spacing
  const size = Math.max(
    noise.blockSize,
    Math.ceil((2 * pulseLengthOf(trace)) / trace.spacing),
    Math.floor((to - from) / 200),
  )
  const slopes: number[] = []
  for (let i = from; i + 2 * size <= to; i += size) {
    if (peaks.some((peak) => peak.start < i + 2 * size && peak.settled > i)) continue
    if (sigmaAt(noise, i + 2 * size) < SIGNAL_LOST_DB)
      slopes.push((sums.mean(i + size, i + 2 * size) - sums.mean(i, i + size)) / size)
  }
  if (slopes.length < 5) return { slope: typical, slopeSigma: 4 * spread }
  const middle = medianOf(Float64Array.from(slopes))
  const scatter = medianOf(Float64Array.from(slopes, (s) => Math.abs(s - middle))) / 0.6745
  return { slope: middle, slopeSigma: Math.hypot(spread, (1.25 * scatter) / Math.sqrt(slopes.length)) }
}
