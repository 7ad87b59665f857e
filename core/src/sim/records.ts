import type { PlantBundle } from '../plant/types.ts'
import type { Damage } from './damage.ts'
import { seededRandom, seedFrom } from '../math/random.ts'

/**
 * A plant as it might truly lie when the records say `records`: no record is exact.
 * Factors differ by 0.3 %, coils by 3 m of sheath (one standard deviation each).
 */
export function plantBehindRecords(records: PlantBundle, seed: number): PlantBundle {
  const cables = records.cables.map((cable) => ({
    ...cable,
    sheathFactor: cable.sheathFactor * (1 + 0.003 * seededRandom(seedFrom(seed, 'factor', cable.id)).normal()),
  }))
  const nodes = records.nodes.map((node) => ({
    ...node,
    slack: node.slack.map((slack) => {
      const random = seededRandom(seedFrom(seed, 'coil', node.id, slack.cable, slack.side))
      return { ...slack, sheath: Math.max(0, slack.sheath + 3 * random.normal()) }
    }),
  }))
  return { ...records, cables, nodes }
}

/** What a good repair leaves in place of a damage: a fusion splice where glass was broken or bent, nothing at a joint. */
export function repaired(damage: Damage, seed: number): Damage {
  const random = seededRandom(seedFrom(seed, 'repair', JSON.stringify(damage.at)))
  const loss = 0.02 + 0.03 * random.uniform()
  return 'node' in damage.at
    ? { at: damage.at, breaks: false, loss: loss - 0.03 }
    : { at: damage.at, breaks: false, loss }
}

/** One plant has one set of glass and joints behind its records, so that all simulated shots of it fit together. */
export function standInSeed(plant: PlantBundle): number {
  return seedFrom('stand-in', plant.name)
}
