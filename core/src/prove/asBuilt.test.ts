import { describe, expect, it } from 'vitest'
import { LINK } from '../../test/randomFault.ts'
import { repairCase, shootRepair } from '../../test/repairCases.ts'
import { twoCablePlant } from '../../test/plants.ts'
import { locateFaults, type Shot } from '../locate/index.ts'
import type { LoggedEntry } from '../log/standing.ts'
import { buildThread, placeAt, type PlantBundle } from '../plant/index.ts'
import { asBuilt, proveRepair } from './index.ts'

let count = 0
const splice = (some: object): LoggedEntry => ({
  id: `${count++}`,
  by: 'a',
  observedAt: '2026-01-01T03:00:00Z',
  supersedes: null,
  superseded: false,
  entry: { kind: 'splice', node: null, outcome: 'accepted', ...some } as LoggedEntry['entry'],
})
const ID = '01a0c0de-0000-7000-8000-000000000042'

describe('the record as built', () => {
  const plant = twoCablePlant()
  const [link] = plant.links
  const step = link!.path.find((one) => 'cable' in one)!
  const cable = plant.cables.find(({ id }) => id === (step as { cable: string }).cable)!
  const joint = (chainage: number, fiber = (step as { fiber: number }).fiber) =>
    splice({ cable: cable.id, fiber, chainage })

  it('a new closure stands where it is, and the links that were joined there run through it', () => {
    const { plant: made, changes } = asBuilt(plant, 'l', ID, [joint(700)], 0.5)
    const node = made.nodes.at(-1)!
    expect(node).toMatchObject({ kind: 'closure', chainage: 700, slack: [] })
    expect(made.links[0]!.path.slice(0, 3)).toEqual([step, { node: node.id, joint: 'splice' }, step])
    expect(buildThread(made, 'l').fiberLength).toBeCloseTo(buildThread(plant, 'l').fiberLength, 6)
    expect(changes).toEqual([
      {
        cable: cable.id,
        words: ['new closure at 700 m', `fiber ${(step as { fiber: number }).fiber}, ${link!.name}: spliced at 700 m`],
      },
    ])
    // The record that was read is left as it was.
    expect(plant.nodes).toHaveLength(made.nodes.length - 1)
  })

  it('a link whose fiber was not joined passes by; joints a few metres apart are one closure', () => {
    const { plant: made, changes } = asBuilt(plant, 'l', ID, [joint(700, 11), joint(702, 12)], null)
    expect(made.links[0]!.path).toEqual(link!.path)
    expect(changes[0]!.words).toEqual(['new closure at 700 m'])
  })

  it('fiber that was added lies coiled there; what was taken out came from the nearest coil', () => {
    const before = buildThread(plant, 'l').fiberLength
    expect(buildThread(asBuilt(plant, 'l', ID, [joint(700)], 24).plant, 'l').fiberLength).toBeCloseTo(before + 24, 6)
    const less = asBuilt(plant, 'l', ID, [joint(700)], -4)
    expect(buildThread(less.plant, 'l').fiberLength).toBeCloseTo(before - 4, 6)
    expect(less.changes[0]!.words.join()).toMatch(/taken from the coil at/)
    expect(asBuilt(plant, 'l', ID, [joint(700)], -4000).changes[0]!.words.join()).toMatch(/correct it by hand/)
  })

  it('nothing off the record changes nothing', () => {
    expect(asBuilt(plant, 'l', ID, [splice({ node: 'n1', chainage: 1000, cable: cable.id, fiber: 5 })], 12)).toEqual({
      plant,
      changes: [],
    })
  })
})

describe('the next fault on a link into which fiber was spliced', () => {
  it('is found where it is by the record as built and the new baseline, and is off by that length by the old ones', () => {
    const one = repairCase(11, 'length inserted')
    const { baseline, present, after } = shootRepair(one)
    const work = { newJoints: one.newJoints, redone: [], others: [] }
    const { added } = proveRepair({ plant: one.records, linkId: LINK, baseline, present, after, work })
    const inserted = buildThread(one.after, LINK).fiberLength - buildThread(one.truth, LINK).fiberLength
    expect(Math.abs(added! - inserted)).toBeLessThan(1)
    const cables = one.records.links[0]!.path.flatMap((step) => ('cable' in step ? [step] : []))
    const own = cables.find(({ cable }) => {
      const { from, to } = one.records.cables.find(({ id }) => id === cable)!
      return one.newJoints.every((chainage) => chainage > from && chainage < to)
    })!
    const log = one.newJoints.map((chainage) => splice({ ...own, chainage }))
    const { plant: made } = asBuilt(one.records, LINK, ID, log, added)
    // A second cut, well beyond the repair.
    const thread = buildThread(one.after, LINK)
    const fiber = 0.5 * (Math.max(...one.left.map(({ at }) => ('fiber' in at ? at.fiber : 0))) + thread.fiberLength)
    const truth = placeAt(thread, 'fiber', fiber).chainage
    const cut = shootRepair({ ...one, left: [...one.left, { at: { fiber }, breaks: true }] }).after
    const shotFromA = cut.filter(({ direction }) => direction === 'ab')
    const errorBy = (plant: PlantBundle, old: Shot[]) =>
      Math.abs(locateFaults({ plant, linkId: LINK, baseline: old, present: shotFromA }).faults[0]!.chainage - truth)
    expect(errorBy(made, after)).toBeLessThan(10)
    expect(inserted).toBeGreaterThan(20)
    expect(errorBy(one.records, baseline)).toBeGreaterThan(inserted / 2)
  }, 30_000)
})
