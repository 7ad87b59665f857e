import type { ReportTrace } from './reportEvidence.ts'

const WIDTH = 500
const HEIGHT = 150
const LEFT = 34
const BOTTOM = 22
/** So much is left under the noise, dB. */
const BELOW_NOISE = 2

/** Part of the stretches that may lie below the scale. */
const FEW = 0.02

/** Traces before and after on one scale, as vectors. @returns an SVG for the page; null without any */
export function traceChart(before: ReportTrace | undefined, after: ReportTrace | undefined): string | null {
  const shown = [before, after].filter((one) => one !== undefined && one.points.length > 1) as ReportTrace[]
  if (shown.length === 0) return null
  const points = shown.flatMap((one) => one.points)
  const far = Math.max(...points.map(({ distance }) => distance))
  const high = Math.max(...points.map(({ most }) => most))
  // Behind the end there is noise, of which the lower half falls to nothing: the upper half shows where it lies, but for the
  // last stretch, which may have few points.
  const tops = points.map(({ most }) => most).sort((a, b) => a - b)
  const low = tops[Math.floor(FEW * tops.length)]! - BELOW_NOISE
  const x = (distance: number) => LEFT + (Math.max(0, distance) / far) * (WIDTH - LEFT - 4)
  const y = (level: number) => 4 + ((high - Math.max(low, level)) / Math.max(1e-9, high - low)) * (HEIGHT - BOTTOM - 4)
  const step = niceStep(far / 1000 / 6)
  const marks = Array.from({ length: Math.floor(far / 1000 / step) + 1 }, (_, i) => i * step)
  const levelStep = niceStep((high - low) / 5)
  const levels = Array.from(
    { length: Math.floor((high - low) / levelStep) + 1 },
    (_, i) => (Math.ceil(low / levelStep) + i) * levelStep,
  ).filter((level) => level <= high)
  const line = ({ points: of }: ReportTrace) =>
    of
      .map(
        ({ distance, least, most }) =>
          `${x(distance).toFixed(1)},${y(most).toFixed(1)} ${x(distance).toFixed(1)},${y(least).toFixed(1)}`,
      )
      .join(' ')
  const style = (one: ReportTrace) =>
    one === before ? 'stroke="#a9b4bd" stroke-width="2.2"' : 'stroke="#17456b" stroke-width="0.8"'
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}">`,
    ...marks.map(
      (km) =>
        `<line x1="${x(km * 1000)}" x2="${x(km * 1000)}" y1="4" y2="${HEIGHT - BOTTOM}" stroke="#d5dbe0" stroke-width="0.4"/>` +
        `<text x="${x(km * 1000)}" y="${HEIGHT - 10}" font-size="8" text-anchor="middle" fill="#333">${round(km)} km</text>`,
    ),
    ...levels.map(
      (level) =>
        `<line x1="${LEFT}" x2="${WIDTH - 4}" y1="${y(level)}" y2="${y(level)}" stroke="#d5dbe0" stroke-width="0.4"/>` +
        `<text x="${LEFT - 4}" y="${y(level) + 3}" font-size="8" text-anchor="end" fill="#333">${round(level)} dB</text>`,
    ),
    ...shown.map((one) => `<polyline points="${line(one)}" fill="none" ${style(one)}/>`),
    '</svg>',
  ].join('')
}

/** 1, 2 or 5 times a power of ten, at least `least`. */
function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(least, 1e-6)))
  return [1, 2, 5, 10].map((one) => one * power).find((one) => one >= least) ?? 10 * power
}

function round(value: number): string {
  return String(Number(value.toFixed(2)))
}
