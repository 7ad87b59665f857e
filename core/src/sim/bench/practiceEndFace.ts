import type { DrawnDefect, DrawnScratch, EndFaceScene } from './microscope.ts'
import { seededRandom } from '../../math/random.ts'

/** How a practice end face begins, and what a cleaning takes away. Invented, with no claim to any real connector. */
const DIRT = { least: 4, most: 14, stays: 0.25 }
/** So many of a hundred are damaged: no cleaning helps. */
const DAMAGED = 25

/**
 * An end face of a practice callout: dirt that goes with cleaning, now and then damage that does not.
 * @param seed of the connector's side
 */
export function practiceEndFace(seed: number, cleanings: number, fiber: 'single-mode' | 'multimode'): EndFaceScene {
  const random = seededRandom(seed)
  const between = (least: number, most: number) => least + (most - least) * random.uniform()
  const damaged = 100 * random.uniform() < DAMAGED
  const dirt = Array.from({ length: Math.round(between(DIRT.least, DIRT.most)) }, () => {
    const [r, angle] = [118 * Math.sqrt(random.uniform()), between(0, 2 * Math.PI)]
    const grain: DrawnDefect = {
      x: r * Math.cos(angle),
      y: r * Math.sin(angle),
      size: between(2, 14),
      lobed: random.uniform() < 0.5,
      turn: between(0, 2 * Math.PI),
      contrast: -between(0.4, 0.85),
    }
    // Drawn for as many cleanings as there may be, so that a grain that went does not come back.
    const goesAt = Array.from({ length: 12 }, () => random.uniform()).findIndex((chance) => chance > DIRT.stays)
    return { grain, goesAt: goesAt < 0 ? Infinity : goesAt + 1 }
  })
  const tilt = between(0, Math.PI)
  const far = between(4, 40)
  const scratch: DrawnScratch = {
    x1: -far * Math.sin(tilt) - 40 * Math.cos(tilt),
    y1: far * Math.cos(tilt) - 40 * Math.sin(tilt),
    x2: -far * Math.sin(tilt) + 40 * Math.cos(tilt),
    y2: far * Math.cos(tilt) + 40 * Math.sin(tilt),
    width: between(5.5, 7),
    contrast: -0.55,
  }
  return {
    width: 960,
    height: 800,
    scale: 0.38,
    center: { x: 480 + between(-40, 40), y: 400 + between(-20, 20) },
    cladding: 0.62,
    ferrule: between(0.4, 0.5),
    core: { diameter: fiber === 'single-mode' ? 9 : 50, level: fiber === 'single-mode' ? 0.7 : 0.68 },
    adhesive: { width: 1.8, level: 0.22 },
    tilt: { ratio: 0.99, turn: tilt },
    slope: { x: between(-0.12, 0.12), y: between(-0.12, 0.12) },
    defocus: 0.6,
    noise: 0.01,
    grain: 0.03,
    scratches: damaged ? [scratch] : [],
    defects: dirt.flatMap(({ grain, goesAt }) => (cleanings < goesAt ? [grain] : [])),
  }
}
