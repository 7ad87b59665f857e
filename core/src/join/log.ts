import type { Use } from '../kit/use.ts'
import { standing, type LoggedEntry } from '../log/standing.ts'
import type { QueueEvent } from './queue.ts'
import type { Care, Conditions, SessionEvent, SessionSetup } from './session.ts'
import type { SpliceAttempt } from './judgeSplice.ts'
import type { WatchedAttempt } from './patterns/watched.ts'

interface BegunEntry {
  node: string | null
  chainage: number
  cable: string
  fibers: number[] | null
  setup: SessionSetup
}

/** An attempt as it was logged. */
export interface LoggedAttempt extends SpliceAttempt {
  node: string | null
  chainage: number
  cable: string
  fiber: number
  attempt: number
  outcome: 'accepted' | 'redo' | 'stopped'
  remark: string
  splice?: string | undefined
  offset?: number | null | undefined
}

/** A splicing session with what happened in it, in the order of the work. */
export interface JoinSession extends BegunEntry {
  id: string
  begunBy: string
  begunAt: string
  events: SessionEvent[]
  queue: QueueEvent[]
  attempts: { id: string; at: string; by: string; attempt: LoggedAttempt }[]
  /** Attempts since something was last done about the tools. */
  since: number
  ended: boolean
}

/** Sessions of a callout's log, newest first. A corrected attempt stands in the place of the one it corrects. */
export function sessionsOf(log: readonly LoggedEntry[]): JoinSession[] {
  const sessions = new Map<string, JoinSession>()
  for (const { id, by, observedAt: at, entry } of standing(log, (earlier, later) => earlier.kind === later.kind)) {
    if (entry.kind === 'splice-session') {
      const { node, chainage, cable, fibers, setup } = entry as BegunEntry & { kind: string }
      const nothing = { events: [], queue: [], attempts: [], since: 0, ended: false }
      sessions.set(id, { id, begunBy: by, begunAt: at, node, chainage, cable, fibers, setup, ...nothing })
      continue
    }
    const session = sessions.get((entry as { sessionId?: string }).sessionId ?? '')
    if (session) happened(session, { id, by, at }, entry)
  }
  return [...sessions.values()].reverse()
}

function happened(session: JoinSession, { id, by, at }: { id: string; by: string; at: string }, entry: object): void {
  const one = entry as
    | ({ kind: 'splice' } & LoggedAttempt)
    | {
        kind: 'arc-calibration'
        fiber: 'single-mode' | 'multimode'
        outcome: 'accepted' | 'refused'
        conditions: Conditions
      }
    | { kind: 'session-care'; what: Care; conditions: Conditions }
    | { kind: 'splice-queue'; splice: string; to: 'later' | 'first'; reason: string }
    | { kind: 'session-end' }
  switch (one.kind) {
    case 'splice':
      session.attempts.push({ id, at, by, attempt: one })
      session.events.push({ kind: 'splice' })
      if (one.splice !== undefined)
        session.queue.push({ kind: 'attempt', splice: one.splice, outcome: one.outcome, at })
      break
    case 'arc-calibration':
      session.events.push({ kind: 'calibration', fiber: one.fiber, outcome: one.outcome, conditions: one.conditions })
      if (one.outcome === 'accepted') session.since = session.attempts.length
      break
    case 'session-care':
      session.events.push({ kind: 'care', what: one.what, conditions: one.conditions })
      session.since = session.attempts.length
      break
    case 'splice-queue':
      session.queue.push(
        one.to === 'later'
          ? { kind: 'skipped', splice: one.splice, reason: one.reason }
          : { kind: 'first', splice: one.splice },
      )
      break
    case 'session-end':
      session.events.push({ kind: 'ended' })
      session.ended = true
  }
}

/** An attempt as patterns are looked for. @param session that it was made in */
export function watchedAttempt(
  { estimate, cleaveLeft, cleaveRight, gap = null, proof = null, offset = null, ribbon = [] }: LoggedAttempt,
  modeFields: WatchedAttempt['modeFields'],
  session: string,
): WatchedAttempt {
  return {
    estimate,
    cleaveLeft,
    cleaveRight,
    offset,
    gap,
    proof,
    modeFields,
    session,
    ...(ribbon.length > 0 && { ribbon }),
  }
}

/** What a session used up of its tools: an arc a splice or calibration, two cleaves each. */
export function usesOf({ setup, events }: Pick<JoinSession, 'setup' | 'events'>): Use[] {
  let [arcs, cleaves, anew] = [0, 0, false]
  for (const event of events) {
    if (event.kind === 'splice' || event.kind === 'calibration') {
      arcs++
      cleaves += 2
    } else if (event.kind === 'care' && event.what === 'electrodes') {
      ;[arcs, anew] = [0, true]
    }
  }
  return [
    ...(setup.splicer === null ? [] : [{ item: setup.splicer, count: arcs, anew }]),
    ...(setup.cleaver === null ? [] : [{ item: setup.cleaver, count: cleaves, anew: false }]),
  ]
}
