import { delayToFiber } from '../../plant/thread.ts'
import type { Direction } from '../../plant/types.ts'
import type { Trace } from '../../trace/trace.ts'
import { distanceFromDelay } from '../../units/light.ts'
import { predict, type Calibration } from './calibrate.ts'
import type { LinkEnds } from '../shots/linkEnds.ts'

/** Where a trace's distances lie on the ground ruler, as a polyline: both arrays rise or fall together, in order of distance. */
export interface GroundMap {
  /** m on the trace's own scale */
  distance: number[]
  /** m on the ground from the link's `from`; cords lie before 0 and beyond the link's length */
  ground: number[]
}

/** Lays a trace on the ground ruler through slack and helix, the records corrected by the calibration. */
export function groundMap(
  calibration: Calibration,
  direction: Direction,
  trace: Pick<Trace, 'wavelength' | 'groupIndex'>,
  ends: LinkEnds,
): GroundMap {
  const thread = calibration.threads[direction]
  const forward = direction === 'ab'
  const total = calibration.threads.ab.groundLength
  const onRuler = (ground: number) => (forward ? ground : total - ground)
  const cord = 100_000
  const distance = [ends.start.distance - cord]
  const ground = [onRuler(-cord)]
  const boundaries = [0, ...thread.pieces.map((piece) => piece.fiberTo)]
  boundaries.forEach((fiber, i) => {
    const measured = Math.min(predict(calibration, direction, fiber).fiber, thread.fiberLength * 1.1)
    const beyond = Math.max(0, measured - thread.fiberLength)
    const delay = delayToFiber(thread, measured - beyond, trace.wavelength)
    const at = ends.start.distance + distanceFromDelay(delay, trace.groupIndex) + beyond
    distance.push(Math.max(at, distance.at(-1)!))
    ground.push(onRuler(i === 0 ? 0 : thread.pieces[i - 1]!.groundTo))
  })
  distance.push(distance.at(-1)! + cord)
  ground.push(onRuler(thread.groundLength + cord))
  return { distance, ground }
}
