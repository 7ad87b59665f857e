import { buildThread } from '../../plant/thread.ts'
import type { PlantBundle } from '../../plant/types.ts'
import { seededRandom, type Random } from '../../math/random.ts'

/** Level of the simulated source once it is warm, dBm; above it by so much when it was switched on, falling with so many minutes. */
export const SOURCE = { level: -10, cold: 0.28, minutes: 4 }
/** Scatter of a reading and the display's last digit, dB. */
export const SCATTER = 0.004
const DIGIT = 0.01
/** Cords that were just plugged swing by so much at first, dB, and come to rest in so many seconds. */
export const HANDLING = { swing: 0.3, seconds: 0.8 }
/** A cord that hangs over an edge: it swings on, dB. */
const HANGING = 0.2
/** Typical losses: fiber dB/km at 1310 and from 1490 nm on, a splice, a mated pair, dB; a stand-in's, of no real plant. */
const FIBER = { short: 0.34, long: 0.2, multimode850: 2.6, multimode1300: 0.8 }
const SPLICE = 0.05
const PAIR = 0.22

/**
 * Simulated source and meter: a source that warms up, a meter that scatters, cords that swing when they are touched. It knows
 * nothing of how its readings are judged.
 */
export class LossSet {
  readonly #random: Random
  #seconds = 0
  #loss = 0
  #handling = 0
  /** A cord hangs over an edge. */
  hanging = false

  constructor(seed: number) {
    this.#random = seededRandom(seed)
  }

  /** Cords were plugged anew, through so much loss, dB. */
  plug(loss: number): void {
    this.#loss = loss
    this.#handling = HANDLING.swing
  }

  /** What the meter shows so many seconds after it showed something before, dBm. */
  next(seconds: number): number {
    this.#seconds += seconds
    this.#handling *= Math.exp(-seconds / HANDLING.seconds)
    const warm = SOURCE.cold * Math.exp(-this.#seconds / (60 * SOURCE.minutes))
    const swing = Math.max(this.#handling, this.hanging ? HANGING : 0)
    const level = SOURCE.level + warm - this.#loss - swing * this.#random.uniform() + SCATTER * this.#random.normal()
    return Math.round(level / DIGIT) * DIGIT
  }
}

/** Loss of a link between its panels as the simulated plant has it, dB: both end connections are in it. */
export function standInLoss(plant: PlantBundle, linkId: string, wavelength: number, seed: number): number {
  const thread = buildThread(plant, linkId)
  const random = seededRandom(seed)
  const about = (figure: number) => figure * (0.7 + 0.6 * random.uniform())
  const fiber = thread.pieces.reduce((sum, { cable, fiberFrom, fiberTo }) => {
    const multimode = /^OM/i.test(thread.cables.get(cable)!.fiberType)
    const each = multimode
      ? wavelength < 1000
        ? FIBER.multimode850
        : FIBER.multimode1300
      : wavelength < 1400
        ? FIBER.short
        : FIBER.long
    return sum + (each * Math.abs(fiberTo - fiberFrom)) / 1000
  }, 0)
  const joints = thread.nodes.reduce((sum, { joint }) => {
    if (joint === 'connector') return sum + about(PAIR)
    return joint === 'through' ? sum : sum + about(SPLICE)
  }, 0)
  return fiber + joints
}
