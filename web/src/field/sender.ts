import { liveQuery } from 'dexie'
import { counted, signInMissed, unanswered, versionDiffers } from './fieldState.ts'
import type { FieldStore, OutboxEntry } from './fieldStore.ts'
import { backOff, drain, type Drained, type Send } from './outbox.ts'

type Dispatch = (action: { type: string; payload?: unknown }) => unknown

const LOCK = 'cold-thread outbox'

/** Sends what waits, alone among the tabs of this device, as long as the page lives. */
export class Sender {
  readonly #store: FieldStore
  readonly #send: Send
  #accountId: string | null = null
  #dispatch: Dispatch = () => undefined
  #onAnswered: (callouts: ReadonlySet<string>) => void = () => undefined
  #running: Promise<Drained | null> = Promise.resolve(null)
  #timer: ReturnType<typeof setTimeout> | undefined
  #vain = 0

  constructor(store: FieldStore, send: Send = (request) => fetch(request)) {
    this.#store = store
    this.#send = send
  }

  /**
   * Begins to watch and to send; ended by what it returns.
   * @param onAnswered told that the server took or refused something, with the callouts whose entries arrived
   */
  start(dispatch: Dispatch, onAnswered: (callouts: ReadonlySet<string>) => void): () => void {
    this.#dispatch = dispatch
    this.#onAnswered = onAnswered
    const count = (state: OutboxEntry['state']) => this.#store.outbox.where('state').equals(state).count()
    const counts = liveQuery(() => Promise.all([count('waits'), count('refused')])).subscribe({
      next: ([waiting, refused]) => dispatch(counted({ waiting, refused })),
      error: () => undefined,
    })
    const wake = () => void this.flush()
    const visible = () => document.visibilityState === 'visible' && wake()
    addEventListener('online', wake)
    document.addEventListener('visibilitychange', visible)
    wake()
    return () => {
      counts.unsubscribe()
      removeEventListener('online', wake)
      document.removeEventListener('visibilitychange', visible)
      clearTimeout(this.#timer)
    }
  }

  /** Whoever is signed in; null keeps everything where it is. */
  set account(accountId: string | null) {
    if (accountId === this.#accountId) return
    this.#accountId = accountId
    if (accountId !== null) void this.flush()
  }

  get account(): string | null {
    return this.#accountId
  }

  /** Sends now, after what is being sent; what came of it, null when another tab sends or nobody is signed in. */
  flush(): Promise<Drained | null> {
    this.#running = this.#running.then(() => this.#once()).catch(() => null)
    return this.#running
  }

  async #once(): Promise<Drained | null> {
    clearTimeout(this.#timer)
    const accountId = this.#accountId
    if (accountId === null) return null
    const work = () => drain(this.#store, accountId, this.#send)
    const drained = await (navigator.locks?.request(LOCK, work) ?? work())
    // A refusal is an answer too: what is shown as read before is read anew.
    const answers = [...drained.outcomes.values()].filter(({ outcome }) => outcome === 'sent' || outcome === 'refused')
    if (answers.length > 0) this.#onAnswered(drained.arrived)
    if (drained.stopped === 'signed-out') this.#dispatch(signInMissed())
    if (drained.stopped === 'other-version') this.#dispatch(versionDiffers())
    if (drained.stopped === 'later') {
      this.#dispatch(unanswered(null))
      this.#timer = setTimeout(() => void this.flush(), 1000 * backOff(this.#vain++))
    } else this.#vain = 0
    return drained
  }
}
