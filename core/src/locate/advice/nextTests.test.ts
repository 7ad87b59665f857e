import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { buildThread, fiberAtChainage } from '../../plant/index.ts'
import { rankCauses } from '../posterior/causes.ts'
import { rankNextTests, type TestSituation } from './nextTests.ts'
import { layPosterior } from '../posterior/posterior.ts'

const thread = buildThread(twoCablePlant(), 'l')
const splice = thread.nodes.find((node) => node.joint === 'splice')!

function situation(change: Partial<TestSituation> & { fiber?: number } = {}): TestSituation {
  const { fiber = fiberAtChainage(thread, 1500), ...rest } = change
  const breaks = rest.breaks ?? false
  const sigma = rest.sigma ?? 20
  const posterior = rest.posterior ?? layPosterior(thread, { fiber, sigma }, breaks ? 'break' : 'loss')
  const evidence = rest.evidence ?? []
  return {
    linkState: 'dark',
    nodes: thread.nodes,
    groundLength: thread.groundLength,
    breaks,
    posterior,
    causes: rankCauses({ breaks, reflects: false, reflectance: null, losses: [], extent: 0, posterior, evidence }),
    sigma,
    measuringSigma: 15,
    shot: [{ direction: 'ab', wavelength: 1550, pulseLength: 30 }],
    evidence,
    ...rest,
  }
}
const kinds = (change: Parameters<typeof situation>[0]) => rankNextTests(situation(change)).map((test) => test.kind)

describe('the next test', () => {
  it('after one shot is the other end, and the other wavelength where light passes', () => {
    expect(kinds({ breaks: true })).toContain('other-end')
    expect(kinds({})).toContain('other-wavelength')
    expect(kinds({ breaks: true })).not.toContain('other-wavelength')
  })

  it('that was made is not proposed again', () => {
    const both = [
      { direction: 'ab' as const, wavelength: 1310, pulseLength: 30 },
      { direction: 'ba' as const, wavelength: 1550, pulseLength: 30 },
    ]
    expect(kinds({ shot: both })).not.toContain('other-end')
    expect(kinds({ shot: both })).not.toContain('other-wavelength')
    expect(kinds({ evidence: [{ kind: 'growth', how: 'sudden' }] })).not.toContain('history')
    expect(kinds({ fiber: splice.fiber, evidence: [{ kind: 'opened', node: splice.id, found: false }] })).not.toContain(
      'open',
    )
  })

  it.each(['live', 'unknown'] as const)('on a %s link never sends light before what needs none', (linkState) => {
    const tests = rankNextTests(situation({ linkState }))
    const risky = tests.map((test) => test.outageRisk)
    expect(risky).toEqual([...risky].sort((a, b) => Number(a) - Number(b)))
    for (const test of tests.filter((one) => ['other-end', 'other-wavelength', 'finer-pulse'].includes(one.kind))) {
      expect(test.outageRisk).toBe(true)
      expect(test.precondition).toMatch(/dark|out-of-band/)
    }
  })

  it('among equals is the one that tells most per minute', () => {
    const safe = rankNextTests(situation()).filter((test) => !test.outageRisk)
    const worth = safe.map((test) => test.expectedGain / test.minutes)
    expect(worth).toEqual([...worth].sort((a, b) => b - a))
  })

  it('a closure that holds half of the belief is worth opening: one bit', () => {
    const posterior = layPosterior(thread, { fiber: splice.fiber - 45, sigma: 25 }, 'loss')
    const share = posterior.cells.filter((cell) => cell.node === splice.id).reduce((sum, cell) => sum + cell.weight, 0)
    const open = rankNextTests(situation({ posterior })).find((test) => test.kind === 'open')!
    const entropy = -share * Math.log2(share) - (1 - share) * Math.log2(1 - share)
    expect(open.expectedGain).toBeCloseTo(entropy + 0.3 * share, 6)
    expect(open.precondition).toMatch(/live fibers/)
  })

  it('a finer pulse is worth nothing where the records, not the pulse, are unsure', () => {
    expect(kinds({ sigma: 20, measuringSigma: 1 })).not.toContain('finer-pulse')
    expect(kinds({ sigma: 20, measuringSigma: 19.9 })).toContain('finer-pulse')
  })

  it('visible light is for breaks, near an end, on a fiber proved dark', () => {
    const posterior = layPosterior(thread, null, 'break')
    const light = rankNextTests(situation({ breaks: true, posterior, sigma: 800 })).find(
      (test) => test.kind === 'light',
    )!
    expect(light.precondition).toMatch(/proved dark/)
    expect(light.precondition).toMatch(/never look into it/)
    expect(kinds({})).not.toContain('light')
  })

  it('at a panel comes cleaning', () => {
    const panel = thread.nodes[0]!
    expect(kinds({ fiber: panel.fiber, sigma: 3 })).toContain('clean')
    // Even where the cause is as good as sure: there cleaning is what mends it.
    const posterior = layPosterior(thread, { fiber: panel.fiber, sigma: 0.2 }, 'reflection')
    const causes = rankCauses({
      breaks: false,
      reflects: true,
      reflectance: null,
      losses: [],
      extent: 0,
      posterior,
      evidence: [],
    })
    const shot = [
      { direction: 'ab' as const, wavelength: 1310, pulseLength: 3 },
      { direction: 'ba' as const, wavelength: 1550, pulseLength: 3 },
    ]
    expect(rankNextTests(situation({ posterior, causes, shot }))[0]!.kind).toBe('clean')
  })
})
