import type { NewCallout } from '@cold-thread/contract'
import { buildThread, type PlantBundle } from '@cold-thread/core/plant'
import { seededRandom } from '@cold-thread/core/math'
import { type Damage } from '@cold-thread/core/sim'
import type { Practice } from './db/models.ts'
import { AppError } from './errors.ts'

/**
 * The simulated fault of a practice callout, or null for a real one.
 * @throws AppError when the plant has no such link
 */
export function practiceFor(plant: PlantBundle, entry: NewCallout): Practice | null {
  if (!plant.links.some((link) => link.id === entry.linkId))
    throw new AppError('not-found', `there is no link "${entry.linkId}" in the plant`, 'linkId')
  if (entry.practiceSeed === null) return null
  return { seed: entry.practiceSeed, damages: [drawDamage(plant, entry.linkId, entry.practiceSeed)] }
}

/** A break anywhere, a splice gone bad or a dirty connector. */
function drawDamage(plant: PlantBundle, linkId: string, seed: number): Damage {
  const random = seededRandom(seed)
  const thread = buildThread(plant, linkId)
  const splices = thread.nodes.filter((node) => node.joint === 'splice')
  const connectors = thread.nodes.filter((node) => node.joint === 'connector')
  const kind = random.uniform()
  if (kind < 0.5 || (kind < 0.75 && splices.length === 0)) {
    const reflectance = random.uniform() < 0.5 ? -15 - 30 * random.uniform() : null
    return { at: { fiber: (0.05 + 0.9 * random.uniform()) * thread.fiberLength }, breaks: true, reflectance }
  }
  if (kind < 0.75) {
    const node = splices[Math.floor(random.uniform() * splices.length)]!
    return { at: { node: node.id }, breaks: false, loss: 0.4 + 1.2 * random.uniform() }
  }
  const node = connectors[Math.floor(random.uniform() * connectors.length)]!
  return {
    at: { node: node.id },
    breaks: false,
    loss: 0.5 + 1.5 * random.uniform(),
    reflectance: -34 + 4 * random.uniform(),
  }
}
