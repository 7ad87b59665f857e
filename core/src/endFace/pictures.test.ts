import { fromMask, Image } from 'image-js'
import { levenbergMarquardt } from 'ml-levenberg-marquardt'
import { describe, expect, it } from 'vitest'
import { PLAIN_SCENE } from '../../bench/endFaceScenes.ts'
import { seededRandom } from '../math/index.ts'
import { drawEndFace, type EndFaceScene } from '../sim/index.ts'
import { findFeatures } from './findFeatures.ts'
import { findFiber, fitOutline } from './findFiber.ts'
import { judgeEndFace, PictureError } from './index.ts'

const scene = (some: Partial<EndFaceScene>): EndFaceScene => ({ ...PLAIN_SCENE, ...some })
const spot = (x: number, y: number, size: number, some = {}) => ({
  x,
  y,
  size,
  lobed: false,
  turn: 0,
  contrast: -0.6,
  ...some,
})

describe('the fiber', () => {
  it.each<[string, Partial<EndFaceScene>]>([
    ['in the middle', {}],
    ['off the middle, light from one side', { center: { x: 346, y: 372 }, slope: { x: 0.2, y: -0.15 } }],
    ['seen askew', { tilt: { ratio: 0.98, turn: 0.7 } }],
    ['ferrule brighter than the cladding, core not seen', { ferrule: 0.85, core: null }],
    ['noise and a strong grain', { noise: 0.03, grain: 0.06 }],
    ['a multimode core brighter than anything', { core: { diameter: 62.5, level: 0.95 } }],
    ['a large piece of dirt over its edge', { defects: [spot(60, 10, 40)] }],
  ])('is found to scale: %s', (_name, some) => {
    const drawn = scene(some)
    const { outline, scale } = findFiber(drawEndFace(drawn, 3))
    // Centers are told from the middle of a pixel, and from its corner.
    expect(Math.hypot(outline.x - drawn.center.x + 0.5, outline.y - drawn.center.y + 0.5) * scale).toBeLessThan(0.5)
    const mean = (drawn.scale * 2) / (1 + drawn.tilt.ratio)
    expect(Math.abs(scale / mean - 1)).toBeLessThan(0.012)
  })

  it('its circle is that of a general least-squares package, and wild points do not move it', () => {
    const random = seededRandom(5)
    const truth = { x: 3.2, y: -2.1, radius: 180 }
    const points = Array.from({ length: 360 }, (_, k) => {
      const angle = (2 * Math.PI * k) / 360
      const [ux, uy] = [Math.cos(angle), Math.sin(angle)]
      const along = truth.x * ux + truth.y * uy
      const across = truth.x * uy - truth.y * ux
      return { angle, r: along + Math.sqrt(truth.radius ** 2 - across ** 2) + 0.3 * random.normal() }
    })
    const wild = points.map((point, i) => (i % 7 === 0 ? { ...point, r: point.r + 20 } : point))
    const kept = points.filter((_, i) => i % 7 !== 0)
    const fitted = levenbergMarquardt(
      { x: kept.map(({ angle }) => angle), y: kept.map(({ r }) => r) },
      ([radius, x, y]) =>
        (angle) =>
          x! * Math.cos(angle) +
          y! * Math.sin(angle) +
          Math.sqrt(radius! ** 2 - (x! * Math.sin(angle) - y! * Math.cos(angle)) ** 2),
      { initialValues: [170, 0, 0], maxIterations: 200 },
    )
    const [radius, x, y] = fitted.parameterValues as [number, number, number]
    const { outline } = fitOutline(wild, { x: 0, y: 0 })!
    expect(Math.abs(outline.radius - radius)).toBeLessThan(0.08)
    expect(Math.hypot(outline.x - x, outline.y - y)).toBeLessThan(0.08)
  })

  it.each([0.4, 0.8, 1.2])('its blur is measured: a disc of %f µm', (defocus) => {
    const { blur } = findFiber(drawEndFace(scene({ defocus }), 8))
    // A disc's line is √3 times its radius wide at half its height.
    expect(blur.width / (Math.sqrt(3) * defocus)).toBeGreaterThan(0.75)
    expect(blur.width / (Math.sqrt(3) * defocus)).toBeLessThan(1.25)
  })
})

