import { mean } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { splicingSession, type SessionPlan } from '../index.ts'

const PLAN: SessionPlan = { aligner: 'core', causes: [], begin: 0, fibers: 1, earlierSessions: 3 }
const seeds = Array.from({ length: 30 }, (_, i) => 900 + i)
const angles = (plan: SessionPlan, from: number) =>
  mean(
    seeds.flatMap((seed) =>
      splicingSession(seed, plan)
        .attempts.slice(from)
        .flatMap(({ cleaveLeft }) => cleaveLeft ?? []),
    ),
  )

describe('a simulated session', () => {
  it('is the same for the same seed, with its earlier sessions told apart', () => {
    expect(splicingSession(3, PLAN)).toEqual(splicingSession(3, PLAN))
    const { reference, attempts } = splicingSession(3, PLAN)
    expect(reference.map(({ session }) => session)).toEqual(Array.from({ length: 72 }, (_, i) => Math.floor(i / 24)))
    expect(attempts).toHaveLength(24)
  })

  it('goes wrong from where it is planned to, not before', () => {
    const worn: SessionPlan = { ...PLAN, causes: ['worn blade'], begin: 12 }
    const after = angles(worn, 12)
    const healthy = angles(PLAN, 12)
    expect(after).toBeGreaterThan(1.8 * healthy)
    const early = seeds.map((seed) => splicingSession(seed, worn).attempts.slice(0, 12))
    expect(early).toEqual(seeds.map((seed) => splicingSession(seed, PLAN).attempts.slice(0, 12)))
  })

  it('has gaps in its readings, and machines that show no offset at all', () => {
    const all = seeds.map((seed) => splicingSession(seed, PLAN).attempts)
    const blind = all.filter((attempts) => attempts.every(({ offset }) => offset === null))
    expect(blind.length).toBeGreaterThan(0)
    expect(blind.length).toBeLessThan(seeds.length / 2)
    const missing = mean(all.flat().map(({ estimate }) => (estimate === null ? 1 : 0)))
    expect(missing).toBeGreaterThan(0.04)
    expect(missing).toBeLessThan(0.13)
  })

  it('of ribbons reads each fiber, and offset, picture and pull once', () => {
    const { attempts } = splicingSession(8, { ...PLAN, fibers: 12 })
    for (const { ribbon, offset } of attempts) {
      expect(ribbon).toHaveLength(12)
      expect(offset === null || typeof offset === 'number').toBe(true)
    }
  })
})
