import { CompareError, TraceFileError } from '@cold-thread/core/trace'
import { expose } from 'comlink'
import { locateView } from './locateView.ts'
import type { LocateRequest, LocateView } from './view.ts'

/** Failures cross the worker's border as data: a class would lose its name. */
export type Outcome = { view: LocateView } | { problem: string }

const core = {
  locate(request: LocateRequest): Outcome {
    try {
      return { view: locateView(request) }
    } catch (error) {
      const expected = error instanceof TraceFileError || error instanceof CompareError || error instanceof RangeError
      if (expected) return { problem: error.message }
      throw error
    }
  },
}

export type CoreWorker = typeof core

expose(core)