describe('pictures that can’t be judged', () => {
  const gray = (width: number, height: number, at: (i: number) => number) => ({
    width,
    height,
    data: Uint8Array.from({ length: width * height }, (_, i) => at(i)),
  })
  const random = seededRandom(9)
  it.each([
    ['nothing but gray', gray(800, 600, () => 120), /empty/],
    ['noise', gray(800, 600, () => 255 * random.uniform()), /No fiber/],
    ['a pixel', gray(1, 1, () => 9), /No fiber/],
    ['straight lines', gray(800, 600, (i) => (i % 80 < 40 ? 60 : 180)), /No fiber/],
    ['out of focus', drawEndFace(scene({ defocus: 4 }), 1), /out of focus/],
    ['too coarse', drawEndFace(scene({ scale: 0.8 }), 1), /too coarse: 0.(79|80|81) µm a pixel/],
    ['half of it beyond the border', drawEndFace(scene({ center: { x: 70, y: 360 } }), 1), /whole|No fiber/],
  ])('%s', (_name, picture, why) => {
    let refused: unknown
    try {
      judgeEndFace(picture, 'single-mode PC')
    } catch (error) {
      refused = error
    }
    expect(refused).toBeInstanceOf(PictureError)
    expect(String(refused)).toMatch(why)
  })

  it('a picture that shows only the fiber is not passed: most of the contact zone is missing', () => {
    const picture = drawEndFace(scene({ width: 400, height: 400, center: { x: 200, y: 200 } }), 1)
    const { grade } = judgeEndFace(picture, 'single-mode PC')
    expect(grade.verdict).toBe('close')
    expect(grade.reasons.join()).toMatch(/zone D .*in the picture/)
  })
})

