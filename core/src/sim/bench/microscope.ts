import { seededRandom } from '../../math/random.ts'

/** A straight scratch; places in µm from the fiber's center. */
export interface DrawnScratch {
  x1: number
  y1: number
  x2: number
  y2: number
  width: number
  /** How much brighter than what it lies on; −1 is black. */
  contrast: number
}

/** A pit, chip or grain of dirt; µm. A lobed one has three lobes, its size is that of the circle around it. */
export interface DrawnDefect {
  x: number
  y: number
  size: number
  lobed: boolean
  turn: number
  contrast: number
}

/** Dried liquid or lint: a closed, uneven line, µm; what it surrounds looks like what is around it. */
export interface DrawnRing {
  x: number
  y: number
  radius: number
  /** How far it leaves a circle, as part of the radius. */
  uneven: number
  width: number
  contrast: number
}

/** A crack: straight pieces from place to place, µm. */
export interface DrawnCrack {
  places: readonly (readonly [number, number])[]
  width: number
  contrast: number
}

/** Light in a core: brighter to the middle by so much of its level, and only on one side of a soft end. */
export interface CoreLit {
  peak: number
  /** Where to the light ends, radians; where, and over what length, µm. */
  part: { turn: number; at: number; over: number } | null
}

/** An end face in front of the stand-in microscope, and how the microscope shows it. */
export interface EndFaceScene {
  /** Pixels. */
  width: number
  height: number
  /** µm a pixel, along the axis that tilt does not shorten. */
  scale: number
  /** The fiber's center, pixels. */
  center: { x: number; y: number }
  /** Levels from 0 to 1; a core of null is not seen. Widths in µm. */
  cladding: number
  ferrule: number
  core: { diameter: number; level: number; lit?: CoreLit } | null
  /** Ragged: by so much of its width it is wider and narrower from place to place. */
  adhesive: { width: number; level: number; ragged?: number }
  /** Seen from the side: axes of what should be a circle, and where the short one points, radians. */
  tilt: { ratio: number; turn: number }
  /** Brighter to one side: part of the mean over the picture's width and height. */
  slope: { x: number; y: number }
  /** Radius of the disc that a point is spread over by defocus, µm. */
  defocus: number
  /** Standard deviation of noise, and of the ferrule's grain, of 0 to 1. */
  noise: number
  grain: number
  scratches: readonly DrawnScratch[]
  defects: readonly DrawnDefect[]
  rings?: readonly DrawnRing[]
  cracks?: readonly DrawnCrack[]
  /** Of a lamp, soft: its middle and how wide it is, µm, and how much brighter. */
  reflection?: { x: number; y: number; wide: number; by: number }
}

/** A picture in gray, row by row. */
export interface GrayPicture {
  width: number
  height: number
  data: Uint8Array
}

/** Drawn in points of at most this, µm, whatever the pixels are. */
const POINT = 0.25
/** Diameter of every fiber's cladding, µm (IEC 60793-2-50). */
const CLADDING = 125
/** How far lobes stand out of their middle circle. */
const LOBES = 0.25
/** Grains of the ferrule, µm. */
const GRAIN = 1.2

/** Full width at half height of what a line is spread over, µm: of a disc √3 times its radius; with a pixel's own. */
export function blurWidthOf({ defocus, scale }: Pick<EndFaceScene, 'defocus' | 'scale'>): number {
  return Math.hypot(Math.sqrt(3) * defocus, scale)
}

