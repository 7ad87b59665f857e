import type { Change, Comparison } from '../trace/compare/compare.ts'

/** What `compare` prints. */
export interface CompareDocument {
  alignment: { offset: number; offsetSigma: number }
  changes: Omit<Change, 'extent' | 'movedBy' | 'sharedSigma'>[]
  detectionLimit: { from: number; to: number; loss: number }[]
  unchanged: number
  verdict: 'same' | 'changed' | 'broken'
}

export function compareDocument(comparison: Comparison): CompareDocument {
  const { alignment, changes, detectionLimit, unchanged, verdict } = comparison
  return {
    alignment: { offset: alignment.offset, offsetSigma: alignment.offsetSigma },
    changes: changes.map(({ extent: _extent, movedBy: _movedBy, sharedSigma: _shared, ...change }) => change),
    detectionLimit,
    unchanged,
    verdict,
  }
}
