import { useTheme } from '@mui/material/styles'
import type { ScaleLinear } from 'd3'
import type { LocateView } from '../worker/view.ts'
import { NodeGlyph, SlackGlyph } from './glyphs.tsx'

export const PLANT_HEIGHT = 104
const THREAD_Y = 52
const LABEL_GAP = 96

/** The thread as it lies: nodes, slack, landmarks, and what surrounds the cable. */
export function PlantLane({ view, scale }: { view: LocateView; scale: ScaleLinear<number, number> }) {
  const { inks, palette } = useTheme()
  const [left, right] = scale.range() as [number, number]
  const onScreen = (x: number) => x > left - 60 && x < right + 60
  const start = Math.max(left, scale(0))
  const end = Math.min(right, scale(view.groundLength))
  return (
    <g aria-label="Plant lane">
      {view.spans.map((span) => {
        const a = Math.max(left, scale(span.from))
        const b = Math.min(right, scale(span.to))
        if (b - a < 2) return null
        return (
          <g key={`${span.cable} ${span.from}`}>
            <rect x={a} y={THREAD_Y + 26} width={b - a} height={20} fill={inks.grid} opacity={0.55} />
            {b - a > 90 && (
              <text x={(a + b) / 2} y={THREAD_Y + 40} textAnchor="middle" fontSize={12} fill={inks.label}>
                {fit(`${span.cable}, ${span.environment}`, b - a)}
              </text>
            )}
          </g>
        )
      })}
      <line
        x1={left}
        x2={start}
        y1={THREAD_Y}
        y2={THREAD_Y}
        stroke={inks.cord}
        strokeWidth={1.5}
        strokeDasharray="3 3"
      />
      <line
        x1={end}
        x2={right}
        y1={THREAD_Y}
        y2={THREAD_Y}
        stroke={inks.cord}
        strokeWidth={1.5}
        strokeDasharray="3 3"
      />
      <line x1={start} x2={end} y1={THREAD_Y} y2={THREAD_Y} stroke={inks.thread} strokeWidth={3.5} />
      {view.landmarks.map((mark) => {
        const x = scale(mark.ground)
        return onScreen(x) ? (
          <line key={mark.name} x1={x} x2={x} y1={THREAD_Y - 6} y2={THREAD_Y + 6} stroke={inks.label} strokeWidth={1.2}>
            <title>{mark.name}</title>
          </line>
        ) : null
      })}
      {view.nodes.map((node) => {
        const x = scale(node.ground)
        return onScreen(x) ? (
          <g key={node.id} transform={`translate(${x} ${THREAD_Y})`}>
            <title>{`${node.name}${node.slack > 0 ? `, ${node.slack.toFixed(0)} m of slack` : ''}`}</title>
            {node.slack > 0 && (
              <g transform="translate(0 8)">
                <SlackGlyph color={inks.thread} />
              </g>
            )}
            <NodeGlyph kind={node.nodeKind} color={inks.thread} paper={palette.background.paper} />
          </g>
        ) : null
      })}
      {labels(view, scale).map(({ name, x, anchor, strong, row }) => (
        <text
          key={name}
          x={x}
          y={row === 0 ? THREAD_Y - 18 : THREAD_Y - 34}
          textAnchor={anchor}
          fontSize={12.5}
          fontWeight={strong ? 650 : 400}
          fill={inks.label}
        >
          {name}
        </text>
      ))}
    </g>
  )
}

interface Label {
  name: string
  x: number
  anchor: 'start' | 'middle' | 'end'
  strong: boolean
  row: 0 | 1
}

/** Nodes first, then landmarks, as long as no two names run into each other. */
function labels(view: LocateView, scale: ScaleLinear<number, number>): Label[] {
  const [left, right] = scale.range() as [number, number]
  const wanted = [
    ...view.nodes.map((node) => ({ name: node.name, ground: node.ground, strong: true })),
    ...view.landmarks.map((mark) => ({ ...mark, strong: false })),
  ]
  const placed: (Label & { from: number; to: number })[] = []
  for (const { name, ground, strong } of wanted) {
    const x = scale(ground)
    if (x < left || x > right) continue
    const width = Math.max(LABEL_GAP / 2, name.length * 6.8)
    const anchor = x - width / 2 < left ? 'start' : x + width / 2 > right ? 'end' : 'middle'
    const from = anchor === 'start' ? x : anchor === 'end' ? x - width : x - width / 2
    const free = ([0, 1] as const).find((row) =>
      placed.every((other) => other.row !== row || from > other.to + 8 || from + width < other.from - 8),
    )
    if (free === undefined) continue
    placed.push({ name, x, anchor, strong, row: free, from, to: from + width })
  }
  return placed
}

function fit(text: string, width: number): string {
  const most = Math.floor(width / 6.6)
  return text.length <= most ? text : `${text.slice(0, Math.max(0, most - 1))}…`
}
