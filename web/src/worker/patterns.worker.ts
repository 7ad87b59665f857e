import { sessionPatterns, type SessionCare, type SessionPatterns, type WatchedAttempt } from '@cold-thread/core/join'
import { expose } from 'comlink'

// What is usual is worked out once for each reference: one that comes again must be the same object.
let last: { key: string; reference: readonly WatchedAttempt[] } | null = null

const worker = {
  patterns(
    watched: readonly WatchedAttempt[],
    reference: readonly WatchedAttempt[],
    care: SessionCare,
  ): SessionPatterns {
    const key = JSON.stringify(reference)
    if (last?.key !== key) last = { key, reference }
    return sessionPatterns(watched, last.reference, care)
  },
}

export type PatternsWorker = typeof worker

expose(worker)
