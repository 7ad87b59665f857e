import type { ClosureKind } from '../sheet/facts.ts'
import type { Span } from '../drawings/lengths.ts'

/** A port of a closure, with the cables that it takes. */
export interface Port {
  port: number
  /** What it is used for by habit; any cable may go in. */
  habit: 'through' | 'branch' | 'drop'
  /** Cable diameters that it seals, m; null where the maker's sheet was not read. */
  least: number | null
  most: number | null
}

/** A closure as its maker's sheet has it: kept by the operator, by model name. */
export interface ClosureModel {
  model: string
  kind: ClosureKind
  ports: Port[]
  /** Thinner cables go in with tape and a bushing, m; null where none does. */
  bushingBelow: number | null
  trays: { count: number; splices: number; groups: number } | null
  /** m, by name of the length; they come before the rules' own. */
  lengths: Record<string, Span>
  /** Least radius of stored fiber, m; null: the common one. */
  storingRadius: number | null
  /** Gauge pressure of the test, Pa, with what may be lost in so many minutes; null: no figure, so no test. */
  pressure: { test: number; minutes: number; mayLose: number } | null
  /** Where its figures come from. */
  source: string
}

/** Six ports as used by habit: 1 and 2 through, 3 and 4 branches, 5 and 6 drops (common practice). */
export const SIX_PORTS: readonly Port[] = (['through', 'through', 'branch', 'branch', 'drop', 'drop'] as const).map(
  (habit, i) => ({ port: i + 1, habit, least: null, most: null }),
)

/** What is known of a dome of which the operator has no sheet: its ports by habit, no figure. */
export function plainDome(model: string): ClosureModel {
  return {
    model,
    kind: 'gel-dome',
    ports: SIX_PORTS.map((port) => ({ ...port })),
    bushingBelow: 0.0127,
    trays: null,
    lengths: {},
    storingRadius: null,
    pressure: null,
    source: 'common practice; no maker’s sheet is on record',
  }
}

/**
 * The model that a closure's record names: from the operator's sheets, else a plain dome where its name says so.
 * @returns null for a closure that nothing is known of
 */
export function closureModelOf(name: string | null, models: readonly ClosureModel[]): ClosureModel | null {
  if (name === null) return null
  return models.find(({ model }) => model === name) ?? (/gel.*dome|dome.*gel/i.test(name) ? plainDome(name) : null)
}

/** Kinds of closures that makers' sheets are kept of. */
export const KINDS_WITH_SHEETS: readonly ClosureKind[] = ['gel-dome', 'wall-box']
