import type { Posterior } from '@cold-thread/core/locate'
import type { Suspicion } from './view.ts'

/** Cells that hold less than this are not drawn. */
const FAINTEST = 1e-5

/** A posterior as it is drawn: what nodes hold, and the density between them. */
export function suspicionOf(posterior: Posterior): Suspicion {
  const nodes = new Map<string, Suspicion['nodes'][number]>()
  const runs: Suspicion['runs'] = []
  for (const { node, ground, width, weight } of posterior.cells) {
    if (node === null) {
      if (weight > FAINTEST && width > 0)
        runs.push({ from: ground - width / 2, to: ground + width / 2, perMetre: weight / width })
      continue
    }
    const known = nodes.get(node)
    if (known) known.probability += weight
    else nodes.set(node, { node, ground, probability: weight })
  }
  return {
    nodes: [...nodes.values()].filter(({ probability }) => probability >= 0.005),
    runs,
    most: Math.max(0, ...runs.map(({ perMetre }) => perMetre)),
  }
}
