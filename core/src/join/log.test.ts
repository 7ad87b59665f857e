import { describe, expect, it } from 'vitest'
import { withUse } from '../kit/use.ts'
import { EMPTY_KIT, type KitItem } from '../kit/kit.ts'
import { NO_CONDITIONS, readingsOf, sessionsOf, usesOf, watchedAttempt, type SessionSetup } from './index.ts'

const SETUP: SessionSetup = {
  splicer: 'splicer-1',
  cleaver: 'cleaver-1',
  ribbon: false,
  mode: 'single-mode',
  heater: 60,
  sleeve: 60,
  conditions: NO_CONDITIONS,
}
let clock = 0
const logged = (id: string, entry: { kind: string } & Record<string, unknown>, some: object = {}) => ({
  id,
  by: 'a',
  observedAt: new Date(Date.UTC(2026, 0, 1, 3, clock++)).toISOString(),
  supersedes: null,
  superseded: false,
  entry,
  ...some,
})
const begun = (id: string) =>
  logged(id, { kind: 'splice-session', node: 'c', chainage: 0, cable: 'a', fibers: null, setup: SETUP })
const splice = (id: string, some: object = {}, of: object = {}) =>
  logged(
    id,
    {
      kind: 'splice',
      sessionId: 's',
      node: 'c',
      chainage: 0,
      cable: 'a',
      fiber: 3,
      attempt: 1,
      estimate: 0.02,
      cleaveLeft: 0.3,
      cleaveRight: 0.4,
      outcome: 'accepted',
      remark: '',
      splice: 'a/3-b/3',
      ...some,
    },
    of,
  )
const calibrated = (id: string, outcome = 'accepted') =>
  logged(id, { kind: 'arc-calibration', sessionId: 's', fiber: 'single-mode', outcome, conditions: NO_CONDITIONS })
const care = (id: string, what: string) =>
  logged(id, { kind: 'session-care', sessionId: 's', what, conditions: NO_CONDITIONS })

describe('sessions of a log', () => {
  it('come newest first, each with its own', () => {
    const log = [
      begun('s'),
      calibrated('c'),
      splice('1'),
      logged('e', { kind: 'session-end', sessionId: 's' }),
      begun('t'),
    ]
    const [newest, first] = sessionsOf(log)
    expect(newest).toMatchObject({ id: 't', ended: false, attempts: [] })
    expect(first).toMatchObject({
      id: 's',
      ended: true,
      events: [{ kind: 'calibration' }, { kind: 'splice' }, { kind: 'ended' }],
    })
  })

  it('a corrected attempt stands in the place of the one before, one that was taken back is gone', () => {
    const log = [
      begun('s'),
      splice('1', { estimate: 0.2, outcome: 'redo' }, { superseded: true }),
      splice('2', { fiber: 4, splice: 'a/4-b/4' }),
      splice('3', { estimate: 0.02 }, { supersedes: '1' }),
      splice('4', {}, { superseded: true }),
      logged('5', { kind: 'withdrawn', reason: 'twice' }, { supersedes: '4' }),
    ]
    const [session] = sessionsOf(log)
    expect(session!.attempts.map(({ id }) => id)).toEqual(['3', '2'])
    expect(session!.queue.map((event) => event.splice)).toEqual(['a/3-b/3', 'a/4-b/4'])
  })

  it('patterns are looked for since the tools were last seen to', () => {
    const log = [begun('s'), calibrated('c'), splice('1'), splice('2'), care('g', 'grooves'), splice('3')]
    expect(sessionsOf(log)[0]).toMatchObject({ since: 2, attempts: { length: 3 } })
  })

  it('a ribbon is one splice, with its fibers, and knows its session', () => {
    const reading = { estimate: 0.03, cleaveLeft: 1, cleaveRight: 2 }
    const [session] = sessionsOf([begun('s'), splice('1', { ribbon: [reading, reading], offset: 0.6, gap: 'good' })])
    const watched = watchedAttempt(session!.attempts[0]!.attempt, null, 's')
    expect(watched).toMatchObject({ offset: 0.6, gap: 'good', proof: null, ribbon: [reading, reading], session: 's' })
    expect(readingsOf('angle', watched)).toEqual([1, 2, 1, 2])
    expect(readingsOf('offset', watched)).toEqual([0.6])
  })
})

describe('what a session uses up', () => {
  it('is an arc and two cleaves for each splice and calibration; new electrodes begin anew', () => {
    const log = [
      begun('s'),
      calibrated('c'),
      splice('1'),
      splice('2'),
      care('n', 'electrodes'),
      calibrated('d'),
      splice('3'),
    ]
    expect(usesOf(sessionsOf(log)[0]!)).toEqual([
      { item: 'splicer-1', count: 2, anew: true },
      { item: 'cleaver-1', count: 10, anew: false },
    ])
  })

  it('goes to the kit; what is not counted there stays as it is', () => {
    const item = (id: string, used: number | null): KitItem => ({
      id,
      kind: 'x',
      name: id,
      count: 1,
      place: 'van',
      fits: [],
      fibers: null,
      wear: used === null ? null : { used, due: 3000, unit: 'arcs' },
      calibratedUntil: null,
    })
    const kit = { ...EMPTY_KIT, items: [item('a', 100), item('b', 40), item('c', null)] }
    const used = withUse(kit, [
      { item: 'a', count: 2, anew: true },
      { item: 'b', count: 10, anew: false },
      { item: 'c', count: 5, anew: false },
      { item: 'nowhere', count: 5, anew: false },
    ])
    expect(used.items.map(({ wear }) => wear?.used ?? null)).toEqual([2, 50, null])
    expect(kit.items[1]!.wear!.used).toBe(40)
  })
})
