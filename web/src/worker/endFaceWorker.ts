import { wrap, type Remote } from 'comlink'
import type { EndFaceWorker } from './endFace.worker.ts'

let worker: Remote<EndFaceWorker> | null = null

/** The worker in which pictures of end faces are looked at. */
export function endFaceWorker(): Remote<EndFaceWorker> {
  worker ??= wrap<EndFaceWorker>(new Worker(new URL('./endFace.worker.ts', import.meta.url), { type: 'module' }))
  return worker
}
