import { describe, expect, it } from 'vitest'
import { LINK } from '../../../test/randomFault.ts'
import { repairCase, shootRepair } from '../../../test/repairCases.ts'
import { twoCablePlant } from '../../../test/plants.ts'
import { locateFaults, type Shot } from '../../locate/index.ts'
import type { LoggedEntry } from '../../log/standing.ts'
import { buildThread, placeAt, type PlantBundle } from '../../plant/index.ts'
import { asBuilt, proveRepair, type PlannedSection } from '../index.ts'

let count = 0
const splice = (some: object): LoggedEntry => ({
  id: `${count++}`,
  by: 'a',
  observedAt: '2026-01-01T03:00:00Z',
  supersedes: null,
  superseded: false,
  entry: { kind: 'splice', node: null, outcome: 'accepted', ...some } as LoggedEntry['entry'],
})
/** What was done on a link, by its log. */
const done = (linkId: string, log: LoggedEntry[], added: number | null, section: PlannedSection | null = null) => ({
  linkId,
  calloutId: '01a0c0de-0000-7000-8000-000000000042',
  log,
  added,
  section,
})

describe('the record as built', () => {
  const plant = twoCablePlant()
  const [link] = plant.links
  const step = link!.path.find((one) => 'cable' in one)!
  const cable = plant.cables.find(({ id }) => id === (step as { cable: string }).cable)!
  const joint = (chainage: number, fiber = (step as { fiber: number }).fiber) =>
    splice({ cable: cable.id, fiber, chainage })

  it('a new closure stands where it is, and the links that were joined there run through it', () => {
    const { plant: made, changes } = asBuilt(plant, done('l', [joint(700)], 0.5))
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
    const { plant: made, changes } = asBuilt(plant, done('l', [joint(700, 11), joint(702, 12)], null))
    expect(made.links[0]!.path).toEqual(link!.path)
    expect(changes[0]!.words).toEqual(['new closure at 700 m'])
  })

  it('fiber that was added lies coiled there; what was taken out came from the nearest coil', () => {
    const before = buildThread(plant, 'l').fiberLength
    expect(buildThread(asBuilt(plant, done('l', [joint(700)], 24)).plant, 'l').fiberLength).toBeCloseTo(before + 24, 6)
    const less = asBuilt(plant, done('l', [joint(700)], -4))
    expect(buildThread(less.plant, 'l').fiberLength).toBeCloseTo(before - 4, 6)
    expect(less.changes[0]!.words.join()).toMatch(/taken from the coil at/)
    expect(asBuilt(plant, done('l', [joint(700)], -4000)).changes[0]!.words.join()).toMatch(/correct it by hand/)
  })

  it('nothing off the record changes nothing', () => {
    expect(asBuilt(plant, done('l', [splice({ node: 'n1', chainage: 1000, cable: cable.id, fiber: 5 })], 12))).toEqual({
      plant,
      changes: [],
    })
  })
})

