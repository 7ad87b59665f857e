import type { TrunkSample } from '@cold-thread/core/prove'
import { TrunkStream, type TrunkSight } from '@cold-thread/core/sim'

/** A multi-fiber tester that sends what it sees, channel after channel: what a driver of a real one has to offer. */
export interface TrunkTester {
  readonly channels: number
  /** Calls back with each sample until the function that it returns is called. */
  listen(onSample: (sample: TrunkSample) => void): () => void
}

/** The stand-in: a simulated trunk, or a reference cord, between two simulated testers. */
export class StandInTrunkTester implements TrunkTester {
  /** Samples a second. */
  static readonly rate = 20
  readonly channels: number
  readonly #stream: TrunkStream

  constructor(channels: readonly TrunkSight[], seed: number) {
    this.channels = channels.length
    this.#stream = new TrunkStream(channels, seed)
  }

  listen(onSample: (sample: TrunkSample) => void): () => void {
    const every = 1 / StandInTrunkTester.rate
    const timer = setInterval(() => onSample(this.#stream.next(every)), 1000 * every)
    return () => clearInterval(timer)
  }
}
