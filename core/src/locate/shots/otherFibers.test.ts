import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import type { PlantBundle } from '../../plant/index.ts'
import { locateFaults, type Shot } from '../index.ts'

/** A fiber that ends elsewhere: the second cable is so much longer, and the splice lies 200 m further. */
function anotherPath(longer: number): PlantBundle {
  const plant = twoCablePlant()
  const [a, b] = plant.cables
  a!.to = b!.from = 1200
  b!.to += longer
  plant.nodes.find(({ id }) => id === 'n1')!.chainage = 1200
  plant.nodes.find(({ id }) => id === 'n2')!.chainage += longer
  plant.routes[0]!.length += Math.max(0, longer)
  return plant
}

const baseline = shootTwoCables([{ at: { node: 'n1' }, breaks: false, loss: 0.2 }], 1)
const locate = (present: Shot[]) => locateFaults({ plant: twoCablePlant(), linkId: 'l', baseline, present })
const codes = (present: Shot[]) => locate(present).warnings.map(({ code }) => code)
/** Files without ids, as many instruments write them. */
const nameless = (shots: Shot[]) =>
  shots.map((shot) => ({
    ...shot,
    analysis: { ...shot.analysis, trace: { ...shot.analysis.trace, cableId: '', fiberId: '' } },
  }))

describe('a trace of another fiber, without a name in the file', () => {
  it.each([-900, 700])('that is %i m longer is left out, and said, not taken for a break', (longer) => {
    const present = nameless(shootTwoCables([], 11, anotherPath(longer)))
    const { faults, warnings } = locate(present)
    expect(faults).toEqual([])
    const said = warnings.filter(({ code }) => code === 'other-fiber')
    expect(said).toHaveLength(2)
    expect(said[0]!.message).toMatch(/500 m of cord: it shows a whole fiber of \d+ m, not the \d+ m of this link/)
  })

  it('is not seen in one that breaks', () => {
    const broken = nameless(shootTwoCables([{ at: { chainage: 1900 }, breaks: true, loss: 60 }], 11))
    expect(codes(broken)).not.toContain('other-fiber')
    expect(locate(broken).faults).toHaveLength(1)
  })

  it('nor where the record’s length is wrong and the baseline has the same', () => {
    const plant = anotherPath(900)
    const sameAsEver = nameless(shootTwoCables([], 1, plant))
    const { warnings } = locateFaults({
      plant: twoCablePlant(),
      linkId: 'l',
      baseline: sameAsEver,
      present: nameless(shootTwoCables([], 11, plant)),
    })
    expect(warnings.map(({ code }) => code)).not.toContain('other-fiber')
  })

  it('nor told where a cord is not known', () => {
    const present = nameless(shootTwoCables([], 11, anotherPath(-900))).map((shot) => ({ ...shot, launch: null }))
    expect(codes(present)).not.toContain('other-fiber')
  })

  it('nor in one whose path was made longer behind a joint that stayed', () => {
    const plant = twoCablePlant()
    plant.nodes.find(({ id }) => id === 'n2')!.slack[0]!.sheath += 300
    const longer = shootTwoCables([{ at: { node: 'n1' }, breaks: false, loss: 0.2 }], 11, plant)
    expect(codes(longer)).not.toContain('other-fiber')
  })
})
