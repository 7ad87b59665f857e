import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import type { PlantBundle } from '../../plant/index.ts'
import { locateFaults } from '../index.ts'

/** The path with so many metres of sheath more at its middle closure. */
function reroutedBy(metres: number): PlantBundle {
  const plant = twoCablePlant()
  plant.nodes.find(({ id }) => id === 'n1')!.slack[0]!.sheath += metres
  return plant
}

const NOW = reroutedBy(200)
const before = twoCablePlant()
const locate = (plant: PlantBundle, baselineOf: PlantBundle, presentOf: PlantBundle, fault?: number) =>
  locateFaults({
    plant,
    linkId: 'l',
    baseline: shootTwoCables([], 1, baselineOf),
    present: shootTwoCables(
      fault === undefined ? [] : [{ at: { chainage: fault }, breaks: false, loss: 0.8 }],
      11,
      presentOf,
    ),
  })
const codes = (result: ReturnType<typeof locate>) => result.warnings.map(({ code }) => code)

describe('a baseline older than a rerouting', () => {
  it('is left out with its date and by how much it differs, when a present trace confirms the record', () => {
    const result = locate(NOW, before, NOW, 2300)
    const said = result.warnings.filter(({ code }) => code === 'baseline-outdated')
    expect(said).toHaveLength(2)
    // 200 m of sheath are 201 m of fiber in this cable.
    expect(said[0]!.message).toMatch(/taken 2026-01-01, shows \d+ m between its cords, 20[0-2] m less than the record/)
    expect(result.faults).toHaveLength(1)
    expect(Math.abs(result.faults[0]!.chainage - 2300)).toBeLessThan(30)
  })

  it('that nothing confirms is kept, and said', () => {
    const result = locate(NOW, before, before)
    expect(codes(result).filter((code) => code === 'baseline-length')).toHaveLength(2)
    expect(codes(result)).not.toContain('baseline-outdated')
    expect(result.pairings).toHaveLength(2)
  })

  it('of the path as it is recorded raises no word, nor does a record that is off by what records are off', () => {
    for (const metres of [0, 8, -8]) {
      const truth = reroutedBy(200 + metres)
      expect(codes(locate(NOW, truth, truth, 2300)).filter((code) => code.startsWith('baseline-'))).toEqual([])
    }
  })
})
