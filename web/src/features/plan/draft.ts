import type { PlanContent } from '@cold-thread/contract'
import {
  FIRST_SCENARIO,
  PLAN_RULES,
  SITE_DEFAULTS,
  type PlanEdit,
  type Scenario,
  type SiteFacts,
  type Weights,
} from '@cold-thread/core/plan'

/** What a person has set on the plan; the rest follows from it. */
export interface PlanDraft {
  /** null: the proposed one. */
  optionId: string | null
  /** Whether the temporary repair goes before; null: as proposed. */
  withFirst: boolean | null
  /** Fibers that are known to be hit; null: by the kind of fault. */
  hit: number[] | null
  site: SiteFacts
  scenario: Scenario
  weights: Weights
  edits: PlanEdit[]
  learnedRates: boolean
  window: PlanContent['window']
}

export const FRESH_DRAFT: PlanDraft = {
  optionId: null,
  withFirst: null,
  hit: null,
  site: SITE_DEFAULTS,
  scenario: FIRST_SCENARIO,
  weights: PLAN_RULES.weights,
  edits: [],
  learnedRates: false,
  window: null,
}

/** A draft that another version of the app may have left: what that did not know yet is as in a fresh one. */
export function upToDate(left: Partial<PlanDraft>): PlanDraft {
  return {
    ...FRESH_DRAFT,
    ...left,
    site: { ...FRESH_DRAFT.site, ...left.site },
    scenario: { ...FRESH_DRAFT.scenario, ...left.scenario },
    weights: { ...FRESH_DRAFT.weights, ...left.weights },
  }
}

/** A saved plan, to be gone on with. */
export function draftOf({
  optionIds,
  hit,
  site,
  scenario,
  weights,
  edits,
  learnedRates,
  window,
}: PlanContent): PlanDraft {
  return {
    optionId: optionIds.at(-1)!,
    withFirst: optionIds.length > 1,
    hit,
    site,
    scenario,
    weights,
    edits,
    learnedRates,
    window,
  }
}

/**
 * The change that puts a line where it was dropped: before the one that then follows, or, moved down, behind the one
 * that then precedes. Changes that said the opposite go.
 * @returns null when nothing moved
 */
export function editOfMove(lines: readonly string[], from: number, to: number): PlanEdit | null {
  if (from === to || !lines[from] || !lines[to]) return null
  return from > to
    ? { kind: 'before', line: lines[from], other: lines[to] }
    : { kind: 'before', line: lines[to], other: lines[from] }
}

/** The changes with one more; one that says the opposite is replaced. */
export function withEdit(edits: readonly PlanEdit[], edit: PlanEdit): PlanEdit[] {
  const contradicts = (other: PlanEdit) =>
    edit.kind === 'pin'
      ? other.kind === 'pin' && other.line === edit.line
      : other.kind === 'before' &&
        ((other.line === edit.other && other.other === edit.line) ||
          (other.line === edit.line && other.other === edit.other))
  return [...edits.filter((other) => !contradicts(other)), edit]
}
