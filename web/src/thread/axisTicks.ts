import { metres } from '@cold-thread/core/units'
import { ticks, type ScaleLinear } from 'd3'
import type { LocateView } from '../worker/view.ts'

/** Chainage of a place on the ruler. */
export function chainageOf(view: Pick<LocateView, 'chainageAtZero' | 'chainageSign'>, ground: number): number {
  return view.chainageAtZero + view.chainageSign * ground
}

/** What the ruler counts: chainage on the ground, or metres from the near end along sheath or fiber. */
export type RulerKind = 'ground' | 'sheath' | 'optical'

/** Each with its word and what it counts. */
export const RULERS: readonly [RulerKind, string, string][] = [
  ['ground', 'Ground', 'Chainage on the ground'],
  ['sheath', 'Sheath', 'Metres of sheath from the near end, as the cable’s marks count'],
  ['optical', 'Fiber', 'Metres of fiber from the near end, as an OTDR there reads'],
]

/** A place on the ground as the ruler counts it; where the ground stands still (a coil), before the coil. */
export function rulerValue(
  view: Pick<LocateView, 'rulers' | 'chainageAtZero' | 'chainageSign'>,
  kind: RulerKind,
  ground: number,
): number {
  return kind === 'ground' ? chainageOf(view, ground) : along(view.rulers.ground, view.rulers[kind], ground)
}

/** Linear between corners; `from` may stand still, then its first corner counts. */
function along(from: readonly number[], to: readonly number[], at: number): number {
  let k = from.findIndex((value) => value >= at)
  if (k < 0) k = from.length - 1
  if (k === 0) return to[0]!
  const [a, b] = [from[k - 1]!, from[k]!]
  const part = b > a ? Math.min(1, Math.max(0, (at - a) / (b - a))) : 0
  return to[k - 1]! + part * (to[k]! - to[k - 1]!)
}

/** Round figures for the ruler, at most one for each 110 pixels. */
export function rulerTicks(
  view: LocateView,
  scale: ScaleLinear<number, number>,
  kind: RulerKind = 'ground',
): { ground: number; label: string }[] {
  const [a, b] = scale.domain() as [number, number]
  const [left, right] = scale.range() as [number, number]
  if (kind !== 'ground') {
    const [from, to] = [Math.max(0, a), Math.min(view.groundLength, b)].map((ground) => rulerValue(view, kind, ground))
    return ticks(from!, to!, Math.max(2, Math.floor((right - left) / 110))).map((value) => ({
      ground: along(view.rulers[kind], view.rulers.ground, value),
      label: metres(value),
    }))
  }
  const bounds = [chainageOf(view, a), chainageOf(view, b)].sort((p, q) => p - q) as [number, number]
  return ticks(bounds[0], bounds[1], Math.max(2, Math.floor((right - left) / 110)))
    .map((chainage) => ({ chainage, ground: view.chainageSign * (chainage - view.chainageAtZero) }))
    .filter(({ ground }) => ground >= 0 && ground <= view.groundLength)
    .map(({ chainage, ground }) => ({ ground, label: metres(chainage) }))
}

/** The 95 % interval; where the ground stands still, in a closure or coil, it is one place. */
export function intervalInWords([low, high]: readonly [number, number]): string {
  return high - low < 0.5 ? '95 % at this one place' : `95 % between ${metres(low)} and ${metres(high)}`
}
