import { powerFromDisplayLevel } from '../units/decibel.ts'
import { SPEED_OF_LIGHT } from '../units/light.ts'
import type { TraceEvent, Why } from './events/events.ts'
import { steadyLine } from './events/loss.ts'
import { backscatterOf } from './events/reflectance.ts'
import { indexOf, type Trace } from './trace.ts'
import type { Working } from './working.ts'

const CELLS_PER_PULSE = 4

/** Figures of the fiber from the port to its last end. */
export interface LinkTotals {
  /** m; null when no end is seen */
  length: number | null
  /** dB between them */
  loss: number | null
  /** Optical return loss, dB, positive. */
  orl: number | null
  why: { length?: Why; loss?: Why; orl?: Why }
  bound: { orl?: 'min' | 'max' }
}

/** Length, loss and return loss of the whole fiber; each is null with its reason where it can't be had. */
export function linkTotals(trace: Trace, working: Working, events: readonly TraceEvent[]): LinkTotals {
  const end = events.at(-1)!
  if (end.kind !== 'end')
    return {
      length: null,
      loss: null,
      orl: null,
      why: { length: 'below-noise', loss: 'below-noise', orl: 'below-noise' },
      bound: {},
    }
  const total = lossOverall(trace, working, end.distance)
  return {
    length: end.distance,
    loss: total?.loss ?? null,
    orl: total ? returnLoss(trace, working, total.startLevel) : null,
    why: total ? {} : { loss: 'inside-dead-zone', orl: 'inside-dead-zone' },
    bound: total && events.some((event) => event.saturated) ? { orl: 'max' } : {},
  }
}

/** Loss from the port to the end: the first line extrapolated back to the port, the last one on to the end. */
function lossOverall(trace: Trace, working: Working, end: number): { loss: number; startLevel: number } | null {
  const first = steadyLineOfSpan(working, 0, indexOf(trace, 0))
  const last = steadyLineOfSpan(working, working.spans.length - 2, indexOf(trace, end))
  return first === null || last === null ? null : { loss: first - last, startLevel: first }
}

function steadyLineOfSpan(working: Working, k: number, at: number): number | null {
  const span = working.spans[k]
  if (!span) return null
  const next = working.spans[k + 1]?.[0] ?? working.to
  return steadyLine(working, Math.max(working.from, span[1]), Math.floor(next - 1), at)?.value ?? null
}

/**
 * Optical return loss from the port to the end: all light that comes back, over the light sent in.
 * The level at the port is that of the backscatter of one pulse, B·W, which gives the scale.
 */
function returnLoss(trace: Trace, working: Working, startLevel: number): number {
  const end = Math.min(trace.levels.length, Math.ceil(working.spans.at(-1)![1]))
  const port = Math.max(0, Math.floor(indexOf(trace, 0)))
  let light = 0
  let i = port
  for (; i < working.from; i++) light += powerFromDisplayLevel(working.slope * (i - port))
  const cell = Math.max(1, Math.floor(working.pulsePoints / CELLS_PER_PULSE))
  for (const [from, to] of working.spans) {
    // Along the fiber the level hardly changes within a part of a pulse; at events every point counts.
    const straightTo = Math.min(end, Math.floor(from))
    for (; i + cell <= straightTo; i += cell)
      light += cell * powerFromDisplayLevel(working.sums.mean(i, i + cell) - startLevel)
    for (; i < Math.min(end, Math.ceil(to)); i++) light += powerFromDisplayLevel(trace.levels[i]! - startLevel)
  }
  const nanosecondsPerPoint = (2 * trace.spacing * trace.groupIndex * 1e9) / SPEED_OF_LIGHT
  return -(backscatterOf(trace) + 10 * Math.log10(light * nanosecondsPerPoint))
}
