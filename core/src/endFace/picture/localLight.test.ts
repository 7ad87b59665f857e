import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/index.ts'
import { evenLocally } from './localLight.ts'

const [WIDTH, HEIGHT, SCALE] = [240, 200, 0.5]

function made(level: (x: number, y: number) => number) {
  const random = seededRandom(6)
  const contrast = Float32Array.from(
    { length: WIDTH * HEIGHT },
    (_, at) => level((at % WIDTH) * SCALE, Math.floor(at / WIDTH) * SCALE) + 0.01 * random.normal(),
  )
  return { width: WIDTH, height: HEIGHT, scale: SCALE, contrast }
}
const at = (x: number, y: number) => Math.round(y / SCALE) * WIDTH + Math.round(x / SCALE)
const meanAround = (contrast: Float32Array, x: number, y: number) => {
  let sum = 0
  for (let v = -4; v <= 4; v++) for (let u = -4; u <= 4; u++) sum += contrast[at(x, y) + v * WIDTH + u]!
  return sum / 81
}

describe('soft light', () => {
  it('is taken away', () => {
    const face = made((x, y) => 0.06 * Math.exp(-((x - 60) ** 2 + (y - 50) ** 2) / (2 * 40 ** 2)))
    evenLocally(face, () => true)
    for (const [x, y] of [
      [60, 50],
      [30, 50],
      [90, 80],
    ] as const)
      expect(Math.abs(meanAround(face.contrast, x, y))).toBeLessThan(0.015)
  })

  it('dirt stays, and leaves no shadow beside it', () => {
    const face = made((x, y) => (Math.hypot(x - 60, y - 50) < 9 ? -0.5 : 0))
    evenLocally(face, () => true)
    expect(meanAround(face.contrast, 60, 50)).toBeLessThan(-0.48)
    expect(Math.abs(meanAround(face.contrast, 76, 50))).toBeLessThan(0.01)
  })

  it('of another part, and what is not known, are left as they are', () => {
    const face = made((x) => 0.001 * x)
    face.contrast[5] = NaN
    const before = face.contrast.slice()
    evenLocally(face, (i) => i % WIDTH < WIDTH / 2)
    expect(face.contrast[5]).toBeNaN()
    expect(face.contrast[at(100, 40)]).toBe(before[at(100, 40)])
    expect(face.contrast[at(20, 40)]).not.toBe(before[at(20, 40)])
  })
})
