import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/index.ts'
import { coreLight, coreReach, type CoreKind } from './coreLight.ts'

const BLUR = { shape: 'gaussian', width: 1.2 } as const
const BASE = 120

/** Places of a grid, with a level each by a function of them, and noise. */
function placesOf(kind: CoreKind, level: (x: number, y: number) => number, noise = 1) {
  const random = seededRandom(3)
  const step = kind === 'multimode' ? 0.8 : 0.35
  const reach = coreReach(kind)
  const places: { x: number; y: number; level: number }[] = []
  for (let y = -reach; y <= reach; y += step)
    for (let x = -reach; x <= reach; x += step)
      if (Math.hypot(x, y) <= reach) places.push({ x, y, level: level(x, y) + noise * random.normal() })
  return places
}
/** A disc with an edge as smooth as the blur: a logistic step, which is not the model's own. */
const disc = (r: number, radius: number) => 1 / (1 + Math.exp((r - radius) / (BLUR.width / 4)))
const worstOf = (kind: CoreKind, truth: (x: number, y: number) => number, within: number) => {
  const light = coreLight(placesOf(kind, truth), BASE, kind, BLUR)
  const off = placesOf(kind, truth, 0).filter(({ x, y }) => Math.hypot(x, y) < within)
  return Math.max(...off.map(({ x, y, level }) => Math.abs(light.at(x, y) - level)))
}

describe('light of a core', () => {
  it.each<[string, CoreKind, (x: number, y: number) => number]>([
    ['none', 'single-mode', () => BASE],
    ['a small even core', 'single-mode', (x, y) => BASE + 60 * disc(Math.hypot(x, y), 4.3)],
    ['a core darker than the glass', 'multimode', (x, y) => BASE - 25 * disc(Math.hypot(x, y), 31)],
    [
      'a peaked core, off the middle',
      'multimode',
      (x, y) => BASE + 70 * Math.cos(Math.min(1.5, Math.hypot(x - 0.8, y) / 20)) * disc(Math.hypot(x - 0.8, y), 25),
    ],
    [
      'one side of a core',
      'multimode',
      (x, y) => BASE + 70 * disc(Math.hypot(x, y), 25) * (0.5 + 0.5 * Math.tanh((x * 0.6 + y * 0.8 - 3) / 5)),
    ],
  ])('%s is followed within some levels of 255', (_name, kind, truth) => {
    // Beyond its edges, which are as sharp as the blur.
    expect(worstOf(kind, truth, kind === 'multimode' ? 20 : 2.5)).toBeLessThan(7)
  })

  it('dirt over part of a core is not taken for light that is missing there', () => {
    const lit = (x: number, y: number) => BASE + 70 * disc(Math.hypot(x, y), 25)
    const dirty = (x: number, y: number) => (Math.hypot(x - 8, y + 6) < 5 ? 40 : lit(x, y))
    const light = coreLight(placesOf('multimode', dirty), BASE, 'multimode', BLUR)
    expect(Math.abs(light.at(8, -6) - lit(8, -6))).toBeLessThan(7)
  })

  it('where hardly anything is seen there is no core', () => {
    const light = coreLight(placesOf('single-mode', () => BASE).slice(0, 20), BASE, 'single-mode', BLUR)
    expect(light).toMatchObject({ reach: 0 })
    expect(light.at(0, 0)).toBe(BASE)
  })
})
