import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootThrough } from '../../../test/surveys.ts'
import { buildThread } from '../../plant/index.ts'
import { withCommonEnds, withStartsByBaseline } from './launchFound.ts'
import type { Shot } from './shot.ts'

const plant = twoCablePlant()
const threads = { ab: buildThread(plant, 'l', 'ab'), ba: buildThread(plant, 'l', 'ba') }
/** Both wavelengths from one end through a cord that is not on record, 300 m long. */
const shoot = (seed: number, change = {}): Shot[] =>
  [1310, 1550].flatMap((wavelength) =>
    shootThrough({ launch: 300, receive: 0, told: false, from: ['ab'], wavelength, seed, ...change }),
  )

/** The trace as one with a long dead zone shows it: nothing before 350 m. */
function blind(shot: Shot): Shot {
  const { analysis } = shot
  const [start, ...events] = analysis.events
  const shown = events.filter(({ distance }) => distance > 350)
  return { ...shot, analysis: { ...analysis, events: [{ ...start!, settled: 350 }, ...shown] } }
}

describe('a launch cord that is not on record', () => {
  it('ends in all traces of one go where one of them shows its connection', () => {
    const [one, other] = shoot(3) as [Shot, Shot]
    for (const told of [
      withCommonEnds([blind(one), other], threads),
      withStartsByBaseline([blind(one), other], shoot(5), threads),
    ])
      for (const { launchEnd } of told) expect(Math.abs(launchEnd!.distance - 300)).toBeLessThan(5)
  })

  it('ends at the nearest reflection that one of them shows, where the light ends before any joint', () => {
    const [one, other] = shoot(3, { damages: [{ at: { chainage: 200 }, breaks: true, reflectance: -30 }] }) as [
      Shot,
      Shot,
    ]
    const told = withStartsByBaseline([blind(one), other], shoot(5), threads)
    for (const { launchEnd } of told) expect(Math.abs(launchEnd!.distance - 300)).toBeLessThan(5)
  })

  it('is not taken from a trace of another day, instrument or end', () => {
    const [one, other] = shoot(3) as [Shot, Shot]
    const changed = (change: object): Shot => ({
      ...other,
      analysis: { ...other.analysis, trace: { ...other.analysis.trace, ...change } },
    })
    for (const stranger of [
      changed({ takenAt: '2026-01-02T00:00:00Z' }),
      changed({ instrument: 'another' }),
      { ...other, direction: 'ba' as const },
    ])
      expect(withCommonEnds([blind(one), stranger], threads)[0]!.launchEnd).toBeUndefined()
  })

  it('of a baseline is found by later traces whose cords are known', () => {
    const [one] = shoot(3) as [Shot]
    const later = shootThrough({ launch: 150, receive: 0, from: ['ab'], wavelength: 1310, seed: 7 })
    const [told] = withCommonEnds([one], threads, later)
    expect(Math.abs(told!.launchEnd!.distance - 300)).toBeLessThan(5)
  })
})