describe('features', () => {
  const featuresOf = (some: Partial<EndFaceScene>, seed = 4) => {
    const picture = drawEndFace(scene(some), seed)
    return { picture, features: findFeatures(picture, findFiber(picture)) }
  }

  it('a clean end face has none, whatever its noise', () => {
    for (let seed = 1; seed <= 3; seed++)
      expect(featuresOf({ noise: 0.02, grain: 0.05, slope: { x: 0.15, y: 0.1 } }, seed).features).toEqual([])
  })

  it('spots are those that a general image package finds by threshold and labels, in place and in size', () => {
    const drawn = [spot(25, 10, 4), spot(-30, -20, 7), spot(0, 40, 10, { lobed: true }), spot(-15, 25, 3)]
    const { picture, features } = featuresOf({ defects: drawn, core: null, noise: 0.005 })
    expect(features.map(({ kind }) => kind)).toEqual(drawn.map(() => 'defect'))
    // The cladding alone, so that its one threshold (Otsu, 1979) tells spots from glass.
    const { x, y } = PLAIN_SCENE.center
    const half = Math.floor(44 / PLAIN_SCENE.scale)
    const image = new Image(picture.width, picture.height, { data: Uint8Array.from(picture.data), colorModel: 'GREY' })
    const inner = image.crop({ origin: { column: x - half, row: y - half }, width: 2 * half, height: 2 * half })
    // The corners of the square lie beyond the cladding.
    const mask = inner.threshold({ algorithm: 'otsu' }).invert()
    const rois = fromMask(mask)
      .getRois({ kind: 'white', minSurface: 20 })
      .filter(({ centroid }) => Math.hypot(centroid.column - half, centroid.row - half) < half)
    expect(rois).toHaveLength(drawn.length)
    for (const one of drawn) {
      const mine = features.find((feature) => Math.hypot(feature.x - one.x, feature.y - one.y) < 1)!
      const roi = rois.find(
        ({ centroid }) =>
          Math.hypot(
            (centroid.column - half) * PLAIN_SCENE.scale - one.x,
            (centroid.row - half) * PLAIN_SCENE.scale - one.y,
          ) < 1.5,
      )!
      const feret = roi.feret.maxDiameter.length * PLAIN_SCENE.scale
      expect(Math.abs(mine.size - one.size)).toBeLessThan(0.8)
      expect(Math.abs(mine.size - feret)).toBeLessThan(1.5)
    }
  })

  it.each([
    [2, -0.5],
    [4, -0.4],
    [6, 0.35],
  ])('a scratch of %f µm is as long and as wide as it was drawn', (width, contrast) => {
    const { features } = featuresOf({ scratches: [{ x1: -30, y1: 5, x2: 28, y2: -22, width, contrast }] })
    const [line, ...rest] = features
    expect(rest).toEqual([])
    expect(line).toMatchObject({ kind: 'scratch' })
    expect(Math.abs(line!.size - width)).toBeLessThan(0.8)
    const [x1, y1, x2, y2] = line!.ends!
    expect(Math.abs(Math.hypot(x2 - x1, y2 - y1) - Math.hypot(58, 27))).toBeLessThan(7)
    expect(Math.sign(line!.contrast)).toBe(Math.sign(contrast))
  })

  it('scratches that cross are told apart', () => {
    const { features } = featuresOf({
      scratches: [
        { x1: -40, y1: -20, x2: 40, y2: 20, width: 2, contrast: -0.5 },
        { x1: -40, y1: 20, x2: 40, y2: -15, width: 2.5, contrast: -0.5 },
      ],
    })
    expect(features.filter(({ kind }) => kind === 'scratch')).toHaveLength(2)
  })

  it('a scratch that others cross has its length and its width, and crossings are no defects', () => {
    const { features } = featuresOf({
      scratches: [
        { x1: -45, y1: -15, x2: 45, y2: 15, width: 2, contrast: 0.4 },
        { x1: -20, y1: -40, x2: -5, y2: 40, width: 3, contrast: -0.6 },
        { x1: 10, y1: -40, x2: 30, y2: 35, width: 2.5, contrast: -0.5 },
      ],
    })
    expect(features.map(({ kind }) => kind)).toEqual(['scratch', 'scratch', 'scratch'])
    const bright = features.find(({ contrast }) => contrast > 0)!
    const [x1, y1, x2, y2] = bright.ends!
    expect(Math.abs(Math.hypot(x2 - x1, y2 - y1) - Math.hypot(90, 30))).toBeLessThan(8)
    expect(Math.abs(bright.size - 2)).toBeLessThan(0.8)
  })

  it('spots in a row are spots, and no scratch', () => {
    const { features } = featuresOf({ defects: [spot(14, -4, 4.8), spot(23, -4, 4.2), spot(32, -4, 4.5)] })
    expect(features.map(({ kind }) => kind)).toEqual(['defect', 'defect', 'defect'])
  })

  it('spots that nearly touch are measured each for itself', () => {
    const { features } = featuresOf({ defects: [spot(20, 20, 5), spot(20, 27.5, 4, { contrast: -0.3 })] })
    expect(features.map(({ size }) => Math.round(size)).sort()).toEqual([4, 5])
  })

  it('dirt on the ferrule is one defect, and not its flanks as well', () => {
    const drawn = [
      spot(-72, -40, 19, { lobed: true, contrast: -0.8 }),
      spot(80, 10, 11),
      spot(20, -88, 7, { lobed: true }),
    ]
    expect(featuresOf({ defects: drawn, noise: 0.006 }).features).toHaveLength(3)
  })

  it('a dark speck on a large faint spot does not hide it', () => {
    const { features } = featuresOf({
      defects: [spot(76, 56, 21, { contrast: -0.37 }), spot(71, 68, 5.4, { contrast: -0.85 })],
    })
    expect(Math.max(...features.map(({ size }) => size))).toBeGreaterThan(18)
  })

  it('the flank of a strong spot in a sharp picture is no spot of its own', () => {
    const { features } = featuresOf({ defocus: 0.35, noise: 0.005, defects: [spot(22, 20, 3.6), spot(-26, -19, 2.2)] })
    expect(features).toHaveLength(2)
  })

  it('a bright spot over a lit core is a defect, not the core', () => {
    const { features } = featuresOf({
      core: { diameter: 9, level: 0.57 },
      defocus: 1.6,
      defects: [spot(-2.7, 1.8, 10.6, { contrast: 0.34 })],
    })
    expect(features.some(({ kind, size }) => kind === 'defect' && Math.abs(size - 10.6) < 1.5)).toBe(true)
  })

  it('a long piece of dirt in a noisy picture is a defect, no scratch', () => {
    const { features } = featuresOf({
      noise: 0.022,
      grain: 0.045,
      defocus: 0.96,
      defects: [spot(7, 23, 7.4, { lobed: true, turn: 4.9, contrast: -0.43 })],
    })
    expect(features.map(({ kind }) => kind)).toEqual(['defect'])
    expect(Math.abs(features[0]!.size - 7.4)).toBeLessThan(1)
  })

  it('bright dirt over the middle of a multimode core is no core', () => {
    const drawn = scene({
      core: { diameter: 62.5, level: 0.58 },
      defocus: 1.4,
      defects: [spot(1.5, 2.9, 7.8, { lobed: true, contrast: 0.31 })],
    })
    const { features, grade } = judgeEndFace(drawEndFace(drawn, 6), 'multimode PC')
    expect(features).toHaveLength(1)
    expect(Math.abs(features[0]!.size - 7.8)).toBeLessThan(1)
    expect(grade.verdict).toBe('fail')
  })

  it('a defect at the very middle of the core is seen, a lit core is none', () => {
    expect(featuresOf({ core: { diameter: 9, level: 0.85 } }).features).toEqual([])
    expect(featuresOf({ defects: [spot(0.5, -0.5, 4)] }).features).toHaveLength(1)
  })
})

