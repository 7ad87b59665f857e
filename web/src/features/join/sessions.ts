import {
  fibersOf,
  queueOf,
  sessionState,
  spliceQueue,
  watchedAttempt,
  type JoinPlace,
  type JoinSession,
  type Queue,
  type SessionState,
  type WatchedAttempt,
} from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'

/** Where a session's joints are. */
export function placeOf({
  node,
  chainage,
  cable,
  fibers,
}: Pick<JoinSession, 'node' | 'chainage' | 'cable' | 'fibers'>): JoinPlace {
  return node === null ? { chainage, cable, fibers } : { node }
}

/** A session with its queue and what the arc asks for. */
export interface OpenSession {
  session: JoinSession
  state: SessionState
  queue: Queue
  /** Attempts since something was done about the tools, as patterns are looked for. */
  watched: WatchedAttempt[]
}

export function openSession(plant: PlantBundle, session: JoinSession): OpenSession {
  const queue = queueOf(spliceQueue(plant, placeOf(session), session.setup.ribbon), session.queue)
  const byId = new Map(queue.splices.map(({ splice }) => [splice.id, splice]))
  const watched = session.attempts.slice(session.since).map(({ attempt }) => {
    const pair = byId.get(attempt.splice ?? '')?.pairs[0]
    return watchedAttempt(attempt, pair ? fibersOf(plant, pair.a, pair.b).modeFields : null, session.id)
  })
  return { session, state: sessionState(session.setup, session.events), queue, watched }
}
