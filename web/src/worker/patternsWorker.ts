import { wrap, type Remote } from 'comlink'
import type { PatternsWorker } from './patterns.worker.ts'

let worker: Remote<PatternsWorker> | null = null

/** The worker in which patterns of a splicing session are looked for. */
export function patternsWorker(): Remote<PatternsWorker> {
  worker ??= wrap<PatternsWorker>(new Worker(new URL('./patterns.worker.ts', import.meta.url), { type: 'module' }))
  return worker
}
