import { EventEmitter } from 'node:events'

/** What changed on a callout: its pages read that anew. The end of a splicing session changes the log and the kit. */
export type LiveChange = 'log' | 'session-end' | 'traces' | 'plans' | 'callout' | 'survey' | 'sign-off' | 'attachments'

/** One change, numbered within the life of this process. */
export interface LiveEvent {
  seq: number
  calloutId: string
  change: LiveChange
}

/** So many events are remembered for those who come back after a break. */
const REMEMBERED = 1000

/** Tells who listens that a callout changed. A process has one; several server processes each tell their own. */
export class Live {
  readonly #emitter = new EventEmitter().setMaxListeners(0)
  readonly #past: LiveEvent[] = []
  /** Tells this process's numbers from those of one before it. */
  readonly epoch = String(Date.now())
  #seq = 0

  tell(calloutId: string, change: LiveChange): void {
    const event = { seq: ++this.#seq, calloutId, change }
    this.#past.push(event)
    if (this.#past.length > REMEMBERED) this.#past.shift()
    this.#emitter.emit('event', event)
  }

  /** Listens until the function that it returns is called. */
  listen(listener: (event: LiveEvent) => void): () => void {
    this.#emitter.on('event', listener)
    return () => this.#emitter.off('event', listener)
  }

  /**
   * What was missed since an id that {@link idOf} made; null when that can't be known (another process, or too long ago):
   * everything must be read anew then.
   */
  since(lastId: string): LiveEvent[] | null {
    const [epoch, seq] = lastId.split('-')
    if (epoch !== this.epoch) return null
    const first = this.#past[0]?.seq ?? this.#seq + 1
    return Number(seq) + 1 >= first ? this.#past.filter((event) => event.seq > Number(seq)) : null
  }

  idOf({ seq }: LiveEvent): string {
    return `${this.epoch}-${seq}`
  }
}
