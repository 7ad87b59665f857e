import { scaleLinear } from 'd3'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { distanceAlongGround, distanceOfGround } from '../worker/polyline.ts'
import { buildPyramid } from '../worker/pyramid.ts'
import type { Curve } from '../worker/view.ts'
import { drawCurve } from './drawCurve.ts'

interface Box {
  left: number
  top: number
  right: number
  bottom: number
}

/** What is drawn of values a metre apart, in pixels of 1 dB. */
function drawn(values: number[], sight: [number, number], options: { dash?: [number, number]; ratio?: number } = {}) {
  const boxes: Box[] = []
  const context = {
    fillStyle: '',
    fillRect: (x: number, y: number, w: number, h: number) =>
      boxes.push({ left: x, top: y, right: x + w, bottom: y + h }),
  }
  const curve: Curve = {
    first: 0,
    spacing: 1,
    pyramid: buildPyramid(values),
    map: { distance: [0, values.length], ground: [0, values.length] },
  } as Curve
  drawCurve(
    context as unknown as CanvasRenderingContext2D,
    curve,
    scaleLinear(sight, [0, 200]),
    scaleLinear([0, -100], [0, 100]),
    { color: 'black', width: 2, ...(options.dash ? { dash: options.dash } : {}) },
    options.ratio ?? 1,
  )
  return boxes
}

const levels = fc.array(fc.integer({ min: -60, max: 0 }), { minLength: 300, maxLength: 1500 })

describe('a curve of columns', () => {
  it('loses no point in sight, however many share a column', () => {
    fc.assert(
      fc.property(levels, (values) => {
        const boxes = drawn(values, [0, values.length - 1])
        const perPixel = (values.length - 1) / 200
        const hidden = [...values.keys()].slice(0, -1).filter((i) => {
          const x = i / perPixel // on the border of two columns either will do
          return !boxes.some(
            (box) =>
              box.left <= x + 1e-6 &&
              x <= box.right + 1e-6 &&
              box.top <= 0.13 - values[i]! &&
              -values[i]! <= box.bottom + 0.13,
          )
        })
        expect(hidden).toEqual([])
      }),
      { numRuns: 8, seed: 3, endOnFailure: true },
    )
  })

  it('is one line: each column touches the one before', () => {
    fc.assert(
      fc.property(levels, fc.constantFrom(1, 2), fc.integer({ min: 20, max: 290 }), (values, ratio, metres) => {
        const boxes = drawn(values, [0, metres], { ratio })
        const apart = boxes.slice(1).filter((box, k) => box.top >= boxes[k]!.bottom || box.bottom <= boxes[k]!.top)
        expect(apart).toEqual([])
      }),
      { numRuns: 20, seed: 4, endOnFailure: true },
    )
  })

  it('is dashed by leaving columns out, and ends where there are no points', () => {
    const flat = Array.from({ length: 101 }, () => -10)
    expect(
      drawn(flat, [0, 200])
        .map((box) => box.right)
        .at(-1),
    ).toBeLessThanOrEqual(101)
    const dashed = drawn(flat, [0, 100], { dash: [5, 3] })
    expect(dashed.map(({ left, right }) => [left % 8, right - left])).toEqual(dashed.map(() => [0, 5]))
    expect(dashed).toHaveLength(25)
  })

  it('takes columns alike together: a quiet trace is a few rectangles', () => {
    const gentle = Array.from({ length: 2001 }, (_, i) => -10 - i / 1000)
    const boxes = drawn(gentle, [0, 2000])
    // 2 dB are 2 pixels here, in steps of a quarter.
    expect(boxes.length).toBeLessThan(20)
    expect(boxes[0]!.left).toBe(0)
    expect(boxes.at(-1)!.right).toBe(200)
    boxes.slice(1).forEach((box, k) => expect(box.left).toBe(boxes[k]!.right))
  })
})

describe('distances along the ground', () => {
  it('are those of single places, forth and back, with coils', () => {
    const map = { distance: [0, 100, 130, 330, 400], ground: [0, 98, 98, 290, 361] }
    const mirrored = { distance: map.distance, ground: map.ground.map((ground) => 361 - ground) }
    for (const one of [map, mirrored]) {
      const along = distanceAlongGround(one)
      for (const ground of [-20, 5, 97, 99, 200, 300, 380, 200, 50, -5])
        expect(along(ground)).toBeCloseTo(distanceOfGround(one, ground), 9)
    }
  })
})
