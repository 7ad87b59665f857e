import type { ProofEvent } from '@cold-thread/core/prove'
import { metres } from '@cold-thread/core/units'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { max, min, scaleLinear } from 'd3'
import { useRef } from 'react'
import { useWidth } from '../../thread/useWidth.ts'
import { HOLDS } from './words.ts'

const HEIGHT = 156
const MARGIN = { left: 34, right: 16, top: 22, bottom: 30 }
/** A name needs about so much room for each letter, pixels. */
const LETTER = 6.6

/** The link from end to end, every reading where it belongs: what it was, what it is, what is allowed. */
export function LinkDrawing({ events, wavelength }: { events: readonly ProofEvent[]; wavelength: number }) {
  const { inks, palette } = useTheme()
  const box = useRef<HTMLDivElement>(null)
  const width = useWidth(box)
  const [from, to] = [min(events, (event) => event.chainage) ?? 0, max(events, (event) => event.chainage) ?? 1]
  const most = max(events.flatMap(({ lossAfter, limit, lossBefore }) => [lossAfter ?? 0, limit, lossBefore ?? 0])) ?? 1
  const x = scaleLinear([from, Math.max(to, from + 1)], [MARGIN.left, Math.max(MARGIN.left + 1, width - MARGIN.right)])
  const y = scaleLinear(
    [Math.min(0, min(events, (event) => event.lossAfter ?? 0) ?? 0), most * 1.1],
    [HEIGHT - MARGIN.bottom, MARGIN.top],
  )
  const color = {
    good: inks.after,
    close: palette.warning.main,
    bad: palette.error.main,
    unknown: palette.text.secondary,
  }
  return (
    <Box ref={box}>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`The link with its losses at ${wavelength} nm: ${events.length} places, ${events.filter(({ holds }) => holds === 'no').length} over their limit`}
      >
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke={inks.grid} />
            <text x={MARGIN.left - 5} y={y(tick) + 4} fontSize={12} textAnchor="end" fill={palette.text.secondary}>
              {tick}
            </text>
          </g>
        ))}
        <text x={2} y={13} fontSize={12} fill={palette.text.secondary}>
          dB
        </text>
        <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(0)} y2={y(0)} stroke={inks.cursor} strokeWidth={2} />
        {events.map((event) => {
          const at = x(event.chainage)
          const { tone } = HOLDS[event.holds]
          return (
            <g key={`${event.chainage} ${event.node}`}>
              <title>{`${event.place}: ${event.lossAfter === null ? 'not measured' : `${event.lossAfter.toFixed(2)} dB`}, allowed ${event.limit.toFixed(2)} dB`}</title>
              {event.lossAfter !== null && (
                <line x1={at} x2={at} y1={y(0)} y2={y(event.lossAfter)} stroke={color[tone]} strokeWidth={4} />
              )}
              <line
                x1={at - 9}
                x2={at + 9}
                y1={y(event.limit)}
                y2={y(event.limit)}
                stroke={inks.cursor}
                strokeWidth={2}
              />
              {event.lossBefore !== null && (
                <circle cx={at} cy={y(event.lossBefore)} r={4.5} fill="none" stroke={inks.baseline} strokeWidth={2} />
              )}
              {event.lossAfter !== null &&
                (tone === 'bad' ? (
                  <rect x={at - 4.5} y={y(event.lossAfter) - 4.5} width={9} height={9} fill={color[tone]} />
                ) : (
                  <circle cx={at} cy={y(event.lossAfter)} r={4} fill={color[tone]} />
                ))}
            </g>
          )
        })}
        {namesThatFit(events, x, width).map(({ event, at, anchor }) => (
          <text key={event.place} x={at} y={HEIGHT - 12} fontSize={12} textAnchor={anchor} fill={palette.text.primary}>
            {event.place}
          </text>
        ))}
        <title>{`From ${metres(from)} to ${metres(to)}`}</title>
      </svg>
    </Box>
  )
}

/** Names under the line that do not run into each other: what does not hold first, then the ends. */
function namesThatFit(events: readonly ProofEvent[], x: (chainage: number) => number, width: number) {
  const placed: { event: ProofEvent; at: number; anchor: 'start' | 'middle' | 'end'; from: number; to: number }[] = []
  const rank = ({ holds, status }: ProofEvent, i: number) =>
    holds === 'no' ? 0 : holds === 'close' ? 1 : status === 'new' ? 2 : i === 0 || i === events.length - 1 ? 3 : 4
  for (const { event } of events
    .map((one, i) => ({ event: one, rank: rank(one, i) }))
    .sort((a, b) => a.rank - b.rank)) {
    const at = x(event.chainage)
    const half = (LETTER * event.place.length) / 2
    const anchor = at < half ? 'start' : at > width - half ? 'end' : 'middle'
    const middle = anchor === 'start' ? at + half : anchor === 'end' ? at - half : at
    const [from, to] = [middle - half - 4, middle + half + 4]
    if (placed.every((other) => to < other.from || from > other.to)) placed.push({ event, at, anchor, from, to })
  }
  return placed
}
