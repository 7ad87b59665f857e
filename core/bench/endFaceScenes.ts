import { seededRandom } from '../src/math/index.ts'
import { type DrawnDefect, type DrawnScratch, type EndFaceScene } from '../src/sim/index.ts'

/** A healthy end face, sharp and in the middle; benches and tests change what they are about. */
export const PLAIN_SCENE: EndFaceScene = {
  width: 740,
  height: 720,
  scale: 0.4,
  center: { x: 370, y: 360 },
  cladding: 0.62,
  ferrule: 0.45,
  core: { diameter: 9, level: 0.7 },
  adhesive: { width: 2, level: 0.2 },
  tilt: { ratio: 1, turn: 0 },
  slope: { x: 0, y: 0 },
  defocus: 0.8,
  noise: 0.012,
  grain: 0.03,
  scratches: [],
  defects: [],
}

/** A scene by chance: instrument, picture and what lies on the end face. */
export function chanceScene(seed: number, core: 'single-mode' | 'multimode'): EndFaceScene {
  const random = seededRandom(seed)
  const between = (least: number, most: number) => least + (most - least) * random.uniform()
  const one = <T>(list: readonly T[]): T => list[Math.floor(random.uniform() * list.length)]!
  const scale = between(0.22, 0.48)
  // Wide enough for the contact zone at 250 µm across, off the middle by up to a tenth.
  const [width, height] = [Math.round(between(285, 420) / scale), Math.round(between(275, 340) / scale)]
  const room = { x: width / 2 - 130 / scale, y: height / 2 - 130 / scale }
  const center = {
    x: width / 2 + between(-1, 1) * Math.min(room.x, width / 10),
    y: height / 2 + between(-1, 1) * Math.min(room.y, height / 10),
  }
  const sign = () => (random.uniform() < 0.75 ? -1 : 1)
  const defect = (size: number, rMin: number, rMax: number): DrawnDefect => {
    const [r, angle] = [Math.sqrt(between(rMin ** 2, rMax ** 2)), between(0, 2 * Math.PI)]
    const bright = sign()
    return {
      x: r * Math.cos(angle),
      y: r * Math.sin(angle),
      size,
      lobed: random.uniform() < 0.4,
      turn: between(0, 2 * Math.PI),
      contrast: bright < 0 ? -between(0.3, 0.9) : between(0.25, 0.5),
    }
  }
  const scratch = (nearest: number, width: number): DrawnScratch => {
    const [angle, half] = [between(0, Math.PI), between(18, 45)]
    const [nx, ny] = [-Math.sin(angle) * nearest, Math.cos(angle) * nearest]
    const [dx, dy] = [Math.cos(angle) * half, Math.sin(angle) * half]
    return {
      x1: nx - dx,
      y1: ny - dy,
      x2: nx + dx,
      y2: ny + dy,
      width,
      contrast: sign() < 0 ? -between(0.25, 0.7) : between(0.25, 0.45),
    }
  }
  const scratches: DrawnScratch[] = []
  const defects: DrawnDefect[] = []
  const many = (least: number, most: number) => Math.floor(between(least, most + 1))
  const kinds = ['clean', 'few', 'core', 'cladding', 'scratch', 'scratches', 'contact', 'dirty'] as const
  switch (one(kinds)) {
    case 'clean':
      break
    case 'few':
      for (let i = many(1, 4); i > 0; i--) defects.push(defect(between(0.8, 5), 15, 58))
      break
    case 'core':
      defects.push(defect(between(1, 9), 0, 14))
      break
    case 'cladding':
      for (let i = many(1, 9); i > 0; i--) defects.push(defect(between(1, 8), 14, 58))
      break
    case 'scratch':
      scratches.push(scratch(between(0, 45), between(0.8, 6)))
      break
    case 'scratches':
      for (let i = many(2, 4); i > 0; i--) scratches.push(scratch(between(0, 50), between(0.8, 3)))
      break
    case 'contact':
      for (let i = many(1, 5); i > 0; i--) defects.push(defect(between(4, 24), 80, 118))
      break
    case 'dirty':
      for (let i = many(8, 30); i > 0; i--) defects.push(defect(between(1, 12), 0, 118))
      if (random.uniform() < 0.5) scratches.push(scratch(between(0, 50), between(0.8, 5)))
  }
  const light = random.uniform() < 0.7
  const scene: EndFaceScene = {
    width,
    height,
    scale,
    center,
    cladding: between(0.5, 0.75),
    ferrule: between(0.3, 0.9),
    core: light
      ? { diameter: core === 'single-mode' ? between(8, 10) : one([50, 62.5]), level: between(0.45, 0.85) }
      : null,
    adhesive: { width: between(1, 2.5), level: between(0.08, 0.3) },
    tilt: { ratio: between(0.975, 1), turn: between(0, Math.PI) },
    slope: { x: between(-0.2, 0.2), y: between(-0.2, 0.2) },
    defocus: between(0.3, 1.6),
    noise: between(0.004, 0.025),
    grain: between(0.01, 0.05),
    scratches,
    defects,
  }
  // What came later is drawn after all else, so that a seed's earlier figures stay.
  // Adhesive ends within 65 µm of the center: beyond that it is a defect.
  const ragged = Math.min(between(0, 0.6), 2.5 / scene.adhesive.width - 1)
  const peak = random.uniform() < 0.5 ? between(0.3, 1) : 0
  const radius = (scene.core?.diameter ?? 9) / 2
  const part =
    random.uniform() < 0.25
      ? { turn: between(0, 2 * Math.PI), at: between(-0.4, 0.4) * radius, over: between(0.4, 1) * radius }
      : null
  const reflection =
    random.uniform() < 0.3
      ? { reflection: { x: between(-90, 90), y: between(-90, 90), wide: between(35, 80), by: between(0.04, 0.15) } }
      : {}
  const line = () => ({ width: between(1.2, 2.5), contrast: -between(0.25, 0.6) })
  const ring = () => ({
    x: between(-25, 25),
    y: between(-25, 25),
    radius: between(7, 28),
    uneven: between(0, 0.2),
    ...line(),
  })
  const crack = () => {
    let [x, y, angle] = [between(-20, 20), between(-20, 20), between(0, 2 * Math.PI)]
    const places: [number, number][] = [[x, y]]
    for (let k = 0; k < 3; k++) {
      x += between(8, 14) * Math.cos(angle)
      y += between(8, 14) * Math.sin(angle)
      angle += (random.uniform() < 0.5 ? -1 : 1) * between(0.5, 1.1)
      places.push([x, y])
    }
    return { places, ...line() }
  }
  const joined = random.uniform()
  return {
    ...scene,
    ...reflection,
    adhesive: { ...scene.adhesive, ragged },
    core: scene.core && { ...scene.core, lit: { peak, part } },
    rings: joined < 0.08 ? [ring()] : [],
    cracks: joined > 0.95 ? [crack()] : [],
  }
}
