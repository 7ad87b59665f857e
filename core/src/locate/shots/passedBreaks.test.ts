import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootLink, type Damage } from '../../sim/index.ts'
import { analyzeTrace, decodeTrace } from '../../trace/index.ts'
import { locateFaults, type Shot } from '../index.ts'

const plant = twoCablePlant()
const BREAK: Damage = { at: { fiber: 1800 }, breaks: true, loss: 1 }

function shot(direction: 'ab' | 'ba', wavelength: number, seed: number, damages: Damage[] = []): Shot {
  const bytes = shootLink(
    plant,
    'l',
    { seed: 9 },
    {
      direction,
      wavelength,
      cords: { launch: 500, receive: 500 },
      takenAt: '2026-01-01T00:00:00Z',
      condition: 'OT',
      seed,
      damages,
    },
  )
  const name = `${direction} ${wavelength}`
  return { name, direction, analysis: analyzeTrace(decodeTrace(bytes)), launch: 500, receive: 500 }
}

const baseline = [shot('ab', 1310, 1), shot('ba', 1310, 2), shot('ab', 1550, 3), shot('ba', 1550, 4)]
const locate = (present: Shot[]) => locateFaults({ plant, linkId: 'l', baseline, present })

describe('a trace that ends where others see light beyond', () => {
  it('shows no break, and that is said with the traces that pass', () => {
    const { faults, warnings } = locate([shot('ab', 1310, 11, [BREAK]), shot('ab', 1550, 12), shot('ba', 1550, 13)])
    expect(faults).toEqual([])
    const said = warnings.find(({ code }) => code === 'evidence-conflict')!
    expect(said.message).toMatch(/1310 nm from the near end ends 1[78]\d\d m.*ab 1550, ba 1550 see light beyond/)
  })

  it('shows one as long as no more traces pass it than end there', () => {
    for (const present of [
      [shot('ab', 1310, 11, [BREAK]), shot('ba', 1550, 13)],
      [shot('ab', 1310, 11, [BREAK]), shot('ab', 1550, 12, [BREAK]), shot('ba', 1550, 13), shot('ba', 1310, 14)],
    ]) {
      const { faults } = locate(present)
      expect(faults).toHaveLength(1)
      expect(faults[0]!.breaks).toBe(true)
    }
  })

  it('is not passed by traces that end at the break themselves', () => {
    const present = baseline.map(({ direction, analysis }, k) =>
      shot(direction, analysis.trace.wavelength, 21 + k, [BREAK]),
    )
    const { faults, warnings } = locate(present)
    expect(faults.map(({ breaks }) => breaks)).toEqual([true])
    expect(warnings.filter(({ code }) => code === 'evidence-conflict')).toEqual([])
  })
})
