import type { LoggedEntry } from '../log/standing.ts'
import type { Direction } from '../plant/types.ts'
import { lossFromPowers } from '../units/index.ts'

/** Loss of a whole link by traces of both times, dB. */
export interface WholeLoss {
  before: number | null
  after: number | null
  afterSigma: number | null
}

/** What the receiver of a link saw before the fault and after the repair, dBm at the equipment's wavelength in nm. */
export interface ReceivedPower {
  link: string
  /** The way of the light. */
  way: Direction
  wavelength: number
  before: number
  after: number
}

/** Received powers of a log: of each link, way and wavelength the last ones. */
export function receivedPowersOf(log: readonly LoggedEntry[]): ReceivedPower[] {
  const powers = new Map<string, ReceivedPower>()
  for (const { superseded, entry } of log) {
    if (superseded || entry.kind !== 'received-power') continue
    const { power } = entry as { kind: string; power: ReceivedPower }
    powers.set(`${power.link} ${power.way} ${power.wavelength}`, power)
  }
  return [...powers.values()]
}

/** Standard uncertainty of one received power, dB: equipment tells it to ± 1 dB or so (judgement). */
const RECEIVER = 0.5

/**
 * Whether what the receiver sees agrees with the change in loss: the same light came through before and after.
 * @param change loss after less loss before, with its standard uncertainty, dB
 */
export function receivedAgrees(
  { before, after }: Pick<ReceivedPower, 'before' | 'after'>,
  change: { loss: number; sigma: number },
): { agrees: boolean; words: string } {
  const seen = lossFromPowers(before, after)
  const off = Math.abs(seen - change.loss)
  const spread = 2 * Math.hypot(RECEIVER * Math.SQRT2, change.sigma)
  const words = `received ${before.toFixed(1)} dBm before, ${after.toFixed(1)} dBm after: ${seen.toFixed(1)} dB less, by the traces ${change.loss.toFixed(2)} dB`
  return off <= spread
    ? { agrees: true, words: `${words}: they agree within ± ${spread.toFixed(1)} dB` }
    : { agrees: false, words: `${words}: they differ by ${off.toFixed(1)} dB, more than ± ${spread.toFixed(1)} dB` }
}

/** The change of the total at the wavelength nearest to one, dB; null where none was measured before and after. */
export function changeNear(
  total: Readonly<Record<string, WholeLoss>>,
  wavelength: number,
): { loss: number; sigma: number } | null {
  const known = Object.entries(total)
    .filter(([, { before, after }]) => before !== null && after !== null)
    .sort(([a], [b]) => Math.abs(Number(a) - wavelength) - Math.abs(Number(b) - wavelength))[0]
  if (!known) return null
  const { before, after, afterSigma } = known[1]
  // The baseline was read by the same means, and is as uncertain.
  return { loss: after! - before!, sigma: Math.SQRT2 * (afterSigma ?? 0) }
}
