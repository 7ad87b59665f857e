import type { Cell, Posterior } from '@cold-thread/core/locate'

/** A posterior of one node with 0.4 and a run of 100 m with the rest. */
export function layPosteriorFixture(): Posterior {
  const piece = {} as Cell['piece']
  const node: Cell = {
    piece,
    node: 'n1',
    placeClass: 'splice',
    fiber: 0,
    ground: 0,
    chainage: 0,
    width: 0,
    weight: 0.4,
  }
  const runs = Array.from({ length: 10 }, (_, k): Cell => ({
    piece,
    node: null,
    placeClass: 'run',
    fiber: 5 + 10 * k,
    ground: 5 + 10 * k,
    chainage: 5 + 10 * k,
    width: 10,
    weight: 0.06,
  }))
  return { cells: [node, ...runs] }
}
