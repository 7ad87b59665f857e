import { layPosteriorFixture } from '../test/posterior.ts'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { guessDirection } from '../features/callout/guessDirection.ts'
import { distanceOfGround, groundOf, interpolate } from './polyline.ts'
import { buildPyramid, rangeOf } from './pyramid.ts'
import { suspicionOf } from './suspicion.ts'

describe('the min/max pyramid', () => {
  it('never loses a peak: its range holds that of the points themselves', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -60, max: 0, noNaN: true }), { minLength: 1, maxLength: 3000 }),
        fc.nat(3000),
        fc.nat(3000),
        (values, a, b) => {
          const from = Math.min(a, b, values.length - 1)
          const to = Math.min(values.length, Math.max(a, b) + 1)
          const range = rangeOf(buildPyramid(values), from, to)!
          for (const value of values.slice(from, to)) {
            expect(range[0]).toBeLessThanOrEqual(value)
            expect(range[1]).toBeGreaterThanOrEqual(value)
          }
        },
      ),
      { numRuns: 100, seed: 7 },
    )
  })

  it('passes gaps over', () => {
    const pyramid = buildPyramid([NaN, -3, NaN, NaN, -8, NaN])
    expect(rangeOf(pyramid, 0, 6)).toEqual([-8, -3])
    expect(rangeOf(pyramid, 2, 4)).toBeNull()
  })

  it('beyond its ends holds nothing', () => {
    expect(rangeOf(buildPyramid([1, 2, 3]), 10, 12)).toBeNull()
  })
})

describe('the ground ruler', () => {
  const map = { distance: [0, 100, 130, 330], ground: [0, 98, 98, 290] }

  it('reads between its points and straight on beyond', () => {
    expect(interpolate(map.distance, map.ground, 50)).toBeCloseTo(49, 9)
    expect(groundOf(map, 430)).toBeCloseTo(386, 9)
  })

  it('stands still in a coil: the distances in it are one place', () => {
    expect(groundOf(map, 105)).toBe(98)
    expect(groundOf(map, 125)).toBe(98)
  })

  it('goes back and forth outside coils, from either end', () => {
    const mirrored = { distance: map.distance, ground: map.ground.map((ground) => 290 - ground) }
    for (const one of [map, mirrored])
      for (const distance of [20, 80, 200, 300])
        expect(distanceOfGround(one, groundOf(one, distance))).toBeCloseTo(distance, 6)
  })
})

describe('suspicion for drawing', () => {
  it('keeps all of the belief, nodes apart from runs', () => {
    const drawn = suspicionOf(layPosteriorFixture())
    const inNodes = drawn.nodes.reduce((sum, node) => sum + node.probability, 0)
    const inRuns = drawn.runs.reduce((sum, run) => sum + run.perMetre * (run.to - run.from), 0)
    expect(inNodes + inRuns).toBeGreaterThan(0.98)
    expect(inNodes + inRuns).toBeLessThanOrEqual(1.000001)
    expect(drawn.most).toBe(Math.max(...drawn.runs.map((run) => run.perMetre)))
  })
})

it.each([
  ['tower-ab-1550.sor', 'ab'],
  ['X_BA.SOR', 'ba'],
  ['cable-slab-7.sor', null],
  ['abba.sor', null],
  ['basin.sor', null],
])('the direction that %s tells is %s', (name, direction) => {
  expect(guessDirection(name)).toBe(direction)
})
