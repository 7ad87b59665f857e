import { proxy, type Remote } from 'comlink'
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from 'react'
import type { Planner, PlanOutcome } from './planner.ts'
import { workers, type StartedPlanner } from './workers.ts'

/** A computation in a worker of its own, so that it can be cancelled while it is busy. */
export type Computed<T> =
  | { status: 'working'; last: T | null }
  | { status: 'ready'; value: T; last: T }
  | { status: 'failed'; problem: string; last: T | null }
  | { status: 'cancelled'; last: T | null }

/** How far a computation is, 0 … 1: told to what shows it alone, for it changes many times a second. */
export class Progress {
  #part = 0
  readonly #listeners = new Set<() => void>()

  tell(part: number): void {
    this.#part = part
    for (const listener of this.#listeners) listener()
  }

  readonly part = (): number => this.#part

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }
}

export function useProgress(progress: Progress): number {
  return useSyncExternalStore(progress.subscribe, progress.part)
}

/** A computation with its progress and the way to end it. */
export type Running<T> = Computed<T> & { progress: Progress; cancel(): void }

/**
 * Computes whenever the key changes; an older computation still running is ended. The last value stays at hand.
 * @param key stands for everything that `run` uses; null computes nothing
 */
export function usePlanner<T>(
  key: string | null,
  run: (planner: Remote<Planner>, onProgress: (part: number) => void) => Promise<PlanOutcome<T>>,
): Running<T> {
  const [outcome, setOutcome] = useState<{ key: string | null; state: Computed<T> }>({
    key: null,
    state: { status: 'working', last: null },
  })
  const [progress] = useState(() => new Progress())
  const running = useRef<StartedPlanner | null>(null)
  const latest = useRef(run)
  const last = useRef<T | null>(null)
  useEffect(() => {
    latest.current = run
  })
  const cancel = useCallback(() => {
    running.current?.terminate()
    running.current = null
    setOutcome((before) => ({ key: before.key, state: { status: 'cancelled', last: last.current } }))
  }, [])

  useEffect(() => {
    if (key === null) return
    const started = workers.startPlanner()
    running.current = started
    let current = true
    let finished = false
    const settle = (state: Computed<T>) => {
      if (current) setOutcome({ key, state })
    }
    settle({ status: 'working', last: last.current })
    progress.tell(0)
    latest
      .current(
        started.planner,
        // Progress goes another way than the result and may come in after it.
        proxy((part: number) => {
          if (current && !finished) progress.tell(part)
        }),
      )
      .then(
        (result) => {
          finished = true
          if (!current) return
          if ('problem' in result) return settle({ status: 'failed', problem: result.problem, last: last.current })
          last.current = result.value
          settle({ status: 'ready', value: result.value, last: result.value })
        },
        (error: unknown) => {
          finished = true
          settle({
            status: 'failed',
            problem: error instanceof Error ? error.message : String(error),
            last: last.current,
          })
        },
      )
      .finally(() => started.terminate())
    return () => {
      current = false
      started.terminate()
    }
  }, [key, progress])

  const state: Computed<T> = outcome.key === key ? outcome.state : { status: 'working', last: outcome.state.last }
  return { ...state, progress, cancel }
}
