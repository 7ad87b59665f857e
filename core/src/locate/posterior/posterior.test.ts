import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { buildThread, fiberAtChainage } from '../../plant/index.ts'
import { normalCumulative } from '../../units/normal.ts'
import {
  gatherPlaces,
  groundQuantile,
  layPosterior,
  placeClasses,
  placeEntropy,
  summarize,
  weigh,
} from './posterior.ts'

const thread = buildThread(twoCablePlant(), 'l')
const inRun = fiberAtChainage(thread, 500)
const total = (cells: { weight: number }[]) => cells.reduce((sum, cell) => sum + cell.weight, 0)

describe('where a fault may be', () => {
  it('adds up to one over joints, coils and runs', () => {
    for (const nature of ['break', 'loss', 'reflection'] as const)
      expect(total(layPosterior(thread, { fiber: inRun, sigma: 30 }, nature).cells)).toBeCloseTo(1, 9)
  })

  it('between nodes is the normal distribution of the measurement, on the ground', () => {
    const posterior = layPosterior(thread, { fiber: inRun, sigma: 5 }, 'break')
    const factor = 1.01 * 1.005
    // Far from any node the 95 % interval is ±1.96 σ of fiber, divided by fiber per ground metre.
    const { interval95, chainage } = summarize(posterior)
    expect(chainage).toBeCloseTo(500, 0)
    // What a chainage may be off by on the ground, 1.5 m, is independent of it.
    expect(interval95[1] - interval95[0]).toBeCloseTo(2 * 1.96 * Math.hypot(5 / factor, 1.5), 0)
    expect(groundQuantile(posterior, normalCumulative(1)).chainage).toBeCloseTo(500 + 5 / factor, 0)
  })

  it('inside a coil stands still on the ground: the interval is what its chainage may be off by', () => {
    const node = thread.nodes.find((candidate) => candidate.joint === 'splice')!
    const { places, interval95 } = summarize(layPosterior(thread, { fiber: node.fiber, sigma: 0.5 }, 'loss'))
    expect(places[0]!.node).toBe(node.id)
    expect(places[0]!.probability).toBeGreaterThan(0.99)
    expect(interval95[1] - interval95[0]).toBeCloseTo(2 * 1.96 * 1.5, 2)
  })

  it('draws added loss to a splice that a break is not drawn to', () => {
    const node = thread.nodes.find((candidate) => candidate.joint === 'splice')!
    const near = { fiber: node.fiber - 60, sigma: 40 }
    const share = (nature: 'break' | 'loss') =>
      gatherPlaces(layPosterior(thread, near, nature)).find((place) => place.node === node.id)!.probability
    expect(share('loss')).toBeGreaterThan(2 * share('break'))
  })

  it('past the thread’s end is put at that end', () => {
    const { chainage } = summarize(layPosterior(thread, { fiber: thread.fiberLength + 4000, sigma: 5 }, 'break'))
    expect(chainage).toBe(3000)
  })

  it('without a measurement is every place, by length', () => {
    const classes = placeClasses(layPosterior(thread, null, 'break'))
    expect(classes.run).toBeGreaterThan(0.9)
    expect(classes.run + classes.coil + classes.splice + classes.connector).toBeCloseTo(1, 9)
  })
})

describe('evidence', () => {
  const start = layPosterior(thread, null, 'break')

  it('that says nothing changes nothing', () => {
    const { posterior, fit } = weigh(start, () => 0.3)
    expect(fit).toBeCloseTo(1, 9)
    expect(placeEntropy(posterior)).toBeCloseTo(placeEntropy(start), 9)
  })

  it('that halves the link takes one bit of its places', () => {
    const half = thread.groundLength / 2
    const { posterior } = weigh(start, (cell) => (cell.ground < half ? 1 : 0))
    expect(placeEntropy(start) - placeEntropy(posterior)).toBeGreaterThan(0.8)
    expect(placeEntropy(start) - placeEntropy(posterior)).toBeLessThan(1.2)
  })

  it('that nothing supports leaves the belief as it was', () => {
    const { posterior, fit } = weigh(start, () => 0)
    expect(fit).toBe(0)
    expect(posterior).toBe(start)
  })

  it('of two kinds weighs the same in either order', () => {
    const a = (cell: { ground: number }) => 1 / (1 + cell.ground)
    const b = (cell: { node: string | null }) => (cell.node ? 0.2 : 1)
    const one = weigh(weigh(start, a).posterior, b).posterior
    const other = weigh(weigh(start, b).posterior, a).posterior
    one.cells.forEach((cell, k) => expect(cell.weight).toBeCloseTo(other.cells[k]!.weight, 12))
  })
})
