import type { Direction, PlantBundle } from '@cold-thread/core/plant'
import type { Evidence, Fault, GhostFound, GroundMap, LocateWarning, TwoWayEvent } from '@cold-thread/core/locate'
import type { TraceEvent } from '@cold-thread/core/trace'

/** A stored trace as it goes to the worker. */
export interface TraceInput {
  id: string
  name: string
  direction: Direction
  launch: number | null
  receive: number | null
  bytes: ArrayBuffer
}

export interface LocateRequest {
  plant: PlantBundle
  linkId: string
  baseline: TraceInput[]
  present: TraceInput[]
  evidence: Evidence[]
}

/** Minimum and maximum of a series at falling resolution: level k holds runs of 2^k points. */
export interface Pyramid {
  low: Float32Array[]
  high: Float32Array[]
}

/** A series on the ground ruler, ready for drawing. */
export interface Curve {
  /** Point i lies at first + i·spacing on the trace's scale, m. */
  first: number
  spacing: number
  map: GroundMap
  pyramid: Pyramid
}

export interface TraceCurve extends Curve {
  id: string
  role: 'baseline' | 'present'
  direction: Direction
  wavelength: number
  simulated?: boolean
  events: (TraceEvent & { ground: number; twoWay?: TwoWayEvent })[]
}

export interface DifferenceCurve extends Curve {
  direction: Direction
  wavelength: number
  /** Smallest added loss that would have been seen, dB, by stretch of ground. */
  limits: { from: number; to: number; loss: number }[]
}

export interface ThreadNodeView {
  id: string
  name: string
  nodeKind: 'panel' | 'closure' | 'handhole' | 'pole'
  joint: string
  ground: number
  chainage: number
  /** m of coiled sheath on this link at the node */
  slack: number
}

/** Where one fault may be, for drawing: probability at nodes, and per metre of ground between them. */
export interface Suspicion {
  nodes: { node: string; ground: number; probability: number }[]
  runs: { from: number; to: number; perMetre: number }[]
  /** The largest `perMetre`. */
  most: number
}

export type FaultView = Omit<Fault, 'posterior'> & { ground: number; suspicion: Suspicion }

/** Corners of a link's laid-out lengths: between two of them all three run straight. In a coil the ground stands still. */
export interface RulerCorners {
  ground: number[]
  sheath: number[]
  /** m of fiber from the near end, as an OTDR there would read it. */
  optical: number[]
}

/** What the Locate stage draws and says. */
export interface LocateView {
  groundLength: number
  rulers: RulerCorners
  /** Chainage of the ruler's 0 and its direction along the route. */
  chainageAtZero: number
  chainageSign: 1 | -1
  nodes: ThreadNodeView[]
  spans: { from: number; to: number; environment: string; cable: string }[]
  landmarks: { name: string; ground: number }[]
  traces: TraceCurve[]
  differences: DifferenceCurve[]
  faults: FaultView[]
  ghosts: GhostFound[]
  /** End-to-end loss of the link in its baselines by wavelength in nm, dB with standard uncertainty. */
  measured: Record<string, { loss: number; sigma: number }>
  warnings: LocateWarning[]
  milliseconds: number
}
