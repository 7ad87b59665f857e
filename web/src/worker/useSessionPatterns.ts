import type { SessionCare, SessionPatterns, WatchedAttempt } from '@cold-thread/core/join'
import { useEffect, useState } from 'react'
import { workers } from './workers.ts'

/** What a session's splices show together, computed in a worker; the last one found until a new one is, null before. */
export function useSessionPatterns(
  watched: readonly WatchedAttempt[],
  reference: readonly WatchedAttempt[],
  care: SessionCare,
): { patterns: SessionPatterns | null; error: unknown } {
  const [found, setFound] = useState<{ patterns: SessionPatterns | null; error: unknown }>(NOTHING_YET)
  const { calibrationsRefused, arcsOver, bladeOver } = care
  useEffect(() => {
    if (watched.length === 0) return
    let current = true
    workers
      .patterns()
      .patterns(watched, reference, { calibrationsRefused, arcsOver, bladeOver })
      .then(
        (patterns) => current && setFound({ patterns, error: null }),
        (error: unknown) => current && setFound({ patterns: null, error }),
      )
    return () => {
      current = false
    }
  }, [watched, reference, calibrationsRefused, arcsOver, bladeOver])
  // Nothing is watched: something was done about the tools, and what was found before is over.
  return watched.length === 0 ? NOTHING_YET : found
}

const NOTHING_YET = { patterns: null, error: null }
