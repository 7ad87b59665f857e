import type { LoggedEntry } from '../src/log/standing.ts'

/** An entry of a log; longer ids came later. */
export function loggedAt(id: string, entry: { kind: string }): LoggedEntry {
  return { id, by: 'Tester', observedAt: `2025-01-0${id.length}T00:00:00Z`, entry, supersedes: null, superseded: false }
}

/** A one-cord reference at 1310 nm, −10 dBm, with reference-grade cords; its id is `r`. */
export const REFERENCE = loggedAt('r', {
  kind: 'loss-reference',
  method: 'one-cord',
  wavelength: 1310,
  level: -10,
  cords: '',
  referenceGrade: true,
  encircledFlux: null,
} as { kind: string })
