import type { Observation } from '@cold-thread/contract'

/** Corrections of one entry of which several stand: two people corrected the same, neither knowing of the other. */
export function rivalsOf<T extends Pick<Observation, 'supersedes' | 'superseded' | 'entry'>>(log: readonly T[]): T[][] {
  const byCorrected = new Map<string, T[]>()
  for (const one of log) {
    if (one.supersedes === null || one.superseded || one.entry.kind === 'withdrawn') continue
    byCorrected.set(one.supersedes, [...(byCorrected.get(one.supersedes) ?? []), one])
  }
  return [...byCorrected.values()].filter((some) => some.length > 1)
}
