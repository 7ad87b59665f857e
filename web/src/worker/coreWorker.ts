import { wrap, type Remote } from 'comlink'
import type { CoreWorker } from './core.worker.ts'

let worker: Remote<CoreWorker> | null = null

/** The one worker in which this page's heavy computing runs. */
export function coreWorker(): Remote<CoreWorker> {
  worker ??= wrap<CoreWorker>(new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' }))
  return worker
}
