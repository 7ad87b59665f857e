import { seededRandom, type Random } from '../../math/random.ts'

/** What the stand-in's meter adds: scatter of one reading, dB, and its display's last digit. */
const SCATTER = 0.012
const DIGIT = 0.01
/** The gel gives way slowly, s. */
const CREEP = 1.5

/**
 * Simulated received power of a fiber in a clamp that is being tightened: pressed beyond what the sheath carries, fibers
 * are bent in small and lose light, more so the harder; the gel follows the screw with a delay and gives way when it is
 * released. A stand-in, with no claim to any real clamp's figures.
 */
export class ClampPower {
  readonly #random: Random
  readonly #level: number
  #pressed = 0
  #wander = 0

  /** @param level dBm without the clamp */
  constructor(seed: number, level: number) {
    this.#random = seededRandom(seed)
    this.#level = level
  }

  /**
   * The next reading, dBm.
   * @param tightness of the screw: 0 open, 1 as tight as it should be, 2 far too tight
   * @param seconds since the last reading
   */
  next(tightness: number, seconds: number): number {
    this.#pressed += (tightness - this.#pressed) * (1 - Math.exp(-seconds / CREEP))
    this.#wander += 0.001 * Math.sqrt(seconds) * this.#random.normal()
    const bent = Math.max(0, this.#pressed - 1.05)
    const level = this.#level + this.#wander - 1.1 * bent ** 1.4 + SCATTER * this.#random.normal()
    return Math.round(level / DIGIT) * DIGIT
  }
}
