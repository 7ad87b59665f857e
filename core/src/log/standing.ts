/** An entry of a callout's log, as far as those who read it in core care. */
export interface LoggedEntry {
  id: string
  by: string
  /** When it happened, by the device. */
  observedAt: string
  supersedes: string | null
  superseded: boolean
  entry: { kind: string }
}

/**
 * What stands of a log, in the order of the work: a correction takes the place of what it corrects, and what was taken
 * back is gone.
 * @param log in the order in which the server took it
 * @param corrects whether a superseding entry is a correction of the earlier one, or something new in its stead
 */
export function standing(
  log: readonly LoggedEntry[],
  corrects: (earlier: LoggedEntry['entry'], later: LoggedEntry['entry']) => boolean,
): LoggedEntry[] {
  const places = new Map(log.map(({ id }, i) => [id, i]))
  const byId = new Map(log.map((one) => [one.id, one]))
  const placeOf = (one: LoggedEntry): number => {
    const earlier = one.supersedes === null ? undefined : byId.get(one.supersedes)
    return earlier && corrects(earlier.entry, one.entry) ? placeOf(earlier) : places.get(one.id)!
  }
  return log
    .filter(({ superseded }) => !superseded)
    .map((one) => ({ one, place: placeOf(one) }))
    .sort((a, b) => a.place - b.place)
    .map(({ one }) => one)
}
