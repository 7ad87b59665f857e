import { steadiness } from '../power.ts'

/** What a tester sent of one channel. */
export interface TrunkSample {
  /** From 1. */
  channel: number
  /** Where its light came out; 0: nowhere; null where the tester does not look. */
  at: number | null
  /** Loss in dB, or level in dBm; null: no light. */
  value: number | null
  returnLoss: number | null
}

/** As many samples without light make a channel dark (judgement: as many as make one steady). */
const DARK = 5

/**
 * Whether all channels of a stream have come to rest, each by its own last samples.
 * @returns how many have; the rows in the channels' order once all have; else why the first that has not is not taken
 */
export function gatherTrunk(
  samples: readonly TrunkSample[],
  count: number,
): { atRest: number; rows: TrunkSample[] | null; reason: string | null } {
  const found = Array.from({ length: count }, (_, i) => restOf(samples.filter(({ channel }) => channel === i + 1)))
  const rows = found.flatMap(({ row }) => row ?? [])
  const moving = found.findIndex(({ row }) => row === null)
  return {
    atRest: rows.length,
    rows: rows.length === count ? rows : null,
    reason: moving < 0 ? null : `channel ${moving + 1}, ${found[moving]!.reason}`,
  }
}

function restOf(samples: readonly TrunkSample[]): { row: TrunkSample | null; reason: string } {
  const last = samples.at(-1)
  if (!last) return { row: null, reason: 'not read yet' }
  const dark = samples.slice(-DARK)
  if (dark.length === DARK && dark.every(({ value }) => value === null)) return { row: last, reason: '' }
  const values = samples.flatMap(({ value }) => value ?? [])
  const rest = steadiness(values)
  if (last.value !== null && rest?.steady)
    return { row: { ...last, value: Math.round(100 * rest.value) / 100 }, reason: '' }
  return { row: null, reason: rest?.reason ?? 'no light yet' }
}
