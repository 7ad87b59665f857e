import { besselj } from 'bessel'
import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/random.ts'
import { BLURS, spreadOf, withoutBlur, type Blur, type BlurShape } from './picture/blur.ts'
import { PROFILE_STEPS, readEdge, STEP } from './readEdge.ts'

/** Half level to half level of a line blurred as an edge is: the edge's slope. */
function lineWidth(edge: (x: number) => number): number {
  const slope = (x: number) => (edge(x + 1e-4) - edge(x - 1e-4)) / 2e-4
  let [near, far] = [0, 2]
  for (let i = 0; i < 40; i++) {
    const middle = (near + far) / 2
    if (slope(middle) > slope(0) / 2) near = middle
    else far = middle
  }
  return 2 * near
}

describe('a blurred edge', () => {
  it.each<BlurShape>(['gaussian', 'disc'])(
    'of a %s goes through a half; a line is one wide at half its height',
    (shape) => {
      const { edge, spread } = BLURS[shape]
      expect([edge(-2), edge(0), edge(2)].map((level) => Math.round(level * 1e4) / 1e4)).toEqual([0, 0.5, 1])
      expect(lineWidth(edge)).toBeCloseTo(1, 3)
      // The standard deviation of its slope, summed.
      let variance = 0
      for (let x = -3; x < 3; x += 0.001) variance += (x + 0.0005) ** 2 * (edge(x + 0.001) - edge(x))
      expect(Math.sqrt(variance)).toBeCloseTo(spread, 3)
    },
  )

  it('of a disc: its slope’s Fourier transform is that of a disc, 2·J₁(z)/z', () => {
    const radius = 1 / Math.sqrt(3)
    const { edge } = BLURS.disc
    for (const frequency of [1, 3, 6]) {
      let sum = 0
      const steps = 4000
      for (let i = 0; i < steps; i++) {
        const x = -radius + (2 * radius * (i + 0.5)) / steps
        sum += Math.cos(frequency * x) * (edge(x + radius / steps) - edge(x - radius / steps))
      }
      const z = frequency * radius
      expect(sum).toBeCloseTo((2 * besselj(z, 1)) / z, 4)
    }
  })
})

describe('sizes without the blur', () => {
  /** What a spot looks like, point by point: how much of it lies under the blur, thrown at random. */
  function seenByChance(blur: Blur, smoothing: number, size: number): number {
    const random = seededRandom(31)
    const throws = Array.from({ length: 40_000 }, () => {
      const [r, angle] = [(blur.width / Math.sqrt(3)) * Math.sqrt(random.uniform()), 2 * Math.PI * random.uniform()]
      const own =
        blur.shape === 'disc'
          ? { x: r * Math.cos(angle), y: r * Math.sin(angle) }
          : { x: spreadOf(blur) * random.normal(), y: spreadOf(blur) * random.normal() }
      return { x: own.x + smoothing * random.normal(), y: own.y + smoothing * random.normal() }
    })
    const level = (at: number) => throws.filter(({ x, y }) => Math.hypot(x + at, y) <= size / 2).length
    const half = level(0) / 2
    let [near, far] = [0, 12]
    for (let i = 0; i < 20; i++) {
      const middle = (near + far) / 2
      if (level(middle) > half) near = middle
      else far = middle
    }
    return near + far
  }

  it.each<[BlurShape, number, number, number]>([
    ['gaussian', 1.5, 0.5, 2],
    ['gaussian', 2.6, 0.8, 6],
    ['disc', 2.6, 0.6, 2],
    ['disc', 2.6, 0.6, 3.5],
    ['disc', 2.2, 1.2, 7],
    ['disc', 0.8, 0.3, 4],
  ])('a spot seen through a %s of %f µm, smoothed by %f µm, has its %f µm again', (shape, width, smoothing, size) => {
    const blur = { shape, width }
    const off = Math.abs(withoutBlur(blur, smoothing)(seenByChance(blur, smoothing, size)) - size)
    // Under a disc all that is smaller than it looks nearly alike.
    expect(off).toBeLessThan(size < width ? 0.5 : 0.15)
  })

  it('what is smaller than the blur shows is as small as can be told, what is large as large as it is', () => {
    const size = withoutBlur({ shape: 'disc', width: 2 }, 0.5)
    expect(size(0)).toBeLessThan(0.3)
    expect(size(40)).toBe(40)
  })
})

describe('the edge of the cladding', () => {
  const random = seededRandom(12)
  const profile = (shape: BlurShape, width: number, place: number, adhesive: number) =>
    Array.from({ length: 2 * PROFILE_STEPS + 1 }, (_, i) => {
      const { edge } = BLURS[shape]
      const x = i - PROFILE_STEPS
      const [a, b] = [edge((x - place) / width), edge((x - place - adhesive) / width)]
      return 150 * (1 - a) + 40 * (a - b) + 120 * b + 0.1 * random.normal()
    })

  it.each<[BlurShape, number, number, number]>([
    ['gaussian', 4, 1.3, 9],
    ['gaussian', 12, -2.6, 14],
    ['disc', 6, 0.4, 11],
    ['disc', 16, 2.2, 7],
  ])('blurred by a %s of %f steps: blur and place are read off it', (shape, width, place, adhesive) => {
    const read = readEdge(profile(shape, width, place, adhesive), 0)
    expect(read.shape).toBe(shape)
    expect(read.width / STEP / width).toBeGreaterThan(0.93)
    expect(read.width / STEP / width).toBeLessThan(1.07)
    expect(Math.abs(read.off / STEP - place)).toBeLessThan(0.5)
  })

  it('a level without any step gives figures that are finite', () => {
    const { width, off } = readEdge(
      Array.from({ length: 2 * PROFILE_STEPS + 1 }, () => 100),
      0,
    )
    expect([width, off].every(Number.isFinite)).toBe(true)
  })
})
