import { powerFromDisplayLevel } from '../../units/decibel.ts'
import type { TraceEvent } from './events.ts'
import { lineLevelBefore } from './loss.ts'
import { indexOf, pulseLengthOf, type Trace } from '../trace.ts'
import type { Working } from '../working.ts'

/** A reflection with the light it sends back, relative to the pulse sent (linear, both ways). */
interface Mirror {
  distance: number
  sigma: number
  /** Light that comes back from it. */
  returned: number
  /** Its own reflectance, linear; for the port the strongest that it may have. */
  reflectance: number
  name: string
}

/** An instrument's port reflects no more than an open flat end: Fresnel, glass to air, −14.7 dB. */
const PORT_REFLECTANCE = 10 ** -1.47
/** An echo may stand out by this factor over what is computed for it: reflectances are known to a few dB. */
const LEVEL_ALLOWANCE = 8
/** An event that loses less than this may be an echo, dB. */
const NO_LOSS_DB = 0.05
/** A slow receiver's tail lifts the trace after an echo by up to this, dB: it looks like a gain. */
const TAIL_LIFT_DB = 0.2

/**
 * Names the ghosts among the events: reflections without loss that stand where an echo must stand, at the distance
 * a + b − c of two reflections a and b sent back once more by a third one c nearer than both (the port is one).
 * An echo stronger than those three can make is none. One that lies over a joint keeps that joint's kind and loss.
 * @returns the events, ghosts with their kind, and what they or the reflection over them are the echo of
 */
export function nameGhosts(trace: Trace, working: Working, events: readonly TraceEvent[]): TraceEvent[] {
  const mirrors = mirrorsOf(trace, working, events)
  if (mirrors.length < 2) return [...events]
  return events.map((event) => {
    if (event.kind !== 'reflective' || event.saturated) return event
    const source = sourceOf(trace, working, event, mirrors)
    if (!source) return event
    if (!isWithoutLoss(event)) return { ...event, echoOf: source }
    return {
      ...event,
      kind: 'ghost',
      loss: null,
      lossSigma: null,
      reflectance: null,
      reflectanceSigma: null,
      echoOf: source,
    }
  })
}

function isWithoutLoss(event: TraceEvent): boolean {
  if (event.loss === null) return true
  const unsure = 3 * event.lossSigma!
  return event.loss < Math.max(NO_LOSS_DB, unsure) && event.loss > -Math.max(TAIL_LIFT_DB, unsure)
}

function mirrorsOf(trace: Trace, working: Working, events: readonly TraceEvent[]): Mirror[] {
  const scale = pulseScale(trace, working)
  return events.flatMap((event): Mirror[] => {
    if (event.kind === 'start')
      return [{ distance: 0, sigma: 0.5, returned: PORT_REFLECTANCE, reflectance: PORT_REFLECTANCE, name: 'the port' }]
    if (event.reflectance === null) return []
    const index = Math.floor(indexOf(trace, event.distance))
    const before = lineLevelBefore(working, index)
    if (before === null) return []
    // A saturated peak may be as strong as an open end.
    const reflectance = event.saturated ? PORT_REFLECTANCE : 10 ** (event.reflectance / 10)
    // Backscatter before it is B·W·A, so that the light it returns, A·R, is that level's share times R/(B·W).
    const twoWay = powerFromDisplayLevel(before) / scale
    return [
      {
        distance: event.distance,
        sigma: event.distanceSigma,
        returned: twoWay * reflectance,
        reflectance,
        name: `${event.distance.toFixed(0)} m`,
      },
    ]
  })
}

/** Display power that stands for full two-way transmission: the fiber's level at the port. */
function pulseScale(trace: Trace, working: Working): number {
  const from = Math.min(working.from, working.sums.length - 8)
  const level = working.sums.mean(from, from + 8) - working.slope * (from - indexOf(trace, 0))
  return powerFromDisplayLevel(level)
}

function sourceOf(trace: Trace, working: Working, event: TraceEvent, mirrors: readonly Mirror[]): string[] | null {
  const tolerance = 0.15 * pulseLengthOf(trace) + 2 * trace.spacing + 0.5
  const index = Math.floor(indexOf(trace, event.distance))
  const before = lineLevelBefore(working, index)
  const own =
    before === null || event.reflectance === null
      ? 0
      : (powerFromDisplayLevel(before) / pulseScale(trace, working)) * 10 ** (event.reflectance / 10)
  for (const c of mirrors)
    for (const a of mirrors)
      for (const b of mirrors) {
        if (a.distance <= c.distance || b.distance < a.distance) continue
        if (a.distance === event.distance || b.distance === event.distance) continue
        const away = Math.abs(a.distance + b.distance - c.distance - event.distance)
        if (away > tolerance + 3 * Math.hypot(a.sigma, b.sigma, c.sigma, event.distanceSigma)) continue
        const ways = a === b ? 1 : 2
        const echo = (ways * a.returned * b.returned * c.reflectance ** 2) / c.returned
        if (own <= LEVEL_ALLOWANCE * echo) return a === b ? [a.name, c.name] : [a.name, b.name, c.name]
      }
  return null
}
