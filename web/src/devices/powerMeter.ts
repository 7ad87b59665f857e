import { ClampPower, LossSet } from '@cold-thread/core/sim'

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

/** What may be wrong with the stand-in of source and meter, for practice. */
export const LOSS_SET_FAULTS = ['in order', 'a cord hangs over an edge', 'silent', 'nonsense'] as const
export type LossSetFault = (typeof LOSS_SET_FAULTS)[number]

/** The stand-in of source and meter: what is between them is plugged on the screen. */
export class StandInLossSet implements PowerMeter {
  readonly rate = 4
  fault: LossSetFault = 'in order'
  readonly #set: LossSet

  constructor(seed: number) {
    this.#set = new LossSet(seed)
  }

  /** @param loss between source and meter, dB */
  plug(loss: number): void {
    this.#set.plug(loss)
  }

  listen(onReading: (level: number) => void): () => void {
    const timer = setInterval(() => {
      if (this.fault === 'silent') return
      this.#set.hanging = this.fault === 'a cord hangs over an edge'
      const level = this.#set.next(1 / this.rate)
      onReading(this.fault === 'nonsense' ? 4096 : level)
    }, 1000 / this.rate)
    return () => clearInterval(timer)
  }
}