describe('what is no defect', () => {
  const half = { peak: 0.5, part: { turn: 2, at: 1, over: 3 } }
  it.each<[string, 'single-mode PC' | 'multimode PC', Partial<EndFaceScene>]>([
    ['a small core, lit on one side', 'single-mode PC', { core: { diameter: 9, level: 0.9, lit: half } }],
    [
      'a large core, lit on one side with a soft end',
      'multimode PC',
      { core: { diameter: 50, level: 0.85, lit: { peak: 0, part: { turn: 0.4, at: -4, over: 12 } } } },
    ],
    [
      'a core that is brighter to its middle',
      'multimode PC',
      { core: { diameter: 62.5, level: 0.9, lit: { peak: 1, part: null } } },
    ],
    ['a soft reflection of a lamp', 'single-mode PC', { reflection: { x: -30, y: 40, wide: 50, by: 0.08 } }],
    [
      'a strong reflection over half of the core',
      'single-mode PC',
      { reflection: { x: 20, y: -30, wide: 45, by: 0.3 } },
    ],
    [
      'a core whose light ends within 2 µm',
      'single-mode PC',
      { core: { diameter: 9, level: 0.95, lit: { peak: 0.4, part: { turn: 0.8, at: 0.3, over: 2 } } } },
    ],
    [
      'adhesive that reaches to 68 µm here and there',
      'single-mode PC',
      { adhesive: { width: 3, level: 0.15, ragged: 0.8 } },
    ],
    ['ragged adhesive', 'single-mode PC', { adhesive: { width: 1.5, level: 0.15, ragged: 0.6 } }],
  ])('%s', (_name, connector, some) => {
    const { grade } = judgeEndFace(drawEndFace(scene(some), 8), connector)
    expect(grade.reasons).toEqual([])
    expect(grade.verdict).toBe('pass')
  })

  it('dirt beside the adhesive, and dirt that goes out of it, is seen all the same', () => {
    const ragged = { width: 2, level: 0.15, ragged: 0.5 }
    const { grade } = judgeEndFace(
      drawEndFace(scene({ adhesive: ragged, defects: [spot(72, 0, 13), spot(0, -80, 24)] }), 8),
      'single-mode PC',
    )
    expect(grade.verdict).toBe('fail')
    expect(grade.reasons.join()).toMatch(/zone D \(contact\): a defect of 2[345]/)
  })

  it('dirt on a core that is lit on one side is seen all the same', () => {
    const lit = { peak: 0, part: { turn: 0.4, at: -4, over: 12 } }
    const drawn = scene({ core: { diameter: 50, level: 0.85, lit }, defects: [spot(-8, 5, 8)] })
    const { features } = judgeEndFace(drawEndFace(drawn, 8), 'multimode PC')
    const [found] = features.filter(({ size }) => size > 3)
    expect(found).toMatchObject({ kind: 'defect' })
    expect(Math.abs(found!.size - 8)).toBeLessThan(1)
  })
})

describe('what hangs together is one defect', () => {
  it('a ring of dried liquid, with all that it surrounds', () => {
    const ring = { x: 14, y: -6, radius: 18, uneven: 0.1, width: 2, contrast: -0.4 }
    const { features, grade } = judgeEndFace(drawEndFace(scene({ rings: [ring] }), 9), 'single-mode PC')
    expect(features).toHaveLength(1)
    expect(features[0]).toMatchObject({ kind: 'defect', inner: 0 })
    expect(features[0]!.size).toBeGreaterThan(34)
    expect(features[0]!.size).toBeLessThan(44)
    expect(grade.verdict).toBe('fail')
  })

  it('a crack, as long as from its first place to its last: no scratch with the milder rule', () => {
    const places = [
      [20, -12],
      [30, -4],
      [28, 8],
      [38, 16],
    ] as const
    const crack = { places, width: 2, contrast: -0.5 }
    const { features, grade } = judgeEndFace(drawEndFace(scene({ cracks: [crack] }), 9), 'single-mode PC')
    expect(features.map(({ kind }) => kind)).toEqual(['defect'])
    expect(Math.abs(features[0]!.size - Math.hypot(18, 28))).toBeLessThan(4)
    expect(grade.verdict).toBe('fail')
  })

  it('a second fiber beside the first is named, wherever it lies', () => {
    const one = drawEndFace(scene({ width: 900, center: { x: 250, y: 360 } }), 4)
    const other = drawEndFace(scene({ width: 900, center: { x: 700, y: 360 } }), 4)
    const both = { ...one, data: one.data.map((level, i) => (i % 900 < 475 ? level : other.data[i]!)) }
    expect(() => judgeEndFace(both, 'single-mode PC')).toThrow(/more than one fiber/)
  })
})

it('what is drawn takes away the light of its area: π·d²/4, by how dark it is', () => {
  const plain = scene({ noise: 0, grain: 0, core: null })
  const [without, with_] = [drawEndFace(plain, 1), drawEndFace({ ...plain, defects: [spot(20, 0, 8)] }, 1)]
  let missing = 0
  for (let i = 0; i < without.data.length; i++) missing += without.data[i]! - with_.data[i]!
  const area = (missing * plain.scale ** 2) / (255 * plain.cladding * 0.6)
  expect(area).toBeCloseTo((Math.PI * 8 ** 2) / 4, 0)
})
