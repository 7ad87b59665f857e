import type { LoggedEntry } from '../log/standing.ts'

/** Cords that an entry names, as they were written: `launch 3, receive 4` are two. */
export function cordNames(text: string): string[] {
  return text
    .split(/[,;+]/)
    .map((name) => name.trim())
    .filter((name) => name !== '')
}

interface Plugged {
  kind: string
  cords?: string
  referenceId?: string
  check?: { cord: string; third?: number | null; thirdCord?: string | undefined; sleeve?: string | undefined }
}

/**
 * Matings that an entry brings to its cords, by their names; an end that goes in anew is one (common practice). Readings count
 * when their reference is looked at again, all together.
 * @param log of the callout before it, in the order in which it came
 */
export function matingsOf(entry: Plugged, log: readonly LoggedEntry[]): { cord: string; count: number }[] {
  const each = (text: string | undefined, count: number) => cordNames(text ?? '').map((cord) => ({ cord, count }))
  switch (entry.kind) {
    case 'source-check':
      // Through the cord, and out of it again for the third one: its two ends, in the sleeve one pair.
      return [
        ...each(entry.check?.cord, 2),
        ...(entry.check?.third == null ? [] : [...each(entry.check.thirdCord, 2), ...each(entry.check.sleeve, 1)]),
      ]
    case 'loss-reference':
      return each(entry.cords, 1)
    case 'reference-look': {
      const reference = log.find(({ id }) => id === entry.referenceId)?.entry as Plugged | undefined
      const own = log.map((one) => one.entry as Plugged).filter(({ referenceId }) => referenceId === entry.referenceId)
      const last = own.findLastIndex(({ kind }) => kind === 'reference-look')
      const readings = own.slice(last + 1).filter(({ kind }) => kind === 'loss-reading').length
      return each(reference?.cords, 1 + readings)
    }
    default:
      return []
  }
}
