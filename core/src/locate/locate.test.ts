import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { randomFaultCase, shootCase } from '../../test/randomFault.ts'
import { shootTwoCables } from '../../test/shootTwoCables.ts'
import type { Damage } from '../sim/index.ts'
import { pulseLength } from '../units/index.ts'
import { locateFaults, type Evidence } from './index.ts'

const plant = twoCablePlant()
const locate = (damages: Damage[], baseline = shootTwoCables([])) =>
  locateFaults({ plant, linkId: 'l', baseline, present: shootTwoCables(damages, 70) })

describe('placing a fault on the ground', () => {
  it('a break between nodes lies within its interval, pinned from both sides', () => {
    const [fault, ...others] = locate([{ at: { chainage: 1500 }, breaks: true, reflectance: -30 }]).faults
    expect(others).toEqual([])
    expect(fault!.breaks).toBe(true)
    expect(Math.abs(fault!.chainage - 1500)).toBeLessThan(10)
    expect(fault!.interval95[0]).toBeLessThanOrEqual(1500)
    expect(fault!.interval95[1]).toBeGreaterThanOrEqual(1500)
    expect(fault!.goodEnoughToDig).toBe(true)
    expect(fault!.loss).toEqual({ '1550': null })
  })

  it('a splice that got worse is at its closure', () => {
    const [fault] = locate([{ at: { node: 'n1' }, breaks: false, loss: 0.8 }]).faults
    expect(fault!.places[0]!.node).toBe('n1')
    expect(fault!.loss['1550']!).toBeCloseTo(0.8, 1)
  })

  it('a link that reads like its baseline has no fault', () => {
    expect(locate([]).faults).toEqual([])
  })

  it('without a baseline a break short of the record is still found, and the lack is said', () => {
    const { faults, warnings } = locate([{ at: { chainage: 1500 }, breaks: true }], [])
    expect(faults.some((fault) => fault.breaks)).toBe(true)
    expect(warnings.map((warning) => warning.code)).toContain('no-baseline')
  })

  it('an unknown link is refused by name', () => {
    expect(() => locateFaults({ plant, linkId: 'x', baseline: [], present: [] })).toThrow(/"x"/)
  })

  it('of 12 fresh faults on random plants with wrong records, 11 or more lie within 10 m and a pulse length', () => {
    let within = 0
    for (let seed = 501; seed <= 512; seed++) {
      const fault = randomFaultCase(seed)
      const { faults } = locateFaults({ plant: fault.records, linkId: fault.linkId, ...shootCase(fault) })
      const reach = 10 + pulseLength(fault.pulseWidth, 1.468)
      if (faults.some((found) => Math.abs(found.chainage - fault.chainage) <= reach)) within++
    }
    expect(within).toBeGreaterThanOrEqual(11)
  })
})

it('evidence that is alone contradicts nothing: where neighbours show a fault is taken without a word', () => {
  const neighbours = { kind: 'neighbours', affected: true, traced: { fibers: 12, chainage: 1500, within: 10 } } as const
  const opened = { kind: 'neighbours', affected: true, traced: { fibers: 3, chainage: 2800, within: 10 } } as const
  const said = (evidence: readonly Evidence[]) =>
    locateFaults({ plant, linkId: 'l', baseline: [], present: [], evidence })
  const alone = said([neighbours])
  expect(alone.warnings).toEqual([])
  expect(Math.abs(alone.faults[0]!.chainage - 1500)).toBeLessThan(100)
  expect(said([neighbours, opened]).warnings.map(({ code }) => code)).toEqual(['evidence-unexpected'])
})
