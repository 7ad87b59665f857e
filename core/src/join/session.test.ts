import { describe, expect, it } from 'vitest'
import {
  NO_CONDITIONS,
  sessionState,
  setupFaults,
  type Conditions,
  type SessionEvent,
  type SessionSetup,
} from './index.ts'

const SETUP: SessionSetup = {
  splicer: 's',
  cleaver: 'c',
  ribbon: false,
  mode: 'single-mode',
  heater: 60,
  sleeve: 60,
  conditions: { ...NO_CONDITIONS, temperature: 12 },
}
const calibration = (
  outcome: 'accepted' | 'refused' = 'accepted',
  fiber: 'single-mode' | 'multimode' = 'single-mode',
  some: Partial<Conditions> = {},
): SessionEvent => ({ kind: 'calibration', fiber, outcome, conditions: { ...NO_CONDITIONS, ...some } })
const care = (
  what: 'moved' | 'switched on' | 'electrodes' | 'grooves' | 'blade',
  some: Partial<Conditions> = {},
): SessionEvent => ({
  kind: 'care',
  what,
  conditions: { ...NO_CONDITIONS, ...some },
})
const demands = (...events: SessionEvent[]) => sessionState(SETUP, events).demands

// Common practice, no published source: each time after power-on and a move, with single-mode fiber, until accepted.
describe('arc calibration', () => {
  it('is asked for at the begin, and no more once it was accepted', () => {
    expect(demands()[0]).toMatch(/switched on/)
    expect(demands(calibration())).toEqual([])
  })

  it.each(['moved', 'switched on', 'electrodes'] as const)('is asked for again: %s', (what) => {
    expect(demands(calibration(), care(what))).toHaveLength(1)
    expect(demands(calibration(), care(what), calibration())).toEqual([])
  })

  it.each(['grooves', 'blade'] as const)('is not asked for by care of the %s', (what) => {
    expect(demands(calibration(), care(what))).toEqual([])
  })

  it('with multimode fiber does not count, whatever the splicer said', () => {
    expect(demands(calibration('accepted', 'multimode'))[0]).toMatch(/single-mode fiber/)
  })

  it('refused is repeated, with advice that grows; an accepted one takes it away', () => {
    const refused = (n: number) =>
      sessionState(
        SETUP,
        Array.from({ length: n }, () => calibration('refused')),
      )
    expect(refused(1).advice).toMatch(/Fresh ends/)
    expect(refused(3).advice).toMatch(/clean V-grooves/)
    expect(refused(5).advice).toMatch(/new electrodes, or another splicer/)
    const after = sessionState(SETUP, [calibration('refused'), calibration('refused'), calibration()])
    expect(after).toMatchObject({ advice: null, refused: 2, refusedInRow: 0, demands: [] })
  })

  it('is asked for when the weather or the height changes enough, and only then', () => {
    const read = (some: Partial<Conditions>) =>
      demands(calibration('accepted', 'single-mode', { altitude: 100, pressure: 100_000 }), care('grooves', some))
    expect(read({ temperature: 18 })).toEqual([])
    expect(read({ temperature: 23 })).toEqual(['temperature changed by 11 °C since the arc was calibrated'])
    expect(read({ altitude: 500 })[0]).toMatch(/altitude changed by 400 m/)
    expect(read({ pressure: 96_000 })[0]).toMatch(/air pressure changed by 4.0 kPa/)
    // What nobody read before can't have changed.
    expect(read({ humidity: 90 })).toEqual([])
  })
})

it('counts splices, and is ended', () => {
  expect(sessionState(SETUP, [calibration(), { kind: 'splice' }, { kind: 'splice' }, { kind: 'ended' }])).toMatchObject(
    {
      splices: 2,
      ended: true,
    },
  )
})

it('the heater must be set for the sleeve in use', () => {
  expect(setupFaults(SETUP)).toEqual([])
  expect(setupFaults({ ...SETUP, sleeve: 40 })).toEqual(['the heater is set for 60 mm, the sleeve is 40 mm'])
})
