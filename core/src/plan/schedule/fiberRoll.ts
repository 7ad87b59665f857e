import { placeInWords, placeOfFiber, whyNotFound } from '../../fiber/finder.ts'
import type { Cable, Circuit, PlantBundle } from '../../plant/types.ts'
import { linksAcross } from '../repairs/hit.ts'
import type { OrderOfWork } from './orderOfWork.ts'

/** A fiber of a cable at a place, with what rides it. */
export interface RollLine {
  fiber: number
  tube: number
  /** Where it lies, with its colours; null where the cable's record does not tell. */
  colors: string | null
  linkId: string | null
  link: string | null
  circuits: readonly Circuit[]
}

/** Which circuits ride which fibers of a cable across a place. */
export function fiberRoll(plant: PlantBundle, cable: Cable, chainage: number): RollLine[] {
  const links = linksAcross(plant, cable.id, chainage)
  const found = whyNotFound(cable) === null
  return Array.from({ length: cable.fiberCount }, (_, k) => {
    const fiber = k + 1
    const tube = Math.ceil(fiber / cable.tubeSize)
    const link = links.get(fiber)
    return {
      fiber,
      tube,
      colors: found ? placeInWords(placeOfFiber(cable, fiber)) : null,
      linkId: link?.id ?? null,
      link: link?.name ?? null,
      circuits: link?.circuits ?? [],
    }
  })
}

/** What the operations desk will see, minutes from the begin. */
export interface DeskLine {
  linkId: string
  link: string
  circuits: readonly Circuit[]
  /** When it is touched first; null when it is down already, or not touched. */
  dark: number | null
  back: { p50: number; p90: number }
}

/** Links by the time at which they blink. A link that is down already only comes back. */
export function deskList(order: OrderOfWork, down: boolean): DeskLine[] {
  return order.restored.map(({ linkId, name, circuits, touchedAt, at }) => ({
    linkId,
    link: name,
    circuits,
    dark: down ? null : touchedAt,
    back: { p50: at.p50, p90: at.p90 },
  }))
}
