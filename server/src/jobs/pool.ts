import { CodedError } from '@cold-thread/core/errors'
import { CompareError, TraceFileError } from '@cold-thread/core/trace'
import { Piscina } from 'piscina'
import type { TaskName, Tasks } from './tasks.ts'
import type { JobFailure } from './worker.ts'

/** Runs heavy computing off the event loop, on at most two threads. */
export interface JobPool {
  run<Name extends TaskName>(name: Name, input: Parameters<Tasks[Name]>[0]): Promise<Awaited<ReturnType<Tasks[Name]>>>
  close(): Promise<void>
}

/** @param worker bundled code of a thread: the build puts it beside the server's */
export function createJobPool(worker: string = new URL('./worker.js', import.meta.url).href): JobPool {
  const pool = new Piscina({
    filename: worker,
    minThreads: 1,
    maxThreads: 2,
    idleTimeout: 60_000,
    // Small young heaps are collected sooner: two threads that judge a whole cable stay within the memory told in the docs.
    resourceLimits: { maxYoungGenerationSizeMb: 8, maxOldGenerationSizeMb: 512 },
  })
  return {
    async run(name, input) {
      const outcome = (await pool.run({ name, input })) as { value: never } | JobFailure
      if ('failure' in outcome) throw revive(outcome.failure)
      return outcome.value
    },
    close: () => pool.close({ force: true }),
  }
}

function revive(failure: JobFailure['failure']): Error {
  switch (failure.kind) {
    case 'trace':
      return new TraceFileError(failure.code, failure.message, failure.block, failure.byte)
    case 'compare':
      return new CompareError(failure.code, failure.message)
    case 'coded':
      return new CodedError(failure.code, failure.message, failure.place)
  }
}
