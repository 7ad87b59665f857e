import { HANDLING, SCATTER, SOURCE } from './lossSet.ts'
import { seededRandom, type Random } from '../../math/random.ts'

export const TRUNK_FAULTS = ['none', 'one channel dark', 'one channel dirty', 'two channels swapped'] as const
export type TrunkFault = (typeof TRUNK_FAULTS)[number]

/**
 * A simulated tester of multi-fiber trunks.
 * @param map where each channel comes out by the trunk's polarity, counted from 1
 * @returns per channel: where it came out (0: nowhere), loss and return loss, dB
 */
export function readTrunkStandIn(
  map: readonly number[],
  fault: TrunkFault,
  seed: number,
): { at: number; loss: number | null; returnLoss: number | null }[] {
  const random = seededRandom(seed)
  const one = Math.floor(random.uniform() * map.length)
  const other = (one + 1 + Math.floor(random.uniform() * (map.length - 2))) % map.length
  return map.map((at, k) => {
    const loss = Math.round((0.25 + 0.3 * random.uniform()) * 100) / 100
    const returnLoss = Math.round((38 + 12 * random.uniform()) * 10) / 10
    if (fault === 'one channel dark' && k === one) return { at: 0, loss: null, returnLoss: null }
    if (fault === 'one channel dirty' && k === one) return { at, loss: loss + 2.1, returnLoss: 18.4 }
    if (fault === 'two channels swapped' && (k === one || k === other))
      return { at: map[k === one ? other : one]!, loss, returnLoss }
    return { at, loss, returnLoss }
  })
}

export const TRUNK_CORD_FAULTS = ['none', 'one pin dirty'] as const
export type TrunkCordFault = (typeof TRUNK_CORD_FAULTS)[number]

/**
 * The same tester with its reference cord alone.
 * @returns per channel: level, dBm, and the cord's own return loss, dB
 */
export function readTrunkCordStandIn(
  count: number,
  fault: TrunkCordFault,
  seed: number,
): { level: number; returnLoss: number }[] {
  const random = seededRandom(seed)
  const dirty = fault === 'none' ? -1 : Math.floor(random.uniform() * count)
  return Array.from({ length: count }, (_, k) => ({
    level: Math.round(100 * (SOURCE.level - 2 - 0.15 * random.uniform() - (k === dirty ? 1.3 : 0))) / 100,
    returnLoss: Math.round(10 * (k === dirty ? 27 + random.uniform() : 52 + 6 * random.uniform())) / 10,
  }))
}

/** What the tester sees on one channel: loss in dB, or level in dBm; null where no light comes. */
export interface TrunkSight {
  /** Where its light came out, counted from 1; 0: nowhere; null where the tester does not look. */
  at: number | null
  value: number | null
  returnLoss: number | null
}

/** The tester switched on: it goes through its channels again and again, scatters, and swings while cords come to rest. */
export class TrunkStream {
  readonly #channels: readonly TrunkSight[]
  readonly #random: Random
  #next = 0
  #handling = HANDLING.swing

  constructor(channels: readonly TrunkSight[], seed: number) {
    this.#channels = channels
    this.#random = seededRandom(seed)
  }

  /** What it sends so many seconds after it sent something before; channels are counted from 1. */
  next(seconds: number): TrunkSight & { channel: number } {
    this.#handling *= Math.exp(-seconds / HANDLING.seconds)
    const channel = (this.#next++ % this.#channels.length) + 1
    const { at, value, returnLoss } = this.#channels[channel - 1]!
    if (value === null) return { channel, at, value, returnLoss }
    const off = this.#handling * this.#random.uniform() + SCATTER * this.#random.normal()
    return { channel, at, value: Math.round(100 * (value + off)) / 100, returnLoss }
  }
}