/** What the microscope shows of a scene. The same seed gives the same noise. */
export function drawEndFace(scene: EndFaceScene, seed: number): GrayPicture {
  const { width, height, scale, center, tilt } = scene
  const random = seededRandom(seed)
  const finer = Math.ceil(scale / POINT)
  const [fineWidth, fineHeight] = [width * finer, height * finer]
  const fine = new Float32Array(fineWidth * fineHeight)
  const step = scale / finer
  const [cos, sin] = [Math.cos(tilt.turn), Math.sin(tilt.turn)]
  const grains = grainOf(random, Math.ceil((fineWidth * step) / GRAIN) + 2, Math.ceil((fineHeight * step) / GRAIN) + 2)
  // µm on the face itself: what tilt shortens is stretched back.
  const [xx, xy, yy] = [
    (cos * cos) / tilt.ratio + sin * sin,
    cos * sin * (1 / tilt.ratio - 1),
    (sin * sin) / tilt.ratio + cos * cos,
  ]
  const coreEdge = scene.core ? scene.core.diameter / 2 : 0
  const adhesiveEnd = CLADDING / 2 + scene.adhesive.width * (1 + (scene.adhesive.ragged ?? 0))
  for (let row = 0; row < fineHeight; row++) {
    const py = ((row + 0.5) / finer - center.y) * scale
    for (let column = 0; column < fineWidth; column++) {
      const px = ((column + 0.5) / finer - center.x) * scale
      const u = xx * px + xy * py
      const v = xy * px + yy * py
      const r = Math.sqrt(u * u + v * v)
      let level = scene.ferrule
      if (r <= CLADDING / 2) level = r <= coreEdge ? coreLevel(scene, u, v) : scene.cladding
      else if (r <= adhesiveEnd && r <= CLADDING / 2 + adhesiveWidth(scene.adhesive, Math.atan2(v, u)))
        level = scene.adhesive.level
      else level *= 1 + scene.grain * grains.at(column * step, row * step)
      fine[row * fineWidth + column] = level
    }
  }
  /** Darkens or brightens what is inside; looked for around its place, with room for what tilt shifts. */
  const paint = (x: number, y: number, reach: number, contrast: number, inside: (x: number, y: number) => boolean) => {
    const column = (center.x + x / scale) * finer
    const row = (center.y + y / scale) * finer
    const most = ((reach + 4) / scale) * finer
    for (let j = Math.max(0, Math.floor(row - most)); j < Math.min(fineHeight, row + most); j++) {
      const py = ((j + 0.5) / finer - center.y) * scale
      for (let i = Math.max(0, Math.floor(column - most)); i < Math.min(fineWidth, column + most); i++) {
        const px = ((i + 0.5) / finer - center.x) * scale
        if (inside(xx * px + xy * py, xy * px + yy * py)) fine[j * fineWidth + i]! *= 1 + contrast
      }
    }
  }
  for (const { x1, y1, x2, y2, width: wide, contrast } of scene.scratches) {
    const [dx, dy] = [x2 - x1, y2 - y1]
    const length = Math.hypot(dx, dy)
    paint((x1 + x2) / 2, (y1 + y2) / 2, length / 2 + wide, contrast, (x, y) => {
      const t = ((x - x1) * dx + (y - y1) * dy) / length
      return t >= 0 && t <= length && Math.abs((x - x1) * dy - (y - y1) * dx) / length <= wide / 2
    })
  }
  for (const { x, y, size, lobed, turn, contrast } of scene.defects)
    paint(x, y, size / 2, contrast, (px, py) => {
      const angle = Math.atan2(py - y, px - x)
      const edge = lobed ? (size / 2 / (1 + LOBES)) * (1 + LOBES * Math.cos(3 * angle + turn)) : size / 2
      return Math.hypot(px - x, py - y) <= edge
    })
  for (const { x, y, radius, uneven, width: wide, contrast } of scene.rings ?? [])
    paint(x, y, radius * (1 + uneven) + wide, contrast, (px, py) => {
      const angle = Math.atan2(py - y, px - x)
      const edge = radius * (1 + uneven * (0.6 * Math.sin(2 * angle + x) + 0.4 * Math.sin(3 * angle + y)))
      return Math.abs(Math.hypot(px - x, py - y) - edge) <= wide / 2
    })
  for (const { places, width: wide, contrast } of scene.cracks ?? []) {
    const [x, y] = [0, 1].map((axis) => places.reduce((sum, place) => sum + place[axis]!, 0) / places.length)
    const reach = Math.max(...places.map(([u, v]) => Math.hypot(u - x!, v - y!))) + wide
    paint(x!, y!, reach, contrast, (px, py) =>
      places.slice(1).some(([x2, y2], i) => {
        const [x1, y1] = places[i]!
        const [dx, dy] = [x2 - x1, y2 - y1]
        const t = Math.max(0, Math.min(1, ((px - x1) * dx + (py - y1) * dy) / (dx * dx + dy * dy)))
        return Math.hypot(px - x1 - t * dx, py - y1 - t * dy) <= wide / 2
      }),
    )
  }
  const spread = spreadOverDisc(fine, fineWidth, fineHeight, scene.defocus / step)
  const data = new Uint8Array(width * height)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      let sum = 0
      for (let j = 0; j < finer; j++)
        for (let i = 0; i < finer; i++) sum += spread[(row * finer + j) * fineWidth + column * finer + i]!
      const [px, py] = [(column + 0.5 - center.x) * scale, (row + 0.5 - center.y) * scale]
      const light =
        1 + scene.slope.x * (column / width - 0.5) + scene.slope.y * (row / height - 0.5) + reflectionAt(scene, px, py)
      const level = (sum / finer ** 2) * light + scene.noise * random.normal()
      data[row * width + column] = Math.max(0, Math.min(255, Math.round(255 * level)))
    }
  return { width, height, data }
}

