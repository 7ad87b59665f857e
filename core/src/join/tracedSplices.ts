import { splicesAt } from '../open/closure/closureRecord.ts'
import { standing, type LoggedEntry } from '../log/standing.ts'
import type { PlantBundle } from '../plant/types.ts'
import type { LoggedAttempt } from './log.ts'
import type { FiberEnd } from './queue.ts'
import type { SplicedFibers, TraceReading } from './traceReadings.ts'

/** A splice that was accepted at the bench, with what traces showed of it since. */
export interface TracedSplice {
  node: string | null
  chainage: number
  a: FiberEnd
  /** Null where it was logged by hand, without its other side. */
  b: FiberEnd | null
  /** The splicer's, dB. */
  estimate: number | null
  /** In the order in which they were entered. */
  readings: TraceReading[]
}

type AttemptEntry = LoggedAttempt & { kind: 'splice'; mate?: FiberEnd | undefined }
type Place = Pick<TracedSplice, 'node' | 'chainage'> & FiberEnd
type ReadingEntry = Place & TraceReading & { kind: 'trace-reading' }

/**
 * Accepted splices of a log with their trace readings, fibers of a ribbon one by one. A splice made anew begins without
 * readings: the earlier ones were of another splice.
 */
export function tracedSplices(plant: PlantBundle, log: readonly LoggedEntry[]): TracedSplice[] {
  const splices = new Map<string, TracedSplice>()
  for (const { entry } of standing(log, (earlier, later) => earlier.kind === later.kind)) {
    const one = entry as AttemptEntry | ReadingEntry | { kind: 'other' }
    if (one.kind === 'trace-reading') {
      const { way, wavelength, loss } = one
      splices.get(keyOf(one))?.readings.push({ way, wavelength, loss })
    } else if (one.kind === 'splice') {
      const { node, chainage, cable, fiber, mate, ribbon = [] } = one
      const readings = ribbon.length > 0 ? ribbon : [one]
      for (const [i, { estimate }] of readings.entries()) {
        const a = { cable, fiber: fiber + i }
        const key = keyOf({ node, chainage, ...a })
        splices.delete(key)
        if (one.outcome !== 'accepted') continue
        const b = mate ? { cable: mate.cable, fiber: mate.fiber + i } : mateByRecord(plant, node, a)
        splices.set(key, { node, chainage, a, b, estimate, readings: [] })
      }
    }
  }
  return [...splices.values()]
}

function keyOf({ node, chainage, cable, fiber }: Place): string {
  return JSON.stringify([node, node === null ? chainage : null, cable, fiber])
}

/** The other side of a splice that was logged without it. */
function mateByRecord(plant: PlantBundle, node: string | null, end: FiberEnd): FiberEnd | null {
  // In a run both ends are the same fiber.
  if (node === null) return end
  const is = (other: FiberEnd) => other.cable === end.cable && other.fiber === end.fiber
  const found = splicesAt(plant, node).find(({ a, b }) => is(a) || is(b))
  return found ? (is(found.a) ? found.b : found.a) : null
}

/** What the records say of both fibers of a splice. */
export function fibersOf(plant: PlantBundle, a: FiberEnd, b: FiberEnd | null): SplicedFibers {
  const [first, second] = [a, b].map((end) => plant.cables.find(({ id }) => id === end?.cable))
  const fields = [first?.modeField, second?.modeField] as const
  return {
    modeFields: fields[0] !== undefined && fields[1] !== undefined ? [fields[0], fields[1]] : null,
    g652: [first, second].every((cable) => cable !== undefined && /^G\.?652/i.test(cable.fiberType.trim())),
  }
}

/** What the two sides of a splice are called: by their cables; where both are of one cable, by where they come from. */
export function sidesOf(plant: PlantBundle, a: FiberEnd, b: FiberEnd | null): { a: string; b: string } {
  if (a.cable !== b?.cable) return { a: a.cable, b: b?.cable ?? 'the other side' }
  const cable = plant.cables.find(({ id }) => id === a.cable)
  const nameAt = (chainage: number | undefined) =>
    plant.nodes.find((node) => node.routeId === cable?.routeId && node.chainage === chainage)?.name
  return {
    a: `${a.cable} from ${nameAt(cable?.from) ?? 'its beginning'}`,
    b: `${a.cable} from ${nameAt(cable?.to) ?? 'its end'}`,
  }
}
