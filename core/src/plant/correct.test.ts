import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { correctCable, correctionInWords, PlantError } from './index.ts'

describe('a cable’s record put right', () => {
  const plant = twoCablePlant()
  const [cable] = plant.cables
  const used = plant.links[0]!.path[0] as { cable: string; fiber: number }

  it('changes that cable and nothing else, and leaves the plant it was given as it was', () => {
    const before = structuredClone(plant)
    const after = correctCable(plant, cable!.id, { fiberCount: 96, tubeSize: 6, outerDiameter: 0.0131 })
    expect(after.cables[0]).toEqual({ ...cable, fiberCount: 96, tubeSize: 6, outerDiameter: 0.0131 })
    expect({ ...after, cables: after.cables.slice(1) }).toEqual({ ...before, cables: before.cables.slice(1) })
    expect(plant).toEqual(before)
  })

  it.each<[string, string, object, string, RegExp]>([
    ['a cable that is not there', 'nowhere', {}, 'cable', /no cable “nowhere”/],
    ['fewer fibers than one tube', cable!.id, { fiberCount: 6, tubeSize: 12 }, 'cables[0].tubeSize', /12 in a tube/],
    ['ribbons that are none', cable!.id, { construction: 'ribbon', tubeSize: 7 }, 'cables[0]', /not 1 to 12 ribbons/],
    [
      'fewer fibers than a link needs',
      cable!.id,
      { fiberCount: used.fiber - 1, tubeSize: 1 },
      'cables[0].fiberCount',
      /put the link right first/,
    ],
  ])('%s is refused with its place', (_name, id, changes, path, message) => {
    try {
      correctCable(plant, id, changes)
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(PlantError)
      expect([(error as PlantError).place, (error as PlantError).message]).toEqual([
        path,
        expect.stringMatching(message),
      ])
    }
  })

  it('is told with what was on record, and what does not change is not told', () => {
    const record = { ...cable!, fiberCount: 48, armored: false }
    expect(
      correctionInWords(record, { fiberCount: 44, tubeSize: record.tubeSize, armored: true, outerDiameter: 0.01315 }),
    ).toEqual(['fibers: 44, on record 48', 'outer diameter: 13.15 mm, not on record', 'armor: yes, on record no'])
  })
})
