import type { Cause, SessionPatterns } from './patterns/sessionPatterns.ts'

/** What `advise` prints after each splice of a session. */
export interface AdviceDocument {
  /** So many splices were made. */
  after: number
  /** Null while nothing stands out, or what does can't be named. */
  advice: {
    causes: readonly Cause[]
    /** Splice from which it is so, counted from 1. */
    since: number
    because: string[]
  } | null
}

export function adviceDocument(after: number, { pattern }: SessionPatterns): AdviceDocument {
  return {
    after,
    advice: pattern && { causes: pattern.causes, since: pattern.since + 1, because: pattern.evidence },
  }
}
