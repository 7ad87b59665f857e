import { wrap, type Remote } from 'comlink'
import type { CoreWorker } from './core.worker.ts'
import type { EndFaceWorker } from './endFace.worker.ts'
import type { PatternsWorker } from './patterns.worker.ts'
import type { Planner } from './planner.ts'

/** A planner in a worker of its own, which ends with what it computes. */
export interface StartedPlanner {
  planner: Remote<Planner>
  terminate(): void
}

/** Each is started when it is first needed and stays as long as the page, but for planners. */
function once<T>(start: () => Worker): () => Remote<T> {
  let started: Remote<T> | null = null
  return () => (started ??= wrap<T>(start()))
}

/** Where this page's heavy computing runs. One object, so that tests can put stand-ins in the place of its members. */
export const workers = {
  /** Traces, and where a fault is. */
  core: once<CoreWorker>(() => new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' })),
  /** Pictures of end faces. */
  endFace: once<EndFaceWorker>(() => new Worker(new URL('./endFace.worker.ts', import.meta.url), { type: 'module' })),
  /** Patterns of a splicing session. */
  patterns: once<PatternsWorker>(
    () => new Worker(new URL('./patterns.worker.ts', import.meta.url), { type: 'module' }),
  ),
  startPlanner(): StartedPlanner {
    const worker = new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' })
    return { planner: wrap<Planner>(worker), terminate: () => worker.terminate() }
  },
}
