import { describe, expect, it } from 'vitest'
import { PLAIN_SCENE } from '../../bench/endFaceScenes.ts'
import { drawEndFace, type EndFaceScene, type GrayPicture } from '../sim/index.ts'
import { judgeEndFace, PictureError } from './index.ts'

const drawn = (some: Partial<EndFaceScene> = {}) => drawEndFace({ ...PLAIN_SCENE, ...some }, 1)
const dirt = (x: number, y: number, size: number, contrast = -0.6) => ({ x, y, size, lobed: false, turn: 0, contrast })
const changed = (picture: GrayPicture, level: (level: number, x: number, y: number) => number): GrayPicture => ({
  ...picture,
  data: picture.data.map((was, i) => level(was, i % picture.width, Math.floor(i / picture.width))),
})
const judged = (picture: GrayPicture) => judgeEndFace(picture, 'single-mode PC')
const refused = (picture: GrayPicture) => {
  try {
    return judged(picture).grade.verdict
  } catch (error) {
    if (error instanceof PictureError) return error.message
    throw error
  }
}

const clean = drawn()
const dirty = drawn({ defects: [dirt(30, 0, 9)] })

describe('a picture that can’t be graded is refused by what is wrong with it', () => {
  /** Lines one or two pixels wide round the fiber's middle, as instruments draw zones into what they save. */
  const withCircles = (picture: GrayPicture) => {
    const { center, scale } = PLAIN_SCENE
    return changed(picture, (level, x, y) => {
      const r = Math.hypot(x - center.x + 0.5, y - center.y + 0.5) * scale
      return [12.5, 60, 65, 125].some((circle) => Math.abs(r - circle) < 0.3) ? 255 : level
    })
  }
  const smeared = (picture: GrayPicture, pixels: number) =>
    changed(picture, (_level, x, y) => {
      let sum = 0
      for (let k = 0; k < pixels; k++) sum += picture.data[y * picture.width + Math.min(picture.width - 1, x + k)]!
      return Math.round(sum / pixels)
    })
  it.each<[string, GrayPicture, RegExp]>([
    ['too dark', changed(dirty, (level) => level * 0.1), /too dark: the fiber shows at 1[56] of 255 levels/],
    ['black', changed(dirty, (level) => level * 0.02), /black/],
    ['the fiber white', changed(dirty, (level) => Math.min(255, level * 1.7)), /overexposed: the fiber is white/],
    ['all white', changed(dirty, (level) => Math.min(255, level * 5)), /overexposed: most of it is white/],
    ['empty', changed(dirty, () => 120), /empty/],
    ['cut off at the side', drawn({ center: { x: 70, y: 360 } }), /not whole in the picture/],
    ['cut off at the top', drawn({ center: { x: 370, y: 80 } }), /not whole in the picture/],
    ['a hole where a fiber has glass', drawn({ core: { diameter: 40, level: 0.05 } }), /connector’s front/],
    ['circles drawn into it', withCircles(dirty), /Circles are drawn into the picture/],
    ['smeared by 6 µm', smeared(dirty, 15), /smeared, or taken askew/],
    [
      'half of the edge under what no light gets through',
      drawn({
        defects: Array.from({ length: 16 }, (_, k) =>
          dirt(62 * Math.cos(k / 4.7), 62 * Math.sin(k / 4.7), 12 + 9 * (k % 4), -1),
        ),
      }),
      /too dirty to be graded: [45]\d % of the fiber’s edge is hidden/,
    ],
  ])('%s', (_what, picture, why) => {
    expect(refused(picture)).toMatch(why)
  })

  it('light that is only weak, or a hand that is only a little unsteady, is no reason', () => {
    expect(refused(changed(clean, (level) => level * 0.3))).toBe('pass')
    expect(refused(smeared(clean, 4))).toBe('pass')
    expect(refused(drawn({ tilt: { ratio: Math.cos((8 * Math.PI) / 180), turn: 1 } }))).toBe('pass')
  })

  it('text in a corner does no harm; on the ferrule, or over the fiber, it counts as dirt', () => {
    const text = (left: number, top: number, ink: number) =>
      changed(clean, (level, x, y) => {
        const [u, v] = [x - left, y - top]
        const isInk = u >= 0 && v >= 0 && u < 130 && v < 16 && u % 11 < 9 && (u * 7 + v * 5) % 5 < 2
        return isInk ? ink : level
      })
    expect([refused(text(10, 10, 255)), refused(text(300, 100, 255)), refused(text(300, 300, 0))]).toEqual([
      'pass',
      'fail',
      'fail',
    ])
  })

  it('dirt that covers half of the face fails it', () => {
    const { grade } = judged(drawn({ defects: [dirt(70, 0, 110), dirt(20, 70, 70)] }))
    expect(grade.verdict).toBe('fail')
    expect(grade.reasons.join()).toMatch(/zone B \(cladding\): a defect of 1[12]\d/)
  })

  it('a camera of 480 rows shows the fiber, and not all of the contact zone: never a silent pass', () => {
    const { grade } = judged(drawn({ width: 640, height: 480, scale: 0.45, center: { x: 320, y: 240 } }))
    expect(grade.verdict).toBe('close')
    expect(grade.zones.filter(({ verdict }) => verdict !== 'pass').map(({ zone }) => zone)).toEqual(['D'])
    expect(grade.reasons.join()).toMatch(/zone D .*only 9\d % of it is in the picture/)
  })
})

it('a chip at the glass’s edge is as large as it is, though it reaches out of the zone', () => {
  // A disc of 6 µm cut off by the glass's edge: of it a lens is left that is 5.2 µm wide at the most.
  const { features } = judged(drawn({ defects: [dirt(61, 0, 6)], defocus: 0.4 }))
  const chip = features.find(({ x, y }) => Math.hypot(x - 60.5, y) < 3)!
  expect(chip.size).toBeGreaterThan(4.5)
  expect(chip.size).toBeLessThan(6.5)
})
