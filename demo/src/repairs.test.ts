import { locateFaults, type Shot } from '@cold-thread/core/locate'
import { proposeRepairs, SITE_DEFAULTS, type RepairKind } from '@cold-thread/core/plan'
import { analyzeTrace, decodeTrace } from '@cold-thread/core/trace'
import { describe, expect, it } from 'vitest'
import { DEMO_DAMAGES, THRUSHMERE, THRUSHMERE_KIT, shootBothWays } from './index.ts'

/**
 * Written before the proposals were: what an experienced lead would do, by the order of repair choices (common practice,
 * no published source): clean, re-seat, re-dress, re-splice, re-terminate, spare fiber, closure on slack, section.
 */
interface Expected {
  fault: string
  linkId: string
  damage: (typeof DEMO_DAMAGES)[keyof typeof DEMO_DAMAGES]
  /** The fibers of the cable that a survey found hit, where one was made. */
  hit?: number[]
  /** What restores the link for good. */
  lasting: RepairKind
  /** What brings the priority circuits back before that; null where it gains too little. */
  first: RepairKind | null
  /** What a lead would say for it. */
  because: RegExp
}

const EXPECTED: Expected[] = [
  {
    fault: 'a dirty connector at the visitor centre',
    linkId: 'gauge-telemetry',
    damage: DEMO_DAMAGES.connector,
    lasting: 'clean',
    first: null,
    because: /least intervention/,
  },
  {
    fault: 'a fiber bent too tightly in the aqueduct closure',
    linkId: 'visitor-wan',
    damage: DEMO_DAMAGES.dressing,
    lasting: 're-dress',
    first: null,
    because: /least intervention/,
  },
  {
    fault: 'a bad splice at Lock 9',
    linkId: 'visitor-wan',
    damage: DEMO_DAMAGES.splice,
    lasting: 're-splice',
    first: null,
    because: /without a new closure/,
  },
  {
    fault: 'a cut near the swing bridge, whose hand-hole holds a coil',
    linkId: 'level-control',
    damage: DEMO_DAMAGES.break,
    lasting: 'one-closure',
    first: null,
    because: /slack .* is enough/,
  },
  {
    fault: 'a cut beyond Reed Island, where little slack was left',
    linkId: 'level-control',
    damage: DEMO_DAMAGES.cut,
    lasting: 'section',
    first: 'temporary',
    because: /slack is \d+(\.\d)? m short/,
  },
  {
    fault: 'a tube pinched at the weir, other tubes dark and sound',
    linkId: 'sluice-telemetry',
    damage: DEMO_DAMAGES.tube,
    hit: [25, 26, 27, 28, 29, 30, 31, 32, 33, 34, 35, 36],
    lasting: 'one-closure',
    first: 'spare-fibers',
    because: /sooner/,
  },
]

describe('the six demo faults', () => {
  it.each(EXPECTED)('$fault: $lasting', ({ linkId, damage, hit, lasting, first, because }) => {
    const shot = (role: 'baseline' | 'present'): Shot[] =>
      shootBothWays(linkId, role, damage, new Date('2026-03-01T02:40:00Z')).map(({ fileName, direction, content }) => ({
        name: fileName,
        direction,
        launch: 500,
        receive: 500,
        analysis: analyzeTrace(decodeTrace(content)),
      }))
    const { faults } = locateFaults({
      plant: THRUSHMERE,
      linkId,
      baseline: shot('baseline'),
      present: shot('present'),
      evidence: [],
    })
    expect(faults).toHaveLength(1)
    const proposal = proposeRepairs({
      plant: THRUSHMERE,
      linkId,
      fault: faults[0]!,
      hit: hit ?? null,
      kit: THRUSHMERE_KIT,
      site: SITE_DEFAULTS,
    })
    expect(proposal.lasting?.kind).toBe(lasting)
    expect(proposal.first?.kind ?? null).toBe(first)
    expect([...proposal.lasting!.reasons, ...(proposal.first?.reasons ?? [])].join('; ')).toMatch(because)
    // Whatever can't be done says why; whatever can be done has steps, minutes and a projected loss of each circuit.
    for (const option of proposal.options) {
      expect(option.whyNot.length > 0).toBe(!option.possible)
      if (!option.possible) continue
      expect(option.steps.length).toBeGreaterThan(0)
      expect(option.minutes.all).toBeGreaterThan(0)
      expect(option.projected.length).toBeGreaterThan(0)
    }
  })
})
