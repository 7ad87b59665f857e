import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { steadiness } from '../../prove/index.ts'
import { LossSet, standInLoss } from './lossSet.ts'

const SECOND = 0.25
const stream = (set: LossSet, count: number) => Array.from({ length: count }, () => set.next(SECOND))

describe('a simulated source and meter', () => {
  it('swings when its cords are plugged and comes to rest at the level less the loss, over fresh seeds', () => {
    for (let seed = 1; seed <= 50; seed++) {
      const set = new LossSet(seed)
      stream(set, 4 * 60 * 30)
      set.plug(4.2)
      expect(steadiness(stream(set, 4))?.steady).toBe(false)
      const rest = steadiness(stream(set, 20))
      expect(rest?.steady).toBe(true)
      expect(Math.abs(rest!.value - -14.2)).toBeLessThan(0.02)
    }
  })

  it('a cord that hangs over an edge never comes to rest, and the reason says what to do', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const set = new LossSet(seed)
      set.hanging = true
      set.plug(3)
      const all = stream(set, 60)
      const taken = Array.from({ length: 50 }, (_, k) => steadiness(all.slice(0, k + 10))!).filter(
        ({ steady }) => steady,
      )
      // A swing may rest for a second by chance, seldom.
      expect(taken.length).toBeLessThan(4)
      expect(all.some((_, k) => /lay the cords out loose/.test(steadiness(all.slice(0, k + 1))!.reason ?? ''))).toBe(
        true,
      )
    }
  })

  it('drifts by tenths of a decibel while it warms up', () => {
    const set = new LossSet(3)
    const [cold] = stream(set, 1)
    stream(set, 4 * 60 * 15)
    expect(cold! - set.next(SECOND)).toBeGreaterThan(0.2)
  })

  it('a link loses what its fiber, splices and connectors lose, within what such parts do', () => {
    const plant = twoCablePlant()
    // 3.157 km, two pairs, one splice: 1.08 + 0.44 + 0.05 dB at 1310 nm, 0.63 + 0.49 at 1550 nm, parts ± 30 %.
    const at = (wavelength: number) =>
      Array.from({ length: 40 }, (_, seed) => standInLoss(plant, 'l', wavelength, seed))
    for (const loss of at(1310)) expect(Math.abs(loss - 1.563)).toBeLessThan(0.16)
    for (const loss of at(1550)) expect(Math.abs(loss - 1.121)).toBeLessThan(0.16)
  })
})
