import { describe, expect, it } from 'vitest'
import { fieldCase, ghostCase, shootFieldCase, type FieldKind } from '../../test/fieldCases.ts'
import { LINK } from '../../test/randomFault.ts'
import { pulseLength } from '../units/index.ts'
import { locateFaults } from './index.ts'

// Instruments that the analyser was not written for: other pulse shapes, time constants, recovery, clock and zero errors,
// cords; records with errors. The full statistics are printed by `npm run bench:locate`.
const SEEDS = Array.from({ length: 12 }, (_, k) => 40_001 + k)

const located = new Map<string, ReturnType<typeof shootAndLocate>>()

/** The same case is asked about more than once, and shot once. */
function locate(seed: number, kind: FieldKind) {
  const key = `${seed} ${kind}`
  const known = located.get(key) ?? shootAndLocate(seed, kind)
  located.set(key, known)
  return known
}

function shootAndLocate(seed: number, kind: FieldKind) {
  const field = fieldCase(seed, kind)
  const result = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field) })
  return { field, result, near: 30 + 2 * pulseLength(field.present.settings.pulseWidth!, 1.468) }
}

describe('baseline and present from different instruments', () => {
  it('of a sound link show no fault', () => {
    const found = SEEDS.slice(0, 8).map((seed) => locate(seed, 'none').result.faults.length)
    expect(found.filter((count) => count > 0).length).toBeLessThanOrEqual(1)
  })

  it('with long pulses, that once lost the end beside its own reflection, show no fault either', () => {
    for (const seed of [700_037, 700_146, 700_180])
      expect(locate(seed, 'none').result.faults, `seed ${seed}`).toEqual([])
  })

  it('whose points share nearly all of their noise still show a fault of 0.7 dB', () => {
    const field = fieldCase(500_240)
    const { faults } = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field, [1550]) })
    expect(faults).toHaveLength(1)
    const pulse = pulseLength(field.present.settings.pulseWidth!, 1.468)
    expect(Math.abs(faults[0]!.chainage - field.chainages[0]!)).toBeLessThan(30 + pulse)
    expect(Math.abs(faults[0]!.loss['1550']! - 0.72)).toBeLessThan(3 * faults[0]!.lossSigma['1550']!)
  })

  it.each<FieldKind>(['break', 'crush', 'connector'])('find every %s, near its place', (kind) => {
    for (const seed of SEEDS.slice(0, 4)) {
      const { field, result, near } = locate(seed, kind)
      const away = Math.min(...result.faults.map((fault) => Math.abs(fault.chainage - field.chainages[0]!)))
      expect(away, `seed ${seed}`).toBeLessThan(near)
    }
  })

  it('name a break as one, with the ends it was seen from', () => {
    const { result } = locate(SEEDS[0]!, 'break')
    expect(result.faults.some((fault) => fault.breaks)).toBe(true)
    const fault = result.faults.find((candidate) => candidate.breaks)!
    expect(fault.causes[0]!.because).toContain('no light passes')
  })

  it('hold most places inside their 95 % interval', () => {
    let covered = 0
    for (const seed of SEEDS) {
      const { field, result } = locate(seed, 'break')
      const [chainage] = field.chainages
      if (result.faults.some(({ interval95: [low, high] }) => low - 0.5 <= chainage! && chainage! <= high + 0.5))
        covered++
    }
    // Binomial, 12 at 95 %: fewer than 9 has a chance below 1 %.
    expect(covered).toBeGreaterThanOrEqual(9)
  })

  it('an echo that came with new reflections is no fault; a loss under it is', () => {
    for (const seed of [1, 2, 3, 4]) {
      const faultsOf = (faulty: boolean) => {
        const field = ghostCase(seed, faulty)
        const { faults } = locateFaults({
          plant: field.records,
          linkId: LINK,
          ...shootFieldCase(field, [1550], ['ab']),
        })
        const near = 30 + 2 * pulseLength(field.present.settings.pulseWidth!, 1.468)
        return { at: (k: number) => faults.filter((f) => Math.abs(f.chainage - field.chainages.at(k)!) < near), faults }
      }
      const sound = faultsOf(false)
      expect(sound.at(1), `seed ${seed}: the reflection itself`).toHaveLength(1)
      expect(sound.at(-1), `seed ${seed}: its echo`).toHaveLength(0)
      expect(faultsOf(true).at(-1).length, `seed ${seed}: a loss under the echo`).toBeGreaterThan(0)
    }
  })
})
