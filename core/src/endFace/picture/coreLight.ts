import { Matrix, solve } from 'ml-matrix'
import { median } from 'simple-statistics'
import { BLURS, type Blur } from './blur.ts'

/** What is lit in the middle: a small core, or one that is larger than most defects. */
export type CoreKind = 'single-mode' | 'multimode'

/** A place near the core, µm from the fiber's center, and how bright it is there. */
export interface LitPlace {
  x: number
  y: number
  level: number
}

/** Light of the core over what is around it: µm from the fiber's center to a level. */
export interface CoreLight {
  at(x: number, y: number): number
  /** Beyond this nothing of it is left, µm. */
  reach: number
}

/**
 * Radii of cores as they show, µm, how much light may change over one at most (as part of the radius: light of a single
 * mode is as wide as the core, that of many may end within a few micrometres), and out to where it is looked at.
 */
const CORES = {
  'single-mode': { radii: [3.25, 4, 4.75, 5.5, 6.25], softest: [0.25, 0.5], reach: 10, off: 0.8 },
  multimode: { radii: [24, 25, 26, 30, 31.25, 32.5], softest: [0.08, 0.2, 0.4], reach: 38, off: 1.5 },
} as const
/**
 * Light ends no more sharply than this, as part of the radius of a logistic curve, nor than so many times an edge that is
 * blurred as the picture is: of a Gaussian 10 to 90 % are 1.09 widths at half height, of a logistic curve 4.39 of its scales.
 */
const SHARPEST = 0.07
const BLUNTER = (1.5 * 1.09) / 4.39

/** A core's own profile: even, and higher to its middle as a graded index or a mode makes it, never lower. */
const PROFILES: readonly ((rho: number) => number)[] = [
  () => 1,
  (rho) => 1 - rho * rho,
  (rho) => Math.exp(-3 * rho * rho),
]
/** Cores of a smaller radius than this are lit by a single mode, µm. */
const SMALL = 15
/** Directions and places of where a part of a core ends to be lit. */
const WAYS = 12
const PLACES = [-0.6, -0.3, 0, 0.3, 0.6]
/** Of so many places the light is told, about. */
const ENOUGH = 700
const FEWER = 3
/** Standard deviations from which a place does not count any more than that: dirt lies on the core, too. */
const MOST_OFF = 3
/** So many rounds of finer steps. */
const ROUNDS = 5

const FINER = 1.8
/** What is left of the squares is no more than so many times the noise's: nothing else is there (judgement). */
const EXPLAINED = 1.15

/** Which part of a core is lit: on one side of a line across it, in a direction, with an end so soft; parts of its radius. */
interface LitPart {
  way: number
  place: number
  soft: number
}

/** Where a core lies and which part of it is lit. */
interface Shape {
  radius: number
  x: number
  y: number
  /** Null: all of it. */
  part: LitPart | null
}

interface Fit {
  shape: Shape
  /** Sum of squares, places far off counted for little. */
  left: number
  /** A level for each term. */
  terms: number[]
}

/** The profiles as far as they are lit, all of the core evenly, and light over it that changes to one side. */
const EVENLY = PROFILES.length
const TERMS = PROFILES.length + 3

/**
 * Light in the core by a model: a blurred disc of any profile, and of it either all or one side is lit, with a soft end.
 * What is smaller, or changes more sharply, is no light.
 * @param places within {@link coreReach} of the center, without gradients of the light from outside
 * @param base level of the glass around it
 */
