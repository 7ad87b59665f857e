import { describe, expect, it } from 'vitest'
import { judgeWatch, type WatchReading } from '../../open/sheet/watch.ts'
import { ClampPower } from './clampPower.ts'

/** Readings twice a second while the screw stands as it is told. */
function shown(seed: number, ...turns: [tightness: number, readings: number][]): WatchReading[][] {
  const clamp = new ClampPower(seed, -18)
  let at = 0
  return turns.map(([tightness, count]) =>
    Array.from({ length: count }, () => ({ at: (at += 0.5), level: clamp.next(tightness, 0.5) })),
  )
}

describe('a simulated clamp', () => {
  it('too tight is flagged, released holds again, over fresh seeds', () => {
    for (let seed = 1; seed <= 100; seed++) {
      const [before, right, over, released] = shown(seed, [0.5, 20], [1, 20], [1.6, 20], [1, 40])
      expect(judgeWatch(before!, right!).outcome).toBe('holds')
      expect(judgeWatch(before!, [...right!, ...over!]).outcome).toBe('flagged')
      expect(judgeWatch(before!, [...right!, ...over!, ...released!]).outcome).toBe('holds')
    }
  })

  it('the same seed gives the same readings', () => {
    expect(shown(7, [1, 5])).toEqual(shown(7, [1, 5]))
  })
})
