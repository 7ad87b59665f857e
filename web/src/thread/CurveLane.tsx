import { useTheme } from '@mui/material/styles'
import { scaleLinear, type ScaleLinear } from 'd3'
import { useEffect, useRef } from 'react'
import { rangeOf } from '../worker/pyramid.ts'
import { distanceOfGround } from '../worker/polyline.ts'
import type { Curve } from '../worker/view.ts'
import type { Pen } from './drawCurve.ts'
import { holdCurves, paintLane } from './lanePainter.ts'

interface Props {
  title: string
  curves: { curve: Curve; pen: Pen; name: string }[]
  scale: ScaleLinear<number, number>
  width: number
  height: number
  /** dB that are always shown, e.g. ±0.5 for a difference. */
  least: [number, number] | null
  /** dB below which nothing is drawn: the noise floor. */
  floor: number
  /** Stretch of ground that sets the scale: the link without its cords. */
  within: [number, number]
  zeroLine?: boolean
  /** Smallest change that would have been seen, dB, by stretch of ground. */
  limits?: { from: number; to: number; loss: number }[]
}

/** Below this the names of the curves need more than one line, pixels. */
const NARROW = 700

/** One lane of curves in dB, drawn on a canvas, its scale fitted to what is in sight. */
export function CurveLane({
  title,
  curves,
  scale,
  width,
  height,
  least,
  floor,
  within,
  zeroLine = false,
  limits = [],
}: Props) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { inks } = useTheme()
  const domain = levelDomain(
    curves.map(({ curve }) => curve),
    scale,
    least,
    floor,
    within,
  )
  const narrow = width < NARROW
  const y = scaleLinear(domain, [height - 6, narrow ? 15 : 18])
  const marks = y.ticks(Math.max(2, Math.floor(height / 34)))

  const shown = curves.map(({ curve }) => curve)
  const holding = useRef<{ curves: readonly Curve[]; release: () => void } | null>(null)
  useEffect(() => {
    const held = holding.current?.curves
    if (held?.length !== shown.length || held.some((curve, k) => curve !== shown[k])) {
      // The new ones first: what stays is not sent again.
      const before = holding.current
      holding.current = { curves: shown, release: holdCurves(shown) }
      before?.release()
    }
    if (!canvas.current || width === 0) return
    paintLane(canvas.current, {
      width,
      height,
      ratio: window.devicePixelRatio || 1,
      ground: scale.domain() as [number, number],
      levels: y.domain() as [number, number],
      at: y.range() as [number, number],
      curves,
    })
  })
  useEffect(
    () => () => {
      holding.current?.release()
      holding.current = null
    },
    [],
  )

  const legend = <Legend title={title} curves={curves} dots={limits.length > 0} narrow={narrow} />
  return (
    <div style={{ background: inks.lane, borderBottom: `1px solid ${inks.grid}` }}>
      {narrow && legend}
      <div style={{ position: 'relative', height }}>
        <svg width={width} height={height} style={{ position: 'absolute', inset: 0 }} aria-hidden>
          <path d={marks.map((mark) => `M0 ${y(mark)}h${width}`).join('')} stroke={inks.grid} />
          {zeroLine && <path d={`M0 ${y(0)}h${width}`} stroke={inks.grid} strokeWidth={2} />}
          <path
            d={limits
              .flatMap(({ from, to, loss }) => [loss, -loss].map((value) => `M${scale(from)} ${y(value)}H${scale(to)}`))
              .join('')}
            stroke={inks.label}
            strokeDasharray="1 4"
          />
        </svg>
        <canvas ref={canvas} role="img" aria-label={title} style={{ position: 'absolute', inset: 0, width, height }} />
        <svg
          width={width}
          height={height}
          style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}
          aria-hidden
        >
          <path
            d={marks.map((mark) => `M5 ${y(mark) - 14}h${6.2 * `${mark} dB`.length + 5}v13H5z`).join('')}
            fill={inks.lane}
            opacity={0.85}
          />
          {marks.map((mark, k) => (
            <text key={k} x={8} y={y(mark) - 3} fontSize={11} fill={inks.label}>
              {`${mark} dB`}
            </text>
          ))}
        </svg>
        {!narrow && legend}
      </div>
    </div>
  )
}

/** The lane's title and its curves' names: within the lane, or over it where they need more than a line. */
function Legend({ title, curves, dots, narrow }: Pick<Props, 'title' | 'curves'> & { dots: boolean; narrow: boolean }) {
  const { inks } = useTheme()
  return (
    <div
      style={{
        ...(narrow ? { padding: '2px 8px' } : { position: 'absolute', left: 72, top: 2 }),
        fontSize: 12.5,
        color: inks.label,
        display: 'flex',
        columnGap: 12,
        flexWrap: 'wrap',
      }}
    >
      <span style={{ fontWeight: 650 }}>{title}</span>
      {dots && <span>dots: smallest change seen</span>}
      {curves.length > 1 &&
        curves.map(({ name, pen }) => (
          <span key={name} style={{ display: 'inline-flex', alignItems: 'center', gap: 4 }}>
            <svg width={22} height={8} aria-hidden>
              <line
                x1={0}
                x2={22}
                y1={4}
                y2={4}
                stroke={pen.color}
                strokeWidth={pen.width + 0.6}
                strokeDasharray={pen.dash?.join(' ')}
              />
            </svg>
            {name}
          </span>
        ))}
    </div>
  )
}

function levelDomain(
  curves: readonly Curve[],
  scale: ScaleLinear<number, number>,
  least: [number, number] | null,
  floor: number,
  within: [number, number],
): [number, number] {
  const margin = 0.002 * (within[1] - within[0])
  const sight = scale.domain() as [number, number]
  const a = Math.max(sight[0], within[0] + margin)
  const b = Math.min(sight[1], within[1] - margin)
  let low = least ? least[0] : Infinity
  let high = least ? least[1] : -Infinity
  for (const curve of curves) {
    const ends = [a, b]
      .map((ground) => (distanceOfGround(curve.map, ground) - curve.first) / curve.spacing)
      .sort((p, q) => p - q) as [number, number]
    const range = rangeOf(curve.pyramid, ends[0], ends[1])
    if (!range) continue
    low = Math.min(low, Math.max(floor, range[0]))
    high = Math.max(high, range[1])
  }
  if (!(high > low)) return [-1, 1]
  const space = 0.06 * (high - low)
  return [low - space, high + space]
}
