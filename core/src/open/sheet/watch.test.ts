import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { describe, expect, it } from 'vitest'
import { judgeWatch, type WatchReading } from './watch.ts'

/** Readings once a second: level, plus what is added (by the reading), plus uniform noise as no model here assumes. */
function readings(seed: number, count: number, noise: number, added: (i: number) => number, drift = 0): WatchReading[] {
  const random = xoroshiro128plus(seed)
  return Array.from({ length: count }, (_, i) => ({
    at: i,
    level: -22.4 - added(i) + drift * i + noise * (2 * uniformFloat64(random) - 1),
  }))
}

const quiet = () => 0

describe('added loss while a clamp is tightened', () => {
  it('waits for readings before and during', () => {
    expect(judgeWatch(readings(1, 4, 0.01, quiet), []).outcome).toBe('waiting')
    expect(judgeWatch(readings(1, 10, 0.01, quiet), readings(2, 3, 0.01, quiet)).outcome).toBe('waiting')
  })

  it.each([0.1, 0.3, 2])('flags %f dB that stay', (loss) => {
    for (let seed = 1; seed <= 50; seed++) {
      const judged = judgeWatch(
        readings(seed, 15, 0.01, quiet),
        readings(900 + seed, 10, 0.01, () => loss),
      )
      expect(judged.outcome).toBe('flagged')
      expect(Math.abs(judged.added! - loss)).toBeLessThan(0.02)
    }
  })

  it('does not flag a quiet fiber: 2,000 watches of 60 readings, noise up to what a poor meter has', () => {
    let flagged = 0
    for (let seed = 1; seed <= 2000; seed++) {
      const noise = 0.005 + 0.05 * ((seed % 10) / 10)
      if (judgeWatch(readings(seed, 20, noise, quiet), readings(5000 + seed, 60, noise, quiet)).outcome === 'flagged')
        flagged++
    }
    expect(flagged / 2000).toBeLessThan(0.005)
  })

  it('a light source that drifts by 0.01 dB a minute flags nothing', () => {
    const all = readings(3, 80, 0.01, quiet, -0.01 / 60)
    expect(judgeWatch(all.slice(0, 20), all.slice(20)).outcome).toBe('holds')
  })

  it('a loss that goes when the clamp is released is told, not held against it', () => {
    const judged = judgeWatch(
      readings(4, 15, 0.01, quiet),
      readings(5, 40, 0.01, (i) => (i < 20 ? 0.4 : 0)),
    )
    expect(judged.outcome).toBe('holds')
    expect(judged.worst).toBeGreaterThan(0.35)
    expect(judged.reasons[0]).toMatch(/were added for a while/)
  })

  it('one wild reading neither flags nor hides', () => {
    const during = readings(6, 10, 0.01, quiet)
    during[9]!.level -= 5
    expect(judgeWatch(readings(7, 15, 0.01, quiet), during).outcome).toBe('holds')
  })
})
