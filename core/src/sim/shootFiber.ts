import type { PlantBundle } from '../plant/types.ts'
import { seedFrom } from '../math/random.ts'
import { shootLink, type LinkShot } from './shootLink.ts'

/**
 * Shoots another fiber of the cable that a link begins in, along the same path, with splices of its own; the
 * link's own fiber keeps the link's.
 * @param fiber number in the link's first cable
 * @param seed of the plant's optical properties
 * @returns SR-4731 bytes
 */
export function shootFiber(
  plant: PlantBundle,
  linkId: string,
  fiber: number,
  seed: number,
  shot: LinkShot,
): Uint8Array {
  const own = plant.links.find((link) => link.id === linkId)?.path.find((step) => 'cable' in step)
  const optics = own && own.fiber === fiber ? seed : seedFrom(seed, 'fiber', fiber)
  const links = plant.links.map((link) =>
    link.id === linkId
      ? { ...link, path: link.path.map((step) => ('cable' in step ? { ...step, fiber } : step)) }
      : link,
  )
  return shootLink({ ...plant, links }, linkId, { seed: optics }, shot)
}
