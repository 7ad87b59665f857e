import { sessionsOf, watchedAttempt, type WatchedAttempt } from '@cold-thread/core/join'
import { listObservations } from './observations.ts'
import { calloutsWith } from './runSheets.ts'

/** So many of a splicer's last splices say what is usual for it. */
const MOST = 200
/** A session of which fewer splices were accepted says what went wrong, not what is usual (judgement). */
const HEALTHY = 0.75

/**
 * What a splicer's earlier sessions showed, oldest first; sessions under way and those that went badly left out. Cleave
 * angles are the cleaver's: those of another one are left out.
 */
export async function usualOfSplicer(item: string, cleaver: string | null): Promise<WatchedAttempt[]> {
  const out: WatchedAttempt[] = []
  for (const calloutId of await calloutsWith('splice-session'))
    for (const { id, setup, ended, attempts } of sessionsOf(await listObservations(calloutId)).reverse()) {
      if (setup.splicer !== item || !ended || attempts.length === 0) continue
      const accepted = attempts.filter(({ attempt }) => attempt.outcome === 'accepted').length
      if (accepted < HEALTHY * attempts.length) continue
      const ofCleaver = setup.cleaver === cleaver
      for (const { attempt } of attempts) {
        const watched = watchedAttempt(attempt, null, id)
        out.push(ofCleaver ? watched : withoutAngles(watched))
      }
    }
  return out.slice(-MOST)
}

function withoutAngles({ ribbon, ...rest }: WatchedAttempt): WatchedAttempt {
  const none = { cleaveLeft: null, cleaveRight: null }
  return { ...rest, ...none, ...(ribbon && { ribbon: ribbon.map((one) => ({ ...one, ...none })) }) }
}
