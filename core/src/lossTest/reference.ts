import { CodedError } from '../errors/index.ts'

/**
 * Ways to set the reference of a loss test, by how many cords lie between source and meter while it is set: IEC 61280-4-1
 * and -4-2, TIA-526-14 and -7 (from memory).
 */
export const REFERENCE_METHODS = ['one-cord', 'two-cord', 'three-cord'] as const
export type ReferenceMethod = (typeof REFERENCE_METHODS)[number]

/** Mated pairs that a reference already holds and takes out of every result. */
const HELD: Record<ReferenceMethod, number> = { 'one-cord': 0, 'two-cord': 1, 'three-cord': 2 }

/** Mated pairs that a reference of a method holds. */
export function pairsHeld(method: ReferenceMethod): number {
  return HELD[method]
}

/** What each method counts, and what stays where it is until the last reading. */
export const REFERENCE_WORDS: Record<ReferenceMethod, { set: string; counts: string; keep: string }> = {
  'one-cord': {
    set: 'the launch cord alone between source and meter',
    counts: 'both end connections of the link',
    keep: 'the launch cord stays on the source until the last reading',
  },
  'two-cord': {
    set: 'launch and receive cord, joined by one adapter, between source and meter',
    counts: 'one end connection less than there are',
    keep: 'the launch cord stays on the source and the receive cord on the meter',
  },
  'three-cord': {
    set: 'launch cord, a short third cord and receive cord between source and meter',
    counts: 'neither end connection of the link',
    keep: 'the launch cord stays on the source and the receive cord on the meter; only the third cord is taken out',
  },
}

/**
 * Mated pairs that a result counts.
 * @param pairs all of the link's, both end connections included
 * @throws CodedError where the link has fewer than the reference holds
 */
export function pairsCounted(method: ReferenceMethod, pairs: number): number {
  if (!Number.isInteger(pairs) || pairs < HELD[method])
    throw new CodedError('not-enough', `a ${method} reference holds ${HELD[method]} pairs, the link has ${pairs}`)
  return pairs - HELD[method]
}

/** A typical mated pair, dB, with its standard uncertainty (judgement): what two methods differ by. */
export const TYPICAL_PAIR = { loss: 0.3, sigma: 0.15 } as const

/**
 * A loss measured by one method as another one would show it: more or fewer pairs are in it, each as a typical pair and as
 * uncertain as one.
 * @param loss dB, with its standard uncertainty
 */
export function convertLoss(
  { loss, sigma }: { loss: number; sigma: number },
  from: ReferenceMethod,
  to: ReferenceMethod,
): { loss: number; sigma: number } {
  const more = HELD[from] - HELD[to]
  return {
    loss: loss + more * TYPICAL_PAIR.loss,
    sigma: Math.hypot(sigma, Math.sqrt(Math.abs(more)) * TYPICAL_PAIR.sigma),
  }
}

/** A reference that was set: the level that reaches the meter, dBm at one wavelength in nm. */
export interface SetReference {
  method: ReferenceMethod
  wavelength: number
  level: number
  /** ISO */
  at: string
  /** Later looks at the same level, the same cords as when it was set. */
  checks: readonly { level: number; at: string }[]
  /** For how long the source had been on, min; null or absent where nobody said. */
  sourceOn?: number | null
}

/** A reference that moved by more than this makes what was read between suspect, dB (from memory). */
export const MOST_DRIFT = 0.1
/** A laser needs so long to settle after it was switched on, minutes (common practice: it drifts by tenths). */
export const WARM_UP = 15

export type ReferenceStanding = 'held' | 'moved' | 'not checked since'

/**
 * Whether the reference held at the time of a reading: by the look before it and the one after it. Only a later look says
 * that nothing moved in between.
 */
export function referenceAt({ level, at: setAt, checks }: SetReference, at: string): ReferenceStanding {
  const looks = [{ level, at: setAt }, ...checks].sort((a, b) => a.at.localeCompare(b.at))
  const after = looks.find((look) => look.at >= at)
  const before = looks.filter((look) => look.at <= at).at(-1)
  if (before && Math.abs(before.level - level) > MOST_DRIFT) return 'moved'
  if (!after) return 'not checked since'
  return Math.abs(after.level - level) > MOST_DRIFT ? 'moved' : 'held'
}

/** A source has settled when its level moves by no more than a fifth of what a reference may, dB (judgement). */
export const SETTLED_DB = MOST_DRIFT / 5

/**
 * Whether a source has settled: by its level over the last minutes.
 * @param levels dBm, in order of time
 */
export function hasSettled(levels: readonly { level: number; at: string }[], minutes = 5): boolean {
  const last = levels.at(-1)
  if (!last) return false
  const from = Date.parse(last.at) - minutes * 60_000
  if (Date.parse(levels[0]!.at) > from) return false
  const within = levels.filter(({ at }) => Date.parse(at) >= from).map(({ level }) => level)
  // A display's last digit is not told apart from what it stands for.
  return Math.max(...within) - Math.min(...within) <= SETTLED_DB + 1e-9
}
