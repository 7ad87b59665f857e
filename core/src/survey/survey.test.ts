import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { calibrate } from '../locate/records/calibrate.ts'
import { analyzeTrace, decodeTrace } from '../trace/index.ts'
import { shootFiber, type Damage } from '../sim/index.ts'
import { groupsOf } from './groups.ts'
import { matchFibers, type FileFacts } from './matchFibers.ts'
import { patternOf, type PatternFacts } from './patterns.ts'
import { readFiber, type FiberReading } from './readFiber.ts'
import { surveyCable } from './surveyCable.ts'

const CABLE = { fiberCount: 144, tubeSize: 12, construction: 'loose-tube', colorOrder: 'TIA-598' }
const ENDS = { from: 'West panel', to: 'East panel' }
const facts = (fileName: string, fiberId = '', change: Partial<FileFacts> = {}): FileFacts => ({
  fileName,
  fiberId,
  locationA: 'West panel',
  locationB: 'East panel',
  wavelength: 1550,
  ...change,
})

describe('groups of a cable', () => {
  it('take the colours of the order: tube 3 is green, tube 13 blue with a black tracer (TIA-598-D)', () => {
    const groups = groupsOf({ ...CABLE, fiberCount: 288 })
    expect(groups).toHaveLength(24)
    expect(groups[2]).toMatchObject({ word: 'tube', color: 'green', first: 25, last: 36 })
    expect(groups[12]!.color).toBe('blue with black tracer')
    expect(groups[19]!.color).toBe('black with yellow tracer')
  })

  it('of a rollable-ribbon cable are bundles: fiber 1000 of 1728 lies in bundle 7 (common practice)', () => {
    const groups = groupsOf({ ...CABLE, construction: 'rollable-ribbon', fiberCount: 1728, tubeSize: 144 })
    expect(groups.find((group) => 1000 <= group.last)).toMatchObject({ number: 7, word: 'bundle' })
  })
})

describe('files are matched to fibers', () => {
  it('by the number in the file and in its name', () => {
    const files = Array.from({ length: 144 }, (_, k) =>
      facts(`TN-4_F${String(k + 1).padStart(3, '0')}_1550.sor`, `${k + 1}`),
    )
    const matches = matchFibers(files, CABLE, ENDS)
    expect(matches.map((match) => match.fiber)).toEqual(files.map((_, k) => k + 1))
    expect(matches.every((match) => match.by === 'file and name' && match.doubt === null)).toBe(true)
  })

  it('by the name alone when the instrument wrote one number into all', () => {
    const matches = matchFibers(
      [1, 2, 3, 4].map((n) => facts(`weir ${n}.sor`, '1')),
      CABLE,
      ENDS,
    )
    expect(matches.map(({ fiber, by }) => [fiber, by])).toEqual([1, 2, 3, 4].map((n) => [n, 'name']))
  })

  it('by tube and fiber when the file counts so', () => {
    const matches = matchFibers([facts('a.sor', 'T3-F5'), facts('b.sor', 'tube 12 fiber 12')], CABLE, ENDS)
    expect(matches.map(({ fiber }) => fiber)).toEqual([29, 144])
  })

  it('what disagrees, is missing, comes twice or tells no end is doubtful', () => {
    const [disagrees, twice, , missing] = matchFibers(
      [facts('F012.sor', '13'), facts('F020.sor', '20'), facts('F020.sor', '20'), facts('new trace.sor')],
      CABLE,
      ENDS,
    )
    expect(disagrees).toMatchObject({ fiber: null, doubt: 'the file says fiber 13, its name 12' })
    expect(twice!.doubt).toBeNull()
    expect(missing!.doubt).toMatch(/no fiber number/)
    const again = matchFibers([facts('F020.sor', '20'), facts('F020.sor', '20')], CABLE, ENDS)
    expect(again[1]!.doubt).toMatch(/comes twice/)
    const [nowhere] = matchFibers([facts('F1.sor', '1', { locationA: '', locationB: '' })], CABLE, ENDS)
    expect(nowhere).toMatchObject({ direction: null, fiber: 1, doubt: 'its direction is not told' })
  })

  it('a file of another link that shares one end is doubtful', () => {
    const [other] = matchFibers([facts('F1.sor', '1', { locationA: 'Mill panel' })], CABLE, ENDS)
    expect(other!.doubt).toBe('the file says Mill panel to East panel: another link')
  })

  it('the two wavelengths and the two ends of a fiber are no doubles', () => {
    const files = [1310, 1550].flatMap((wavelength) => [
      facts(`F1 ${wavelength} a.sor`, '1', { wavelength }),
      facts(`F1 ${wavelength} b.sor`, '1', { wavelength, locationA: 'East panel', locationB: 'West panel' }),
    ])
    const matches = matchFibers([...files, facts('F2 1310 a.sor', '2', { wavelength: 1310 })], CABLE, ENDS)
    expect(matches.map(({ doubt }) => doubt)).toEqual([null, null, null, null, null])
    expect(matches.map(({ direction }) => direction)).toEqual(['ab', 'ba', 'ab', 'ba', 'ab'])
  })
})

