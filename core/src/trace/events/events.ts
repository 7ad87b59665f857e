/** Why a figure is missing. */
export type Why = 'inside-dead-zone' | 'below-noise' | 'overlap' | 'no-two-way'

export type EventKind = 'start' | 'reflective' | 'step' | 'gain' | 'end' | 'ghost'

/** One event of a trace. Every `…Sigma` is one standard uncertainty. */
export interface TraceEvent {
  /** Where the event's edge begins, m from the instrument's port, with the trace's own group index. */
  distance: number
  distanceSigma: number
  /** m over which a loss is spread beyond what the pulse spreads; 0 for a point or where it can't be told. */
  extent: number
  kind: EventKind
  /** dB, above 0 is loss; null when it can't be measured (see `why`). */
  loss: number | null
  lossSigma: number | null
  /** dB, negative; null when there is no reflection. */
  reflectance: number | null
  reflectanceSigma: number | null
  saturated: boolean
  /** Up to here the trace runs straight, m: the rounded rise of an edge comes before its start. */
  begins: number
  /** From here on the trace runs straight again, m. */
  settled: number
  /** On a ghost, and on a joint under one: the reflections whose echo it is. */
  echoOf?: string[]
  why?: { loss?: Why; reflectance?: Why }
  /** Loss of all events that run into each other here, dB, where one of its own can't be told. */
  together?: { loss: number; sigma: number; events: number }
  bound?: { reflectance?: 'min' | 'max' }
}

/** A stretch of fiber between two events. */
export interface Section {
  from: number
  to: number
  /** dB/m */
  attenuation: number
  attenuationSigma: number
}