describe('a section of new cable', () => {
  const plant = twoCablePlant()
  const [link] = plant.links
  const own = link!.path.find((step) => 'cable' in step) as { cable: string; fiber: number }
  const joint = (chainage: number, fiber = own.fiber) => splice({ cable: own.cable, fiber, chainage })
  const planned = { cable: own.cable, chainage: 610 }
  const length = (of: PlantBundle) => buildThread(of, 'l').fiberLength

  it('gets a record between its two closures, of the old cable’s kind; links joined at both run through it', () => {
    const { plant: made, changes } = asBuilt(plant, done('l', [joint(640), joint(580)], 30, planned))
    const laid = made.cables.at(-1)!
    const old = plant.cables[0]!
    expect(laid).toEqual({
      ...old,
      id: 'a-section-580',
      from: 580,
      to: 640,
      spans: [{ from: 580, to: 640, environment: 'duct' }],
    })
    const [begin, end] = made.nodes.slice(-2)
    expect(made.links[0]!.path.slice(0, 5)).toEqual([
      own,
      { node: begin!.id, joint: 'splice' },
      { ...own, cable: laid.id },
      { node: end!.id, joint: 'splice' },
      own,
    ])
    // What it added lies at its ends, and the way is longer by just that.
    const sheath = 15 / 1.005
    expect(begin!.slack).toEqual([{ cable: laid.id, side: 'after', sheath }])
    expect(end!.slack).toEqual([{ cable: laid.id, side: 'before', sheath }])
    expect(length(made)).toBeCloseTo(length(plant) + 30, 6)
    expect(changes[0]!.words).toContainEqual(
      'new section a-section-580 between 580 m and 640 m, on record as the same kind of cable: correct it where it is another',
    )
    expect(changes[0]!.words).toContain('29.9 m of cable more, half of it coiled at each of its closures')
    // From the other end it is as long.
    expect(buildThread(made, 'l', 'ba').fiberLength).toBeCloseTo(length(made), 9)
    expect(plant.cables).toHaveLength(2)
  })

  it('lies between the closures that the planned place is between, where there are more than two', () => {
    const log = [200, 400, 600, 700].map((chainage) => joint(chainage))
    const at = (chainage: number) =>
      asBuilt(plant, done('l', log, null, { ...planned, chainage })).plant.cables.map(({ from, to }) => [from, to])
    expect(at(310).at(-1)).toEqual([200, 400])
    expect(at(650).at(-1)).toEqual([600, 700])
  })

  it('a link that was joined at one end of it only stays where it was, and is told', () => {
    const { plant: made, changes } = asBuilt(plant, done('l', [joint(580), joint(640, 12)], 30, planned))
    expect(made.cables).toHaveLength(2)
    expect(changes[0]!.words.join()).toContain(`${link!.name} was joined at one end of the new section only`)
  })

  it('less fiber than before came out of a coil; a second section at the same place gets another name', () => {
    const once = asBuilt(plant, done('l', [joint(580), joint(640)], -5, planned)).plant
    expect(length(once)).toBeCloseTo(length(plant) - 5, 6)
    const again = asBuilt(
      { ...plant, cables: [...plant.cables, { ...plant.cables[0]!, id: 'a-section-580' }] },
      done('l', [joint(580), joint(640)], 0, planned),
    ).plant
    expect(again.cables.at(-1)!.id).toBe('a-section-580-2')
  })

  it('a coil that it goes round is in the way no more; how long the way is stays as it was measured', () => {
    const own = { cable: 'b', fiber: 3 }
    const log = [1980, 2030].map((chainage) => splice({ ...own, chainage }))
    const round = (added: number | null) => asBuilt(plant, done('l', log, added, { cable: 'b', chainage: 2000 }))
    for (const added of [25, 0, -6, -60]) {
      const { plant: made, changes } = round(added)
      expect(length(made), `${added} m`).toBeCloseTo(
        added === -60 ? length(plant) - 30 * 1.01 : length(plant) + added,
        6,
      )
      expect(changes[0]!.words).toContain('the coil of 30.0 m at Hand-hole is in the links’ way no more')
      // The other coils of the record are too short for so much.
      expect(changes[0]!.words.join().includes('correct it by hand')).toBe(added === -60)
    }
    expect(length(round(null).plant)).toBeCloseTo(length(plant) - 30 * 1.01, 6)
  })

  it('planned, but joined at one place only, is none', () => {
    const { plant: made } = asBuilt(plant, done('l', [joint(600)], 24, planned))
    expect(made.cables).toHaveLength(2)
    expect(length(made)).toBeCloseTo(length(plant) + 24, 6)
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
    const built = (chainages: number[], section: PlannedSection | null) => {
      const log = chainages.map((chainage) => splice({ ...own, chainage }))
      return asBuilt(one.records, done(LINK, log, added, section)).plant
    }
    // A second cut, well beyond the repair.
    const thread = buildThread(one.after, LINK)
    const fiber = 0.5 * (Math.max(...one.left.map(({ at }) => ('fiber' in at ? at.fiber : 0))) + thread.fiberLength)
    const truth = placeAt(thread, 'fiber', fiber).chainage
    const cut = shootRepair({ ...one, left: [...one.left, { at: { fiber }, breaks: true }] }).after
    const shotFromA = cut.filter(({ direction }) => direction === 'ab')
    const errorBy = (plant: PlantBundle, old: Shot[]) =>
      Math.abs(locateFaults({ plant, linkId: LINK, baseline: old, present: shotFromA }).faults[0]!.chainage - truth)
    expect(errorBy(built(one.newJoints, null), after)).toBeLessThan(10)
    // The same where the fiber came with a section of new cable.
    const [chainage] = one.newJoints as [number]
    const asSection = built([chainage - 20, chainage + 20], { cable: own.cable, chainage })
    expect(asSection.cables).toHaveLength(one.records.cables.length + 1)
    expect(errorBy(asSection, after)).toBeLessThan(10)
    expect(inserted).toBeGreaterThan(20)
    expect(errorBy(one.records, baseline)).toBeGreaterThan(inserted / 2)
  })
})
