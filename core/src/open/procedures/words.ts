import { inches, shortLength, TAPE_MARK } from '../../units/inches.ts'
import type { Span } from '../drawings/lengths.ts'

/** How lengths are told: metric, or with what a tape in inches shows beside it. */
export type LengthUnits = 'metric' | 'metric and inches'

/** A length, or a range of them, in words: `51 to 57 mm (2 to 2 1/4 in)`; below a tape's mark in mm only. */
export function spanInWords({ min, max }: Span, units: LengthUnits): string {
  const range = (show: (length: number) => string) => {
    const [low, high] = [show(min), show(max)]
    if (low === high) return high
    const unit = / (mm|m|in)$/
    const same = unit.exec(low)?.[1] === unit.exec(high)?.[1]
    return `${same ? low.replace(unit, '') : low} to ${high}`
  }
  const metric = min === 0 && max > 0 ? `up to ${shortLength(max)}` : range(shortLength)
  // What is finer than a tape's marks is not told in them: a bead of half a millimetre is not 0 in.
  if (units === 'metric' || max < TAPE_MARK) return metric
  const imperial = min === 0 && max > 0 ? `up to ${inches(max)}` : range(inches)
  return `${metric} (${imperial})`
}

/** A name in braces in a step's text. */
export const NAMED = /\{([a-z][a-z0-9-]*)\}/g

/** Names of lengths that stand in a step's text. */
export function lengthsIn(text: string): string[] {
  return [...text.matchAll(NAMED)].map(([, name]) => name!)
}

/** What a step says, with its lengths in words. */
export function stepInWords(text: string, lengths: Readonly<Record<string, Span>>, units: LengthUnits): string {
  return text.replace(NAMED, (braces, name: string) => (lengths[name] ? spanInWords(lengths[name], units) : braces))
}
