import { ticks, type ScaleLinear } from 'd3'
import type { LocateView } from '../worker/view.ts'

/** Chainage of a place on the ruler. */
export function chainageOf(view: Pick<LocateView, 'chainageAtZero' | 'chainageSign'>, ground: number): number {
  return view.chainageAtZero + view.chainageSign * ground
}

/** Round chainages for the ruler, at most one for each 110 pixels. */
export function rulerTicks(view: LocateView, scale: ScaleLinear<number, number>): { ground: number; label: string }[] {
  const [a, b] = scale.domain() as [number, number]
  const [left, right] = scale.range() as [number, number]
  const bounds = [chainageOf(view, a), chainageOf(view, b)].sort((p, q) => p - q) as [number, number]
  return ticks(bounds[0], bounds[1], Math.max(2, Math.floor((right - left) / 110)))
    .map((chainage) => ({ chainage, ground: view.chainageSign * (chainage - view.chainageAtZero) }))
    .filter(({ ground }) => ground >= 0 && ground <= view.groundLength)
    .map(({ chainage, ground }) => ({ ground, label: metres(chainage) }))
}

const grouped = new Intl.NumberFormat('en', { maximumFractionDigits: 0 })

/** "12 734 m" */
export function metres(value: number): string {
  return `${grouped.format(Math.round(value)).replaceAll(',', '\u202f')}\u00a0m`
}
