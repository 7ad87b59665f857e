export type ChangeKind = 'new' | 'grown' | 'shrunk' | 'gone' | 'moved' | 'break' | 'attenuation'

/** A difference between two traces of one fiber. Distances on the baseline's scale; positive deltas are worse. */
export interface Change {
  distance: number
  distanceSigma: number
  kind: ChangeKind
  lossBefore: number | null
  lossAfter: number | null
  lossDelta: number | null
  lossDeltaSigma: number | null
  reflectanceBefore: number | null
  reflectanceAfter: number | null
  /** m over which an added loss is spread beyond the pulse; 0 for a point. */
  extent: number
  /** Part of `distanceSigma` that other traces from this end share: hidden by the same event, m. */
  sharedSigma?: number
  /** How far an event moved, m; only of one that did. */
  movedBy?: number
}