/** A core's own level at a place of it: a raised cosine where it is brighter to the middle, and where it ends a straight ramp. */
function coreLevel({ core, cladding }: EndFaceScene, x: number, y: number): number {
  const { diameter, level, lit } = core!
  if (!lit) return level
  const rho = (2 * Math.hypot(x, y)) / diameter
  const full = cladding + (level - cladding) * (1 - lit.peak + lit.peak * 0.5 * (1 + Math.cos(Math.PI * rho)))
  if (!lit.part) return full
  const along = x * Math.cos(lit.part.turn) + y * Math.sin(lit.part.turn) - lit.part.at
  return cladding + (full - cladding) * Math.max(0, Math.min(1, 0.5 - along / lit.part.over))
}

function adhesiveWidth({ width, ragged = 0 }: EndFaceScene['adhesive'], angle: number): number {
  return width * (1 + ragged * (0.5 * Math.sin(angle + 1) + 0.3 * Math.sin(5 * angle) + 0.2 * Math.sin(17 * angle + 2)))
}

/** Light of a lamp that the face reflects: falls off as a bell does, by a Lorentzian squared. */
function reflectionAt({ reflection }: EndFaceScene, x: number, y: number): number {
  if (!reflection) return 0
  return reflection.by / (1 + ((x - reflection.x) ** 2 + (y - reflection.y) ** 2) / reflection.wide ** 2) ** 2
}

/** Smooth noise on a lattice of grains, by place in µm. */
function grainOf(random: { normal(): number }, columns: number, rows: number): { at(x: number, y: number): number } {
  const across = columns + 1
  const lattice = Float32Array.from({ length: across * (rows + 1) }, () => random.normal())
  return {
    at(x, y) {
      const u = Math.min(columns - 1, x / GRAIN)
      const v = Math.min(rows - 1, y / GRAIN)
      const i = Math.floor(u)
      const j = Math.floor(v)
      const p = u - i
      const q = v - j
      const k = j * across + i
      return (
        (lattice[k]! * (1 - p) + lattice[k + 1]! * p) * (1 - q) +
        (lattice[k + across]! * (1 - p) + lattice[k + across + 1]! * p) * q
      )
    },
  }
}

/** Each point spread evenly over a disc of this radius in points, by sums along rows. */
function spreadOverDisc(points: Float32Array, width: number, height: number, radius: number): Float32Array {
  if (radius < 0.5) return points
  const reach = Math.floor(radius)
  const halves = Int32Array.from({ length: 2 * reach + 1 }, (_, k) =>
    Math.floor(Math.sqrt(radius ** 2 - (k - reach) ** 2)),
  )
  const count = halves.reduce((sum, half) => sum + 2 * half + 1, 0)
  const sums = new Float64Array((width + 1) * height)
  for (let row = 0; row < height; row++) {
    let sum = 0
    for (let column = 0, at = row * (width + 1) + 1, from = row * width; column < width; column++)
      sums[at + column] = sum += points[from + column]!
  }
  const out = new Float32Array(points.length)
  const light = new Float64Array(width)
  for (let row = 0; row < height; row++) {
    light.fill(0)
    for (let k = 0; k < halves.length; k++) {
      const line = Math.max(0, Math.min(height - 1, row + k - reach))
      const at = line * (width + 1)
      const half = halves[k]!
      const [first, last] = [points[line * width]!, points[line * width + width - 1]!]
      const spread = (column: number) => {
        const [from, to] = [column - half, column + half + 1]
        let sum = sums[at + Math.min(width, to)]! - sums[at + Math.max(0, from)]!
        // Beyond the border it goes on as at the border.
        if (from < 0) sum -= from * first
        if (to > width) sum += (to - width) * last
        light[column]! += sum
      }
      const [left, right] = [Math.min(half, width), Math.max(half, width - half)]
      for (let column = 0; column < left; column++) spread(column)
      const [behind, before] = [at - half, at + half + 1]
      for (let column = left; column < right; column++)
        light[column]! += sums[before + column]! - sums[behind + column]!
      for (let column = right; column < width; column++) spread(column)
    }
    for (let column = 0, to = row * width; column < width; column++) out[to + column] = light[column]! / count
  }
  return out
}
