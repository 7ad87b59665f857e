import { CodedError } from '../errors/index.ts'

/** A limit with where it comes from. */
export interface Limit {
  value: number
  source: string
}

/** Acceptance limits of one school: data with a version, so that a stored verdict can say what it was judged by. */
export interface RuleBook {
  name: string
  version: number
  /** A new fusion splice, two-way mean, dB: over `good` is a remark, over `limit` is refused. */
  splice: { good: Limit; limit: Limit }
  /** Cleave angles of single fibers and of ribbons, degrees: over `good` is a remark, over `limit` is cut again. */
  cleave: { single: { good: Limit; limit: Limit }; ribbon: { good: Limit; limit: Limit } }
  /** A mated pair, dB. */
  pair: Limit
  /** How far an untouched joint may read from its baseline, dB. */
  repeatability: { splice: Limit; connector: Limit }
  /** Worst reflectance of a mated pair, dB. */
  reflectance: { multimode: Limit; singleMode: Limit; angled: Limit }
  /** How much worse a connector's reflectance may read than in its baseline, dB. */
  reflectanceRise: Limit
}

const TIA = 'TIA-568.3-D'
const PRACTICE = 'common practice'

const standard: RuleBook = {
  name: 'standard',
  version: 1,
  splice: { good: { value: 0.1, source: PRACTICE }, limit: { value: 0.3, source: TIA } },
  cleave: {
    single: {
      good: { value: 0.5, source: `${PRACTICE}, from memory` },
      limit: { value: 1, source: `${PRACTICE}, from memory` },
    },
    // Of ribbons only the limit is known: nothing under it is remarked on.
    ribbon: { good: { value: 3, source: 'from memory' }, limit: { value: 3, source: 'from memory' } },
  },
  pair: { value: 0.75, source: TIA },
  repeatability: { splice: { value: 0.05, source: PRACTICE }, connector: { value: 0.2, source: PRACTICE } },
  reflectance: {
    multimode: { value: -20, source: `${TIA}, from memory` },
    singleMode: { value: -35, source: `${TIA}, from memory` },
    angled: { value: -55, source: `${TIA}, from memory` },
  },
  reflectanceRise: { value: 5, source: PRACTICE },
}

/** Long-haul school: a splice over 0.10 dB is redone. */
const tight: RuleBook = {
  ...standard,
  name: 'tight',
  splice: { good: { value: 0.05, source: PRACTICE }, limit: { value: 0.1, source: PRACTICE } },
}

export const RULE_BOOKS: readonly RuleBook[] = [standard, tight]

/** @throws CodedError naming the books there are */
export function ruleBook(name: string): RuleBook {
  const book = RULE_BOOKS.find((candidate) => candidate.name === name)
  if (!book)
    throw new CodedError(
      'not-found',
      `there is no rule book "${name}" (there are: ${RULE_BOOKS.map((b) => b.name).join(', ')})`,
    )
  return book
}

export type Holds = 'yes' | 'close' | 'no' | 'unknown'

/**
 * Holds a figure against an upper limit: nearer to it than twice its uncertainty is "close", not good
 * (GUM, JCGM 100: expanded uncertainty with k = 2).
 */
export function holdsAgainst(value: number | null, sigma: number | null, limit: number): Holds {
  if (value === null) return 'unknown'
  const expanded = 2 * (sigma ?? 0)
  if (value + expanded <= limit) return 'yes'
  return value - expanded > limit ? 'no' : 'close'
}
