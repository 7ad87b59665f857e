import type { Change, Comparison } from '../trace/compare.ts'

/** What `compare` prints. */
export interface CompareDocument {
  alignment: { offset: number; offsetSigma: number }
  changes: Omit<Change, 'extent' | 'movedBy'>[]
  detectionLimit: { from: number; to: number; loss: number }[]
  unchanged: number
  verdict: 'same' | 'changed' | 'broken'
}

export function compareDocument(comparison: Comparison): CompareDocument {
  const { alignment, changes, detectionLimit, unchanged, verdict } = comparison
  return {
    alignment: { offset: alignment.offset, offsetSigma: alignment.offsetSigma },
    changes: changes.map(({ extent: _extent, movedBy: _movedBy, ...change }) => change),
    detectionLimit,
    unchanged,
    verdict,
  }
}
