import { oneWaySpread } from '../../fiber/joinedFibers.ts'
import type { Thread } from '../../plant/thread.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import type { LinkEnds, TraceMark } from './linkEnds.ts'
import type { Shot } from './shot.ts'

/** The link's own first and last connection, as seen from the end that was shot from. */
export type Connection = 'near' | 'far'

/** Two records of one cord's length may differ by this part of it (judgement). */
const SAME_CORD = 0.01

/**
 * Whether a trace tells what one of the link's own connections loses: that needs fiber on both sides of it, so a cord that is
 * longer than the dead zone before it. Without a receive cord the light ends at the last connection.
 * @param ends of the same trace
 */
export function seesConnection(shot: Shot, ends: LinkEnds, connection: Connection): boolean {
  const { events, trace } = shot.analysis
  const near = pulseLengthOf(trace) + 2 * trace.spacing + 1
  const isAt = (mark: TraceMark, distance: number) => Math.abs(mark.distance - distance) <= near
  if (connection === 'near')
    return events.some(({ kind, loss, distance }) => kind !== 'start' && loss !== null && isAt(ends.start, distance))
  const last = events.at(-1)!
  return ends.end !== null && !(last.kind === 'end' && last.distance <= ends.end.distance + near)
}

/**
 * What the change of a connection's loss from one survey to another may be off by, read from one end, dB: the cord's fiber is
 * one side of what is read, and each cord scatters otherwise. Nothing where both surveys used one cord.
 * @param thread laid out from the end that was shot from
 */
export function cordSpread(before: Shot, after: Shot, connection: Connection, thread: Thread): number {
  const [then, now] = connection === 'near' ? [before.launch, after.launch] : [before.receive, after.receive]
  const isSame = then !== null && now !== null && Math.abs(then - now) <= SAME_CORD * then
  if (isSame) return 0
  const cable = thread.pieces.at(connection === 'near' ? 0 : -1)!.cable
  // The fiber of the link is the same in both: what is left is the difference of the two cords.
  return oneWaySpread(thread.cables.get(cable)!.fiberType)
}
