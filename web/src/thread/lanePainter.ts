import type { Curve } from '../worker/view.ts'
import type { Pen } from './drawCurve.ts'
import { LaneDrawer, type DrawerMessage, type LaneFrame } from './laneDrawer.ts'

/** A frame with its curves themselves. */
export type PaintedFrame = Omit<LaneFrame, 'curves'> & { curves: { curve: Curve; pen: Pen }[] }

/** Where messages go: a worker that draws off the page, or a drawer on it where the browser has no such canvas. */
interface Target {
  surfaceOf(canvas: HTMLCanvasElement): { surface: OffscreenCanvas | HTMLCanvasElement; transfer: Transferable[] }
  send(message: DrawerMessage<OffscreenCanvas | HTMLCanvasElement>, transfer: Transferable[]): void
}

let target: Target | null = null

function theTarget(): Target {
  target ??=
    typeof Worker === 'function' && 'transferControlToOffscreen' in HTMLCanvasElement.prototype
      ? inWorker(new Worker(new URL('./lane.worker.ts', import.meta.url), { type: 'module' }))
      : onPage()
  return target
}

function inWorker(worker: Worker): Target {
  return {
    surfaceOf: (canvas) => {
      const surface = canvas.transferControlToOffscreen()
      return { surface, transfer: [surface] }
    },
    send: (message, transfer) => worker.postMessage(message, transfer),
  }
}

function onPage(): Target {
  const drawer = new LaneDrawer<OffscreenCanvas | HTMLCanvasElement>((work) => work())
  return {
    surfaceOf: (canvas) => ({ surface: canvas, transfer: [] }),
    send: (message) => {
      drawer.take(message)
    },
  }
}

/** A canvas can be handed over once, a curve need be. */
const lanes = new WeakMap<HTMLCanvasElement, number>()
const numbers = new WeakMap<Curve, number>()
/** How many lanes show a curve; those that none shows are forgotten. */
const shown = new Map<number, number>()
let next = 1

/** Draws a frame of a lane, now or as soon as whoever draws has time. */
export function paintLane(canvas: HTMLCanvasElement, { curves, ...frame }: PaintedFrame): void {
  const { surfaceOf, send } = theTarget()
  let lane = lanes.get(canvas)
  if (lane === undefined) {
    lane = next++
    lanes.set(canvas, lane)
    const { surface, transfer } = surfaceOf(canvas)
    send({ kind: 'lane', lane, surface }, transfer)
  }
  const numbered = curves.map(({ curve, pen }) => ({ curve: numberOf(curve), pen }))
  send({ kind: 'frame', lane, frame: { ...frame, curves: numbered } }, [])
}

function numberOf(curve: Curve): number {
  const known = numbers.get(curve)
  if (known !== undefined) return known
  const number = next++
  numbers.set(curve, number)
  const { first, spacing, map, pyramid } = curve
  theTarget().send({ kind: 'curve', number, curve: { first, spacing, map, pyramid } }, [])
  return number
}

/** Says that a lane shows these curves. @returns says that it shows them no longer */
export function holdCurves(curves: readonly Curve[]): () => void {
  const held = curves.map(numberOf)
  for (const number of held) shown.set(number, (shown.get(number) ?? 0) + 1)
  return () => {
    const gone = held.filter((number) => {
      const left = shown.get(number)! - 1
      if (left > 0) shown.set(number, left)
      else shown.delete(number)
      return left === 0
    })
    for (const curve of curves) if (gone.includes(numbers.get(curve) ?? NaN)) numbers.delete(curve)
    if (gone.length > 0) theTarget().send({ kind: 'forget', curves: gone }, [])
  }
}
