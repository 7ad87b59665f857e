import { vi } from 'vitest'
import { workers } from '../worker/workers.ts'

/** Puts something in the place of a worker until the test has ended: jsdom has no workers. */
export function workerStandIn(name: 'core' | 'endFace' | 'patterns', calls: object): void {
  vi.spyOn(workers, name).mockReturnValue(calls as never)
}
