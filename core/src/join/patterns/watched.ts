import type { FiberReading } from '../judgeSplice.ts'
import type { Charted } from './chart.ts'

/** A splice as patterns are looked for: what the splicer showed, or the person read. Null where it was not shown. */
export interface WatchedAttempt extends FiberReading {
  /** Between claddings before they are moved, µm. */
  offset: number | null
  gap: 'good' | 'bad' | null
  proof: 'held' | 'broke' | null
  /** Mode field diameters of both fibers by the records, m at one wavelength; null where a record has none. */
  modeFields: readonly [number, number] | null
  /** Of a ribbon its fibers one by one: they share offset, picture and pull. */
  ribbon?: readonly FiberReading[] | undefined
  /** The session that it was made in, where known. */
  session?: string | number | undefined
}

/** A splice's fibers: of a single one itself. */
export function fibersOfSplice(attempt: WatchedAttempt): readonly FiberReading[] {
  return attempt.ribbon && attempt.ribbon.length > 0 ? attempt.ribbon : [attempt]
}

/** What a splice shows of a series: of angles two a fiber, of an offset one in all. */
export function readingsOf(series: Charted, attempt: WatchedAttempt): number[] {
  if (series === 'offset') return attempt.offset === null ? [] : [attempt.offset]
  return fibersOfSplice(attempt).flatMap(({ estimate, cleaveLeft, cleaveRight }) =>
    (series === 'loss' ? [estimate] : [cleaveLeft, cleaveRight]).filter((one) => one !== null),
  )
}
