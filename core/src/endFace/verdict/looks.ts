import { CodedError } from '../../errors/index.ts'
import type { EndFaceVerdict } from './grade.ts'
import type { Feature } from '../types.ts'

/** So many cleanings without success: more do not help (judgement; common practice is that several may be needed). */
export const MOST_CLEANINGS = 3
/** What outlasts so many is not dirt (judgement). */
const STUBBORN = 2
/** What lies so near to where something lay before cleaning is the same, µm (judgement). */
const SAME_PLACE = 4

/** One look at an end face: what it came to, a person's word before the rule's, and what was marked. */
export interface EndFaceLook {
  verdict: EndFaceVerdict
  marked: readonly Pick<Feature, 'kind' | 'x' | 'y'>[]
}

export type NextStep = 'connect' | 'clean' | 'damage' | 'look closer' | 'by its sheet'

export interface LooksSummary {
  next: NextStep
  /** Between the first look and the last. */
  cleanings: number
  /** Marks of the last look that were there before it was cleaned last; null at the first look. */
  stayed: number | null
  words: string
}

/**
 * What to do after the looks at one end face, oldest first; each but the first comes after a cleaning.
 * @param side a plug is polished or replaced, a port's sleeve or connector behind it is replaced
 * @throws CodedError without a look
 */
export function afterLooks(looks: readonly EndFaceLook[], side: 'plug' | 'port'): LooksSummary {
  const last = looks.at(-1)
  if (!last) throw new CodedError('not-enough', 'nobody has looked yet')
  const cleanings = looks.length - 1
  const before = looks.at(-2)
  const stayed = before
    ? last.marked.filter((one) =>
        before.marked.some(
          (other) => other.kind === one.kind && Math.hypot(other.x - one.x, other.y - one.y) <= SAME_PLACE,
        ),
      ).length
    : null
  const told = (next: NextStep, words: string): LooksSummary => ({ next, cleanings, stayed, words })
  const allStayed = stayed !== null && stayed > 0 && stayed === last.marked.length
  const kept = allStayed
    ? 'what is left lies where it lay before cleaning'
    : stayed !== null && stayed > 0
      ? `${stayed} of ${last.marked.length} marks lie where they lay before cleaning`
      : ''
  if (last.verdict === 'pass') return told('connect', 'Clean: connect it now, or cap it.')
  if (last.verdict === 'no rule')
    return told('by its sheet', 'No table is here for this class: judge it by its maker’s sheet, and say how.')
  if (cleanings >= MOST_CLEANINGS || (cleanings >= STUBBORN && allStayed)) {
    const why = allStayed ? `${kept}: that is damage, not dirt` : `${cleanings} cleanings did not help`
    const what =
      side === 'plug' ? 're-polish or replace the connector' : 'replace the sleeve, or the connector behind it'
    return told('damage', `${why[0]!.toUpperCase()}${why.slice(1)}. Now ${what}.`)
  }
  if (last.verdict === 'close')
    return told(
      'look closer',
      `Nearer to a limit than this picture can tell${kept && `; ${kept}`}. Clean it, and look again in sharper focus.`,
    )
  return told('clean', `Clean it and look again${kept && `; ${kept}`}.`)
}
