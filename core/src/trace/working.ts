import type { TraceNoise } from './noise/noise.ts'
import type { PrefixSums } from './noise/prefixSums.ts'
import type { Response } from './events/response.ts'

/** Sums and noise of a trace, kept so that nothing is computed twice. */
export interface Working {
  /** The trace's levels with the tails of reflections taken off, dB. */
  levels: Float64Array
  /** Running sums of the trace's levels, dB, with the bias of the logarithm taken off. */
  sums: PrefixSums
  noise: TraceNoise
  /** Length of the pulse, points. */
  pulsePoints: number
  /** How this instrument shows a sudden change. */
  response: Response
  /** Points that a step's transition takes. */
  gap: number
  /** Typical slope of the trace, dB a point, and how far one stretch may differ from it. */
  slope: number
  slopeSigma: number
  /** First and last usable point (end exclusive). */
  from: number
  to: number
  /** Transitions, as [begins, settled) in points, in the order of `events`. */
  spans: [number, number][]
}
