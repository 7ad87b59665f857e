import type { FileFacts } from '@cold-thread/core/survey'
import { traceFacts, type TraceFacts } from '@cold-thread/core/report'
import { CodedError } from '@cold-thread/core/errors'
import { analyzeTrace, decodeTrace, type TraceWarning } from '@cold-thread/core/trace'
import { expose } from 'comlink'
import { locateView } from './locateView.ts'
import type { LocateRequest, LocateView } from './view.ts'

/** Failures cross the worker's border as data: a class would lose its name. */
export type Outcome = { view: LocateView } | { problem: string }

/** What a file says of itself, or why it can't be read. */
export type Identified = { facts: FileFacts } | { problem: string }

export type Inspected = { facts: TraceFacts; warnings: TraceWarning[] } | { problem: string }

const core = {
  identify(fileName: string, bytes: ArrayBuffer): Identified {
    try {
      const { fiberId, locationA, locationB, wavelength } = decodeTrace(new Uint8Array(bytes))
      return { facts: { fileName, fiberId, locationA, locationB, wavelength } }
    } catch (error) {
      if (error instanceof CodedError) return { problem: error.message }
      throw error
    }
  },

  /** Facts of a trace file as the server would tell them, or why it can't be read. */
  inspect(bytes: ArrayBuffer): Inspected {
    try {
      const trace = decodeTrace(new Uint8Array(bytes))
      return { facts: traceFacts(trace), warnings: analyzeTrace(trace).warnings }
    } catch (error) {
      if (error instanceof CodedError) return { problem: error.message }
      throw error
    }
  },

  locate(request: LocateRequest): Outcome {
    try {
      return { view: locateView(request) }
    } catch (error) {
      if (error instanceof CodedError) return { problem: error.message }
      throw error
    }
  },
}

export type CoreWorker = typeof core

expose(core)