export function coreLight(places: readonly LitPlace[], base: number, kind: CoreKind, blur: Blur): CoreLight {
  const { radii, reach, off } = CORES[kind]
  const softest: [number, ...number[]] = [
    Math.max(SHARPEST, (BLUNTER * blur.width) / radii[Math.floor(radii.length / 2)]!),
    ...CORES[kind].softest,
  ]
  const every = Math.max(1, Math.floor(places.length / ENOUGH))
  const noise = noiseOf(places)
  const used = every === 1 ? places : places.filter((_, i) => i % every === 0)
  if (used.length < 60) return { at: () => base, reach: 0 }
  let best: Fit = { shape: { radius: 0, x: 0, y: 0, part: null }, left: Infinity, terms: [] }
  const tried = (shape: Shape) => {
    const found = fitted(used, base, shape, blur, noise)
    if (found.left < best.left) best = found
  }
  // Where about a part ends fewer places tell as well.
  const few = used.filter((_, i) => i % FEWER === 0)
  for (const radius of radii) tried({ radius, x: 0, y: 0, part: null })
  const all = best
  refine()
  // A core that noise explains, lit all over or not at all, has no end of its light in it.
  if (best.left > EXPLAINED * used.length * noise ** 2) {
    const middle = (softest[0] + softest.at(-1)!) / 2
    for (const radius of new Set([all.shape.radius, radii[Math.floor(radii.length / 2)]!])) {
      let likeliest: Fit | null = null
      for (let k = 0; k < WAYS; k++)
        for (const place of PLACES) {
          const part = { way: (2 * Math.PI * k) / WAYS, place, soft: middle }
          const found = fitted(few, base, { radius, x: 0, y: 0, part }, blur, noise)
          if (!likeliest || found.left < likeliest.left) likeliest = found
        }
      tried(likeliest!.shape)
    }
    if (best.shape.part) for (const soft of softest) tried({ ...best.shape, part: { ...best.shape.part, soft } })
    if (best.shape.part) refine()
  }
  const { shape, terms } = best
  const row = new Float64Array(TERMS)
  return {
    reach: Math.min(reach, shape.radius + 2 * blur.width + off),
    at: (x, y) => {
      termsAt(x, y, shape, blur, row)
      let level = base
      for (let i = 0; i < TERMS; i++) level += row[i]! * terms[i]!
      return level
    },
  }

  function refine(): void {
    let steps = { radius: 0.06 * best.shape.radius, off: off / 2, way: Math.PI / WAYS, place: 0.15, soft: 1.4 }
    for (let round = 0; round < ROUNDS; round++) {
      for (const sign of [1, -1]) {
        tried({ ...best.shape, radius: best.shape.radius + sign * steps.radius })
        for (const axis of ['x', 'y'] as const) {
          const moved = best.shape[axis] + sign * steps.off
          if (Math.abs(moved) <= off) tried({ ...best.shape, [axis]: moved })
        }
        const withPart = (change: (part: LitPart) => Partial<LitPart>) => {
          const { part } = best.shape
          if (part) tried({ ...best.shape, part: { ...part, ...change(part) } })
        }
        withPart(({ way }) => ({ way: way + sign * steps.way }))
        withPart(({ place }) => ({ place: place + sign * steps.place }))
        withPart(({ soft }) => ({ soft: Math.max(softest[0], soft * steps.soft ** sign) }))
      }
      steps = {
        radius: steps.radius / FINER,
        off: steps.off / FINER,
        way: steps.way / FINER,
        place: steps.place / FINER,
        soft: steps.soft ** (1 / FINER),
      }
    }
  }
}

/** How far from the center places tell of the core, µm. */
export function coreReach(kind: CoreKind): number {
  return CORES[kind].reach
}

/** What each term of the model shows at a place. */
function termsAt(x: number, y: number, { radius, x: cx, y: cy, part }: Shape, blur: Blur, row: Float64Array): void {
  const [dx, dy] = [x - cx, y - cy]
  const r = Math.sqrt(dx * dx + dy * dy)
  const across = (radius - r) / blur.width
  const inside = across > 2.5 ? 1 : across < -2.5 ? 0 : BLURS[blur.shape].edge(across)
  row.fill(0)
  if (inside <= 0) return
  let lit = inside
  if (part) {
    const along = (dx * Math.cos(part.way) + dy * Math.sin(part.way)) / radius - part.place
    lit = inside / (1 + Math.exp(-along / part.soft))
    row[EVENLY] = inside
  }
  const rho = Math.min(1, r / radius)
  for (let k = 0; k < PROFILES.length; k++) row[k] = lit * PROFILES[k]!(rho)
  // A small core is too small for that: half of it dirty would look so.
  if (radius > SMALL) {
    row[EVENLY + 1] = (inside * dx) / radius
    row[EVENLY + 2] = (inside * dy) / radius
  }
}

