import { standing, type LoggedEntry } from '../log/standing.ts'
import type { Direction } from '../plant/types.ts'

/** Light sent into a link's fiber at one end, and at which link's port it comes out at the other. */
export interface Continuity {
  link: string
  /** The way of the light. */
  way: Direction
  /** A link's id; null where it comes out nowhere. */
  arrivesAt: string | null
}

/** Continuity checks of a log: of each link and way the last one. */
export function continuitiesOf(log: readonly LoggedEntry[]): Continuity[] {
  const checks = new Map<string, Continuity>()
  for (const { entry } of standing(log, (earlier, later) => earlier.kind === later.kind)) {
    if (entry.kind !== 'continuity') continue
    const { link, way, arrivesAt } = entry as unknown as Continuity
    checks.set(`${link} ${way}`, { link, way, arrivesAt })
  }
  return [...checks.values()]
}

export interface ContinuityWord {
  check: Continuity
  holds: boolean
  words: string
  next: string | null
}

/**
 * What checks say of a link: light that comes out elsewhere is in the wrong fiber from some joint on; where the other's comes
 * out here, the two are a swapped pair.
 * @param nameOf a link's name from its id
 */
export function judgeContinuity(
  link: string,
  checks: readonly Continuity[],
  nameOf: (id: string) => string,
): ContinuityWord[] {
  return checks
    .filter((check) => check.link === link || check.arrivesAt === link)
    .map((check): ContinuityWord => {
      const { link: sent, arrivesAt, way } = check
      const light = `light sent into “${nameOf(sent)}”`
      if (arrivesAt === sent) return { check, holds: true, words: `${light} comes out at its own port`, next: null }
      if (arrivesAt === null)
        return {
          check,
          holds: false,
          words: `${light} comes out nowhere`,
          next: 'look for a break, or a joint that was not made, with a trace from this end',
        }
      const back = checks.some((other) => other.link === arrivesAt && other.way === way && other.arrivesAt === sent)
      return back
        ? {
            check,
            holds: false,
            words: `${light} comes out at “${nameOf(arrivesAt)}”, and that one’s here: the pair is swapped`,
            next: `swap “${nameOf(sent)}” and “${nameOf(arrivesAt)}” back at the joint that was made last`,
          }
        : {
            check,
            holds: false,
            words: `${light} comes out at “${nameOf(arrivesAt)}”: it is joined to the wrong fiber`,
            next: `check both colours at the joints that were made, then send light into “${nameOf(arrivesAt)}” too`,
          }
    })
}
