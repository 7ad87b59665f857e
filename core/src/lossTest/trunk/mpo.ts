import { CodedError } from '../../errors/index.ts'

/** Polarity of a multi-fiber trunk: which channel of the far end each of the near end comes out at (TIA-568.3-D). */
export const POLARITIES = ['A', 'B', 'C'] as const
export type Polarity = (typeof POLARITIES)[number]

/**
 * Where a channel comes out, counted from 1. A: at its own number. B: counted from the other side. C: neighbours in pairs
 * are swapped.
 * @throws CodedError for a channel that is none, or pairs of an odd count
 */
export function farChannel(polarity: Polarity, channel: number, count: number): number {
  if (!Number.isInteger(channel) || channel < 1 || channel > count)
    throw new CodedError('out-of-range', `channel ${channel} is none of ${count}`)
  if (polarity === 'A') return channel
  if (polarity === 'B') return count + 1 - channel
  if (count % 2 === 1) throw new CodedError('not-enough', `${count} channels have no pairs`)
  return channel % 2 === 1 ? channel + 1 : channel - 1
}

export interface PolarityJudgement {
  holds: boolean
  /** What it is when it is another one; null where it is none of them. */
  instead: Polarity | null
  /** Channels that come out elsewhere, with where they should. */
  wrong: { channel: number; at: number | null; expected: number }[]
  words: string
}

/**
 * Holds where each channel came out against the polarity that the record names.
 * @param map far channel of each near one, in order; null where no light came out
 */
export function judgePolarity(map: readonly (number | null)[], expected: Polarity): PolarityJudgement {
  const count = map.length
  const of = (polarity: Polarity) =>
    map.flatMap((at, i) => {
      const should = farChannel(polarity, i + 1, count)
      return at === should ? [] : [{ channel: i + 1, at, expected: should }]
    })
  const wrong = of(expected)
  if (wrong.length === 0) return { holds: true, instead: null, wrong, words: `polarity ${expected}, as recorded` }
  const dark = wrong.filter(({ at }) => at === null)
  // Dark channels tell nothing about the polarity: the lit ones do.
  const fits = (polarity: Polarity) =>
    (polarity !== 'C' || count % 2 === 0) && of(polarity).every(({ at }) => at === null) && dark.length < count
  if (fits(expected))
    return { holds: false, instead: null, wrong, words: `${channels(dark)} dark; the others are polarity ${expected}` }
  const instead = POLARITIES.find((polarity) => polarity !== expected && fits(polarity)) ?? null
  if (instead)
    return { holds: false, instead, wrong, words: `this is polarity ${instead}, the record says ${expected}` }
  const swapped = wrong.find(({ at, expected: should }) =>
    wrong.some((other) => other.expected === at && other.at === should),
  )
  return {
    holds: false,
    instead,
    wrong,
    words: swapped
      ? `channels ${swapped.channel} and ${wrong.find((other) => other.expected === swapped.at)!.channel} are swapped`
      : `${channels(wrong)} come${wrong.length === 1 ? 's' : ''} out elsewhere than polarity ${expected} has it`,
  }
}

function channels(some: readonly { channel: number }[]): string {
  return `channel${some.length === 1 ? '' : 's'} ${some.map(({ channel }) => channel).join(', ')}`
}
