import { scaleLinear } from 'd3'
import type { Curve } from '../worker/view.ts'
import { drawCurve, type Brush, type Pen } from './drawCurve.ts'

/** How a lane looks in one frame. Lengths in pixels of the page. */
export interface LaneFrame {
  width: number
  height: number
  /** Pixels of the canvas to one of the page. */
  ratio: number
  /** Ground at the left and right edge, m. */
  ground: [number, number]
  /** Levels, dB, and where they stand from the top. */
  levels: [number, number]
  at: [number, number]
  /** By the number that a curve was given. */
  curves: { curve: number; pen: Pen }[]
}

/** What is told to whoever draws: curves once, frames as they come. */
export type DrawerMessage<Surface> =
  | { kind: 'lane'; lane: number; surface: Surface }
  | { kind: 'curve'; number: number; curve: Curve }
  | { kind: 'forget'; curves: number[] }
  | { kind: 'frame'; lane: number; frame: LaneFrame }

/** A canvas, on the page or off it. */
export interface DrawingSurface {
  width: number
  height: number
  getContext(kind: '2d'): (Brush & Pick<CanvasRenderingContext2D, 'setTransform' | 'clearRect'>) | null
}

/** Draws lanes of curves; of frames that come faster than they can be drawn, the last one. */
export class LaneDrawer<Surface extends DrawingSurface> {
  readonly #lanes = new Map<number, Surface>()
  readonly #curves = new Map<number, Curve>()
  readonly #waiting = new Map<number, LaneFrame>()
  readonly #soon: (work: () => void) => void

  /** @param soon calls its argument when there is time to draw */
  constructor(soon: (work: () => void) => void) {
    this.#soon = soon
  }

  take(message: DrawerMessage<Surface>): void {
    switch (message.kind) {
      case 'lane':
        this.#lanes.set(message.lane, message.surface)
        break
      case 'curve':
        this.#curves.set(message.number, message.curve)
        break
      case 'forget':
        for (const number of message.curves) this.#curves.delete(number)
        break
      case 'frame': {
        const isFirst = this.#waiting.size === 0
        this.#waiting.set(message.lane, message.frame)
        if (isFirst) this.#soon(() => this.#drawWaiting())
      }
    }
  }

  #drawWaiting(): void {
    const frames = [...this.#waiting]
    this.#waiting.clear()
    for (const [lane, frame] of frames) {
      const surface = this.#lanes.get(lane)
      if (surface) this.#draw(surface, frame)
    }
  }

  #draw(surface: Surface, { width, height, ratio, ground, levels, at, curves }: LaneFrame): void {
    const context = surface.getContext('2d')
    if (!context || width === 0) return
    // Setting the size, even to the same, makes the canvas anew.
    const [across, down] = [Math.round(width * ratio), Math.round(height * ratio)]
    if (surface.width !== across) surface.width = across
    if (surface.height !== down) surface.height = down
    context.setTransform(ratio, 0, 0, ratio, 0, 0)
    context.clearRect(0, 0, width, height)
    const x = scaleLinear(ground, [0, width])
    const y = scaleLinear(levels, at)
    for (const { curve: number, pen } of curves) {
      const curve = this.#curves.get(number)
      if (curve) drawCurve(context, curve, x, y, pen, ratio)
    }
  }
}
