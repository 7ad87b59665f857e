import { describe, expect, it } from 'vitest'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import { expectedOffset, withLaunchEnds } from './launchEnds.ts'
import { launchSeen } from './linkEnds.ts'
import type { Shot } from './shot.ts'

const [ab, ba] = shootTwoCables([], 3) as [Shot, Shot]

/** The same trace where a dead zone hides the connection at the launch cord's end. */
function hidden(shot: Shot): Shot {
  const { analysis } = shot
  const seen = launchSeen(shot)!
  return { ...shot, analysis: { ...analysis, events: analysis.events.filter((e) => e.distance !== seen.distance) } }
}

describe('the end of a launch cord', () => {
  it('that one trace hides is where another of the same survey shows it', () => {
    const [known, told] = withLaunchEnds([ab, hidden(ba)]) as [Shot, Shot]
    expect(known).toBe(ab)
    expect(told.launchEnd!.distance).toBe(launchSeen(ab)!.distance)
    // Within what two ends of one simulated instrument differ by: a point or so.
    expect(Math.abs(told.launchEnd!.distance - launchSeen(ba)!.distance)).toBeLessThan(4 * told.launchEnd!.sigma)
  })

  it('is not taken from another pulse, instrument or cord, nor invented', () => {
    const other = (change: object): Shot => {
      const { analysis } = ba
      return hidden({ ...ba, analysis: { ...analysis, trace: { ...analysis.trace, ...change } } })
    }
    const told = (shot: Shot) => withLaunchEnds([ab, shot])[1]!.launchEnd
    expect(told(other({ pulseWidth: 2 * ba.analysis.trace.pulseWidth! }))).toBeUndefined()
    expect(told(other({ instrument: 'another' }))).toBeUndefined()
    expect(told({ ...hidden(ba), launch: 480 })).toBeUndefined()
    expect(withLaunchEnds([hidden(ab), hidden(ba)]).some(({ launchEnd }) => launchEnd)).toBe(false)
  })

  it('lays two traces on each other more surely when one shows it and the other is told', () => {
    const [, told] = withLaunchEnds([ba, hidden(ab)]) as [Shot, Shot]
    const byCords = expectedOffset(ab, hidden(ab))!
    const byTwin = expectedOffset(ab, told)!
    expect(Math.abs(byTwin.offset)).toBeLessThan(4 * byTwin.sigma)
    expect(byTwin.sigma).toBeLessThan(Math.max(2, byCords.sigma))
    expect(expectedOffset({ ...ab, launch: null }, ba)).toBeNull()
  })
})
