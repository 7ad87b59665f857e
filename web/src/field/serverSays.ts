import { CONTRACT_HEADER, CONTRACT_VERSION } from '@cold-thread/contract'

/** What an answer says besides its body. */
export interface ServerSays {
  /** The server speaks another version than this app: what it refuses may be for that. */
  otherVersion: boolean
  /** How far this device's clock is ahead of the server's, ms; null where the answer does not say. */
  clockAhead: number | null
}

/** Reads an answer's headers (`Date`: RFC 9110), as it has just come in. */
export function serverSays(headers: Pick<Headers, 'get'>, now: number): ServerSays {
  const version = headers.get(CONTRACT_HEADER)
  const date = Date.parse(headers.get('date') ?? '')
  return {
    otherVersion: version !== null && version !== String(CONTRACT_VERSION),
    clockAhead: Number.isNaN(date) ? null : now - date,
  }
}

/** A clock that is wrong by less is right enough for a log, ms: answers take time, and `Date` counts whole seconds. */
const RIGHT_ENOUGH = 120_000

/** Whether a clock is wrong enough to be said. */
export function isClockWrong(clockAhead: number): boolean {
  return Math.abs(clockAhead) > RIGHT_ENOUGH
}
