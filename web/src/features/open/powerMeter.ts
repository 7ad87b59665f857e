import { ClampPower } from '@cold-thread/core/sim'

/** A meter that shows received power while somebody works: what a driver of a real one has to offer. */
export interface PowerMeter {
  /** Readings a second. */
  readonly rate: number
  /** Calls back with each reading, dBm, until the function that it returns is called. */
  listen(onReading: (level: number) => void): () => void
}

/** The stand-in: a simulated fiber in a simulated clamp, whose screw is turned on the screen. */
export class StandInMeter implements PowerMeter {
  readonly rate = 4
  tightness: number
  readonly #clamp: ClampPower

  constructor(seed: number, tightness: number) {
    this.#clamp = new ClampPower(seed, -18.2)
    this.tightness = tightness
  }

  listen(onReading: (level: number) => void): () => void {
    const timer = setInterval(() => onReading(this.#clamp.next(this.tightness, 1 / this.rate)), 1000 / this.rate)
    return () => clearInterval(timer)
  }
}
