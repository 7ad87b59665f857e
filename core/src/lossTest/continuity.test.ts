import { describe, expect, it } from 'vitest'
import { shootTwoCables } from '../../test/shootTwoCables.ts'
import { twoCablePlant } from '../../test/plants.ts'
import type { LoggedEntry } from '../log/standing.ts'
import { continuitiesOf, judgeContinuity, proveRepair, type Continuity } from '../prove/index.ts'

const check = (link: string, arrivesAt: string | null, way: 'ab' | 'ba' = 'ab'): Continuity => ({
  link,
  way,
  arrivesAt,
})
const said = (...checks: Continuity[]) => judgeContinuity('l', checks, (id) => id)

describe('where light comes out', () => {
  it.each<[string, Continuity[], boolean[], RegExp]>([
    ['its own port', [check('l', 'l')], [true], /its own port/],
    ['nowhere', [check('l', null)], [false], /comes out nowhere/],
    ['another port', [check('l', 'm')], [false], /wrong fiber/],
    ['each other’s port', [check('l', 'm'), check('m', 'l')], [false, false], /pair is swapped/],
    ['each other’s port, the other way', [check('l', 'm'), check('m', 'l', 'ba')], [false, false], /wrong fiber/],
    ['what does not concern the link', [check('m', 'n')], [], /^$/],
  ])('%s', (_name, checks, holds, words) => {
    const judged = said(...checks)
    expect(judged.map((one) => one.holds)).toEqual(holds)
    expect(judged[0]?.words ?? '').toMatch(words)
  })

  it('a later check of the same link and way counts', () => {
    const logged = (arrivesAt: string, superseded = false): LoggedEntry => ({
      id: arrivesAt,
      by: 'a',
      observedAt: '2026-01-01T03:00:00Z',
      supersedes: null,
      superseded,
      entry: { kind: 'continuity', link: 'l', way: 'ab', arrivesAt } as LoggedEntry['entry'],
    })
    expect(continuitiesOf([logged('m'), logged('l'), logged('n', true)])).toEqual([check('l', 'l')])
  })

  it('a swapped pair refutes a link whose traces are in order, and says where to swap it back', () => {
    const { verdict, reasons, next } = proveRepair({
      plant: twoCablePlant(),
      linkId: 'l',
      baseline: shootTwoCables([]),
      after: shootTwoCables([], 50),
      continuity: [check('l', 'm'), check('m', 'l')],
    })
    expect(verdict).toBe('not-restored')
    expect(reasons.filter((reason) => /swapped/.test(reason))).toHaveLength(1)
    expect(next[0]).toMatch(/^swap “.*” and “.*” back at the joint/)
  })
})