// What each pattern means is common practice, no source.
describe('the pattern of the fibers hit', () => {
  const groups = groupsOf({ ...CABLE, fiberCount: 48 })
  const all = Array.from({ length: 48 }, (_, k) => k + 1)
  const named = (hit: number[], change: Partial<PatternFacts> = {}) =>
    patternOf({ hit, read: all, groups, spread: 0.5, sigma: 1, breaks: true, atPanel: false, atNode: true, ...change })
      .pattern

  it.each([
    ['all of them at one place is a cut', all, {}, 'whole-cable'],
    ['all of them far apart is a pull', all, { spread: 40 }, 'pulled'],
    ['far apart, yet no further than measuring is unsure, is no pull', all, { spread: 40, sigma: 30 }, 'whole-cable'],
    ['one tube points to a closure or tray', all.slice(12, 24), {}, 'one-group'],
    ['one tube away from any closure is said to be odd', all.slice(12, 24), { atNode: false }, 'one-group-in-run'],
    ['two tubes whole, the others sound', all.slice(12, 36), {}, 'several-groups'],
    ['some of several tubes', [3, 14, 27, 40], {}, 'scattered'],
    ['one alone', [17], {}, 'one-fiber'],
    ['at a panel dirt comes first', all.slice(0, 12), { atPanel: true }, 'at-panel'],
  ])('%s', (_, hit, change, pattern) => {
    expect(named(hit, change)).toBe(pattern)
  })
})

describe('a surveyed cable', () => {
  const plant = twoCablePlant()
  const link = plant.links[0]!
  const shots = (fiber: number, damages: Damage[], directions: ('ab' | 'ba')[] = ['ab']): FiberReading[] =>
    directions.map((direction) => {
      const content = shootFiber(plant, link.id, fiber, 5, {
        direction,
        wavelength: 1550,
        cords: { launch: 200, receive: 200 },
        takenAt: '2026-03-01T00:00:00Z',
        condition: 'CC',
        seed: fiber * 10 + (direction === 'ab' ? 1 : 2),
        damages,
      })
      const present = {
        name: `${fiber}`,
        direction,
        launch: 200,
        receive: 200,
        analysis: analyzeTrace(decodeTrace(content)),
      }
      return readFiber(plant, link.id, fiber, present, [])
    })
  const cable = plant.cables.find(({ id }) => id === (link.path[0] as { cable: string }).cable)!
  const middle = (cable.from + cable.to) / 2
  const survey = (readings: FiberReading[]) => surveyCable(cable, readings, calibrate(plant, link.id, []))

  it('cut at one place: all fibers broken there, placed within the interval', () => {
    const cut = (fiber: number) =>
      shots(fiber, [{ at: { chainage: middle }, breaks: true, reflectance: null }], ['ab', 'ba'])
    const { places, fibers } = survey([1, 2, 3, 4, 5, 6].flatMap(cut))
    expect(places).toHaveLength(1)
    expect(places[0]).toMatchObject({
      breaks: true,
      loss: null,
      fibers: expect.arrayContaining([1, 2, 3, 4, 5, 6]) as number[],
    })
    expect(places[0]!.interval95[0]).toBeLessThan(middle + 0.5)
    expect(places[0]!.interval95[1]).toBeGreaterThan(middle - 0.5)
    for (const fiber of fibers) {
      expect(fiber.state).toBe('broken')
      // Light reaches the cut from both ends.
      expect(Math.abs(fiber.litFrom! - fiber.litTo!)).toBeLessThan(25)
    }
  })

  it('pulled: breaks scattered along the cable', () => {
    const pulled = [1, 2, 3, 4, 5, 6].flatMap((fiber) =>
      shots(fiber, [{ at: { chainage: middle - 75 + 30 * fiber }, breaks: true, reflectance: null }]),
    )
    const { places } = survey(pulled)
    expect(places[0]).toMatchObject({ pattern: 'pulled' })
    expect(places[0]!.extent[1] - places[0]!.extent[0]).toBeGreaterThan(120)
  })

  it('sound fibers are sound, and fibers without a trace are missed', () => {
    const { places, fibers, missing } = survey([1, 2, 3].flatMap((fiber) => shots(fiber, [])))
    expect(places).toEqual([])
    expect(fibers.map(({ state }) => state)).toEqual(['sound', 'sound', 'sound'])
    expect(missing).toEqual([4, 5, 6, 7, 8, 9, 10, 11, 12])
  })
})
