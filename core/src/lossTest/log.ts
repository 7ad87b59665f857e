import { standing, type LoggedEntry } from '../log/standing.ts'
import type { Direction } from '../plant/types.ts'
import type { SetReference } from './reference.ts'
import type { TestMeans } from './uncertainty.ts'

/** A reference as it was logged, with the instruments and cords that it holds for. */
export interface LoggedReference extends SetReference {
  id: string
  by: string
  /** Kit ids, or names; null where nobody said. */
  source: string | null
  meter: string | null
  /** Cords between source and meter, as they are called. */
  cords: string
  means: TestMeans
}

/** A level read at the end of a link, against a reference. */
export interface LoggedReading {
  id: string
  by: string
  at: string
  reference: LoggedReference
  link: string
  /** From the link's `from` to its `to`, or back. */
  way: Direction
  /** dBm */
  level: number
}

type ReferenceEntry = Pick<LoggedReference, 'method' | 'wavelength' | 'level' | 'source' | 'meter' | 'cords'> &
  TestMeans & { kind: 'loss-reference'; sourceOn?: number | null }
type LookEntry = { kind: 'reference-look'; referenceId: string; level: number }
type ReadingEntry = { kind: 'loss-reading'; referenceId: string; link: string; way: Direction; level: number }

/**
 * References of a log, newest first, and the readings against them: of each link, wavelength and way the last one. Looks at
 * a reference belong to it.
 */
export function lossTestsOf(log: readonly LoggedEntry[]): { references: LoggedReference[]; readings: LoggedReading[] } {
  const references = new Map<string, LoggedReference & { checks: { level: number; at: string }[] }>()
  const readings = new Map<string, LoggedReading>()
  for (const { id, by, observedAt: at, entry } of standing(log, (earlier, later) => earlier.kind === later.kind)) {
    const one = entry as ReferenceEntry | LookEntry | ReadingEntry | { kind: 'other' }
    if (one.kind === 'loss-reference') {
      const { method, wavelength, level, source, meter, cords, referenceGrade, encircledFlux, sourceOn = null } = one
      const means = { referenceGrade, encircledFlux }
      references.set(id, { id, by, at, method, wavelength, level, source, meter, cords, means, sourceOn, checks: [] })
    } else if (one.kind === 'reference-look') references.get(one.referenceId)?.checks.push({ level: one.level, at })
    else if (one.kind === 'loss-reading') {
      const reference = references.get(one.referenceId)
      if (!reference) continue
      const { link, way, level } = one
      readings.set(`${link} ${reference.wavelength} ${way}`, { id, by, at, reference, link, way, level })
    }
  }
  return { references: [...references.values()].reverse(), readings: [...readings.values()] }
}
