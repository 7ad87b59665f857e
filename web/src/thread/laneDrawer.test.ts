import { describe, expect, it } from 'vitest'
import { buildPyramid } from '../worker/pyramid.ts'
import type { Curve } from '../worker/view.ts'
import { LaneDrawer, type DrawingSurface, type LaneFrame } from './laneDrawer.ts'

/** A canvas that remembers what was done to it. */
function canvas() {
  const done: string[] = []
  const surface: DrawingSurface = {
    width: 300,
    height: 150,
    getContext: () => ({
      fillStyle: '',
      fillRect: () => done.push('rectangle'),
      setTransform: () => done.push('scaled'),
      clearRect: () => done.push('cleared'),
    }),
  }
  return { surface, done }
}

const CURVE: Curve = {
  first: 0,
  spacing: 1,
  map: { distance: [0, 1000], ground: [0, 1000] },
  pyramid: buildPyramid(Array.from({ length: 1000 }, (_, i) => -i / 100)),
}
const frame = (change: Partial<LaneFrame> = {}): LaneFrame => ({
  width: 400,
  height: 100,
  ratio: 2,
  ground: [0, 1000],
  levels: [-10, 0],
  at: [90, 10],
  curves: [{ curve: 7, pen: { color: 'black', width: 1.5 } }],
  ...change,
})

function drawer() {
  const soon: (() => void)[] = []
  const made = new LaneDrawer<DrawingSurface>((work) => soon.push(work))
  const { surface, done } = canvas()
  made.take({ kind: 'lane', lane: 1, surface })
  made.take({ kind: 'curve', number: 7, curve: CURVE })
  return { made, soon, surface, done }
}

describe('drawing lanes beside the page', () => {
  it('draws the last of the frames that came meanwhile, once', () => {
    const { made, soon, surface, done } = drawer()
    made.take({ kind: 'frame', lane: 1, frame: frame({ width: 200 }) })
    made.take({ kind: 'frame', lane: 1, frame: frame() })
    expect([soon.length, done.length]).toEqual([1, 0])
    soon[0]!()
    expect(done.filter((one) => one === 'cleared')).toHaveLength(1)
    expect(done.filter((one) => one === 'rectangle').length).toBeGreaterThan(50)
    // Two pixels of the canvas to one of the page.
    expect([surface.width, surface.height]).toEqual([800, 200])
    made.take({ kind: 'frame', lane: 1, frame: frame() })
    expect(soon).toHaveLength(2)
  })

  it('draws at once where there is no waiting', () => {
    const { surface, done } = canvas()
    const made = new LaneDrawer<DrawingSurface>((work) => work())
    made.take({ kind: 'lane', lane: 1, surface })
    made.take({ kind: 'curve', number: 7, curve: CURVE })
    made.take({ kind: 'frame', lane: 1, frame: frame() })
    expect(done).toContain('rectangle')
  })

  it('clears what shows a curve no longer, and passes over lanes and curves that it does not know', () => {
    const { made, soon, done } = drawer()
    made.take({ kind: 'forget', curves: [7] })
    made.take({ kind: 'frame', lane: 1, frame: frame() })
    made.take({ kind: 'frame', lane: 2, frame: frame() })
    soon[0]!()
    expect(done).toEqual(['scaled', 'cleared'])
  })
})
