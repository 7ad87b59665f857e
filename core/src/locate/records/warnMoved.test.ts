import { expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import type { PlantBundle } from '../../plant/index.ts'
import { locateFaults } from '../index.ts'

/** The path with 60 m coiled on each side of its middle closure, which was pulled so many metres towards one side. */
function pulledBy(metres: number): PlantBundle {
  const plant = twoCablePlant()
  const [before, after] = plant.nodes.find(({ id }) => id === 'n1')!.slack
  before!.sheath = 60 - metres
  after!.sheath = 60 + metres
  return plant
}

const warningsWith = (now: PlantBundle, loss: number) =>
  locateFaults({
    plant: now,
    linkId: 'l',
    // A joint that can be known again: with a loss of its own in both surveys.
    baseline: shootTwoCables([{ at: { node: 'n1' }, breaks: false, loss }], 1, pulledBy(0)),
    present: shootTwoCables([{ at: { node: 'n1' }, breaks: false, loss }], 11, now),
  })

it('a closure pulled along with its slack is said to have moved, from either end, and is no fault', () => {
  const { warnings, faults } = warningsWith(pulledBy(30), 0.4)
  const said = warnings.filter(({ code }) => code === 'event-moved')
  // 30 m of sheath are 30.2 m of fiber: nearer for one end, further for the other.
  expect(said.map(({ message }) => /\((.\d+) m\)/.exec(message)?.[1]).toSorted()).toEqual(['+30', '−30'])
  expect(faults).toEqual([])
})

it('nothing is said of one that stayed', () => {
  expect(warningsWith(pulledBy(0), 0.4).warnings.filter(({ code }) => code === 'event-moved')).toEqual([])
})
