import type { FiberGroup } from './groups.ts'

/** Which fibers of a cable a damage took. */
export type SurveyPattern =
  | 'whole-cable'
  | 'one-group'
  | 'one-group-in-run'
  | 'several-groups'
  | 'scattered'
  | 'one-fiber'
  | 'pulled'
  | 'at-panel'

/**
 * What a pattern means and what to do first: common practice. A cut takes all at one place, a pull breaks fibers at
 * places far apart, one tube alone points to a closure or tray; at a panel dirt comes first. “Group” stands for what the
 * cable has: tubes, modules or bundles.
 */
export const PATTERN_MEANINGS: Record<SurveyPattern, { meaning: string; first: string }> = {
  'whole-cable': {
    meaning: 'the whole cable is hit at one place: cut, dug up or crushed',
    first: 'go to the place with the locating gear; nothing at a closure explains all groups at once',
  },
  'one-group': {
    meaning: 'one group alone: it points to a closure or a tray, where the group runs by itself',
    first: 'open the nearest closure and look for a pinched, kinked or pulled group before anything is dug',
  },
  'one-group-in-run': {
    meaning: 'one group alone points to a closure or a tray, yet the place lies in the run between',
    first:
      'ask the records for a slack loop or a mid-span entry there, and measure from the other end, before anything is dug',
  },
  'several-groups': {
    meaning: 'some groups whole, the others sound: the cable is hit from one side, or a tray that holds these groups',
    first: 'look for a dent, a bite or a screw at the place; at a closure compare the trays of these groups',
  },
  scattered: {
    meaning: 'fibers of several groups at one place: a bite, a dent or a bad closing',
    first: 'walk the place; count on the fibers that still work to get worse',
  },
  'one-fiber': {
    meaning: 'one fiber alone: its splice, its bend in the tray, or its patch',
    first: 'look at the splice and the tray of this fiber',
  },
  pulled: {
    meaning: 'breaks far apart on many fibers: the cable was pulled',
    first: 'look for the pull (vehicle, ice, digger) and expect to replace the section between the outermost breaks',
  },
  'at-panel': {
    meaning: 'at a panel: dirt or a mated connector first',
    first: 'inspect, clean and measure again before a splice is touched',
  },
}

/** Breaks further apart than this, m, and than their uncertainty, are not one cut: a cut takes a metre or two. */
const CUT_LENGTH = 6

/** A group of which so many of the fibers that were read are hit counts as whole. */
const WHOLE = 0.8

export interface PatternFacts {
  /** Fibers hit at the place. */
  hit: readonly number[]
  /** Fibers that were read. */
  read: readonly number[]
  groups: readonly FiberGroup[]
  /** Standard deviation of the breaks' places over the fibers, m, and what measuring alone would give. */
  spread: number
  sigma: number
  breaks: boolean
  atPanel: boolean
  /** The place is a node or its coil rather than the run between. */
  atNode: boolean
}

/** Names the pattern, and the groups that it took whole or in part. */
export function patternOf(facts: PatternFacts): { pattern: SurveyPattern; whole: number[]; partly: number[] } {
  const { hit, read, groups } = facts
  const count = (fibers: readonly number[], group: FiberGroup) =>
    fibers.filter((fiber) => fiber >= group.first && fiber <= group.last).length
  const seen = groups.filter((group) => count(read, group) > 0)
  const whole = seen.filter((group) => count(hit, group) >= Math.max(2, WHOLE * count(read, group)))
  const partly = seen.filter((group) => count(hit, group) > 0 && !whole.includes(group))
  const out = { whole: whole.map((group) => group.number), partly: partly.map((group) => group.number) }
  const pulled = facts.breaks && hit.length >= 3 && facts.spread > CUT_LENGTH && facts.spread > 3 * facts.sigma
  const pattern = facts.atPanel
    ? 'at-panel'
    : pulled
      ? 'pulled'
      : hit.length === 1
        ? 'one-fiber'
        : seen.length > 1 && whole.length === seen.length
          ? 'whole-cable'
          : whole.length + partly.length === 1
            ? facts.atNode
              ? 'one-group'
              : 'one-group-in-run'
            : partly.length === 0
              ? 'several-groups'
              : 'scattered'
  return { pattern, ...out }
}