/** A little of each level is asked for, so that one that shows nowhere is nothing. */
const ASKED = 0.0025

/** The model's levels for a shape, and what they leave. @param noise of a pixel */
function fitted(places: readonly LitPlace[], base: number, shape: Shape, blur: Blur, noise: number): Fit {
  const count = places.length
  const rows = new Float64Array(count * TERMS)
  const levels = new Float64Array(count)
  const isUsed = new Uint8Array(count)
  const row = new Float64Array(TERMS)
  let shows = 0
  for (let i = 0; i < count; i++) {
    const { x, y, level } = places[i]!
    termsAt(x, y, shape, blur, row)
    rows.set(row, i * TERMS)
    levels[i] = level - base
    if (row[0]! > 0 || row[EVENLY]! > 0) shows = isUsed[i] = 1
  }
  const inside = isUsed.slice()
  const off = new Float64Array(count)
  let terms: number[] = new Array<number>(TERMS).fill(0)
  for (let round = 0; round < 3 && shows; round++) {
    terms = throughProfiles(rows, levels, isUsed)
    const left: number[] = []
    for (let i = 0; i < count; i++) {
      let level = 0
      for (let k = 0; k < TERMS; k++) level += rows[i * TERMS + k]! * terms[k]!
      off[i] = Math.abs(levels[i]! - level)
      if (inside[i]) left.push(off[i]!)
    }
    const most = MOST_OFF * Math.max(noise, 1.4826 * median(left))
    for (let i = 0; i < count; i++) isUsed[i] = inside[i] && off[i]! <= most ? 1 : 0
  }
  // Each place counts by its square up to a limit that is the same for all shapes.
  const most = (MOST_OFF * noise) ** 2
  let left = 0
  for (let i = 0; i < count; i++) left += Math.min((shows ? off[i]! : levels[i]!) ** 2, most)
  return { shape, terms, left }
}

/** Levels of the profiles by least squares; what would make the middle the other way than the rest is left out. */
function throughProfiles(rows: Float64Array, levels: Float64Array, isUsed: Uint8Array): number[] {
  const products = new Float64Array(TERMS * TERMS)
  const sums = new Float64Array(TERMS)
  let [up, all] = [0, 0]
  for (let i = 0; i < levels.length; i++) {
    if (!isUsed[i]) continue
    const level = levels[i]!
    all++
    if (level > 0) up++
    for (let a = 0; a < TERMS; a++) {
      const one = rows[i * TERMS + a]!
      sums[a]! += one * level
      for (let b = 0; b < TERMS; b++) products[a * TERMS + b]! += one * rows[i * TERMS + b]!
    }
  }
  const side = up >= all / 2 ? 1 : -1
  let kept = Array.from({ length: TERMS }, (_, k) => k)
  for (;;) {
    const square = new Matrix(kept.map((a) => kept.map((b) => products[a * TERMS + b]! + (a === b ? ASKED : 0))))
    const found = solve(square, Matrix.columnVector(kept.map((a) => sums[a]!))).to1DArray()
    const wrong = kept.findIndex((k, at) => k > 0 && k < PROFILES.length && found[at]! * side < 0)
    if (wrong < 0) return Array.from({ length: TERMS }, (_, k) => found[kept.indexOf(k)] ?? 0)
    kept = kept.filter((_, at) => at !== wrong)
  }
}

/** A pixel's noise from how neighbours of the row differ. */
function noiseOf(places: readonly LitPlace[]): number {
  const steps = places.slice(1).map(({ level }, i) => Math.abs(level - places[i]!.level))
  return Math.max(1.5, 1.0484 * median(steps))
}
