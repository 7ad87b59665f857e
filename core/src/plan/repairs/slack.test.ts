import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { slackFor } from './slack.ts'

// Sums by hand: 6 m to the bench and 2 m of preparation on each side, 1 m cut away.
const NEEDS = { toBench: 6, preparation: 2, lost: 1 }

/** The second cable from its closure (chainage 1000) to its end (3000), with coils as given. */
function withCoils(atClosure: number, atEnd: number, passing = 0) {
  const plant = twoCablePlant()
  for (const node of plant.nodes) node.slack = node.slack.filter((slack) => slack.cable !== 'b')
  plant.nodes.find(({ id }) => id === 'n1')!.slack.push({ cable: 'b', side: 'after', sheath: atClosure })
  plant.nodes.find(({ id }) => id === 'n2')!.slack.push({ cable: 'b', side: 'before', sheath: atEnd })
  if (passing > 0)
    plant.nodes.push({
      id: 'passed',
      name: 'Hand-hole',
      kind: 'handhole',
      routeId: 'r',
      chainage: 1500,
      slack: [{ cable: 'b', side: 'through', sheath: passing }],
    })
  return plant
}

describe('slack for one closure at a break', () => {
  it('is enough when it holds both working lengths and what is cut away, and says what remains', () => {
    expect(slackFor(withCoils(12, 14), 'b', 2000, NEEDS)).toMatchObject({
      needed: 17,
      available: 26,
      short: 0,
      shift: 0,
      remains: { before: 4, after: 5 },
    })
  })

  it('of one side helps the other when the closure moves towards the side with too little', () => {
    // 2 m here, 20 m there: the closure stands 6 m nearer to lower chainage, where 6 m more of cable become free.
    expect(slackFor(withCoils(2, 20), 'b', 2000, NEEDS)).toMatchObject({
      short: 0,
      shift: -6,
      remains: { before: 0, after: 5 },
    })
    expect(slackFor(withCoils(20, 2), 'b', 2000, NEEDS)).toMatchObject({
      short: 0,
      shift: 6,
      remains: { before: 5, after: 0 },
    })
  })

  it('that does not reach says by how much', () => {
    const sum = slackFor(withCoils(5, 10), 'b', 2000, NEEDS)
    expect(sum.short).toBe(2)
    expect(sum.remains).toBeNull()
  })

  it('is drawn from a coil that passes uncut too, nearest first', () => {
    const sum = slackFor(withCoils(5, 10, 8), 'b', 2000, NEEDS)
    expect(sum.before).toEqual([
      { node: 'passed', sheath: 8 },
      { node: 'n1', sheath: 5 },
    ])
    expect(sum).toMatchObject({ available: 23, short: 0 })
  })

  it('of the other cable at a closure counts for nothing', () => {
    expect(slackFor(twoCablePlant(), 'b', 1500, NEEDS).before).toEqual([{ node: 'n1', sheath: 14 }])
  })
})
