import type { CableSurveyRecord } from '@cold-thread/contract'
import { buildThread, type PlantBundle } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { scaleLinear } from 'd3'
import { useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { metres } from '@cold-thread/core/units'
import { useWidth } from '../../thread/useWidth.ts'
import { groupInWords } from './surveyWords.ts'

const GUTTER = { wide: 150, narrow: 84 }
const HEAD = 40
const FOOT = 10
/** The whole cable in view where that leaves a row at least this high. */
const ROW = { least: 2, most: 6, wanted: 560 }
const GAP = 5

/** Fiber by distance: a row for each fiber as far as light reaches, its damages on it, grouped as the cable is. */
export function SurveyChart({
  survey,
  plant,
  linkId,
}: {
  survey: CableSurveyRecord
  plant: PlantBundle
  linkId: string
}) {
  const { inks, palette } = useTheme()
  const surface = useRef<HTMLDivElement>(null)
  const width = useWidth(surface)
  const thread = useMemo(() => buildThread(plant, linkId), [plant, linkId])
  const [chosen, setChosen] = useState<number | null>(null)
  const gutter = width < 560 ? GUTTER.narrow : GUTTER.wide
  const row = Math.max(ROW.least, Math.min(ROW.most, ROW.wanted / survey.fibers.length))
  const scale = scaleLinear([0, thread.groundLength], [gutter, Math.max(gutter + 50, width - 12)])
  const rows = useMemo(() => layRows(survey, row), [survey, row])
  const height = HEAD + rows.height + FOOT
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const nodes = labelled(
    thread.nodes.map(({ id, ground }) => ({ name: nameOf(id), x: scale(ground) })),
    width,
  )

  const fiberAt = (y: number) =>
    rows.fibers.find((one) => y >= one.y - 1 && y < one.y + Math.max(row, 3))?.fiber.fiber ?? null
  const onKey = (event: KeyboardEvent) => {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
    if (step === 0) return
    event.preventDefault()
    const order = rows.fibers.map((one) => one.fiber.fiber)
    const here = chosen === null ? (step === 1 ? -1 : order.length) : order.indexOf(chosen)
    setChosen(order[Math.min(order.length - 1, Math.max(0, here + step))] ?? null)
  }
  return (
    <Box ref={surface}>
      <svg
        width={width}
        height={height}
        role="img"
        tabIndex={0}
        aria-label={`${survey.fibers.length} fibers by distance; arrow keys go from fiber to fiber`}
        onKeyDown={onKey}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect()
          const fiber = fiberAt(event.clientY - box.top)
          if (fiber !== null) setChosen(fiber)
        }}
        style={{ display: 'block', touchAction: 'pan-y' }}
      >
        {survey.places.map((place) => (
          <rect
            key={place.ground + place.fibers.length}
            x={scale(place.ground) - 5}
            width={10}
            y={HEAD - 6}
            height={rows.height + 6}
            fill={inks.ember[0]}
            opacity={0.8}
          />
        ))}
        {nodes.map(({ name, x, anchor, shown }) => (
          <g key={name + x}>
            <line x1={x} x2={x} y1={HEAD - 8} y2={HEAD + rows.height} stroke={inks.grid} strokeWidth={1.2} />
            {shown && (
              <text x={x} y={HEAD - 14} textAnchor={anchor} fontSize={12.5} fontWeight={650} fill={inks.label}>
                {name}
              </text>
            )}
          </g>
        ))}
        {rows.groups.map(({ group, y, height: tall, sound }) => (
          <text
            key={group.number}
            x={gutter - 10}
            y={y + tall / 2 + 4}
            textAnchor="end"
            fontSize={12.5}
            fontWeight={sound ? 400 : 700}
            fill={sound ? inks.label : palette.text.primary}
          >
            {width < 560 ? `${group.number} ${group.color ?? ''}` : groupInWords(group)}
          </text>
        ))}
        {rows.fibers.map(({ fiber, y }) => (
          <g key={fiber.fiber}>
            {litStretches(fiber, thread.groundLength).map(([from, to]) => (
              <rect
                key={from}
                x={scale(from)}
                width={Math.max(0, scale(to) - scale(from))}
                y={y}
                height={Math.max(1, row - 1)}
                fill={fiber.fiber === chosen ? inks.present : inks.thread}
                opacity={fiber.fiber === chosen ? 1 : fiber.state === 'sound' ? 0.34 : 0.62}
              />
            ))}
            {fiber.damages.map((damage) => (
              <rect
                key={damage.ground}
                x={scale(damage.ground) - (damage.loss === null ? 4 : 2.5)}
                width={damage.loss === null ? 8 : 5}
                y={y - 0.5}
                height={Math.max(2.5, row)}
                fill={damage.loss === null ? inks.ember[2] : inks.ember[1]}
              />
            ))}
          </g>
        ))}
      </svg>
      <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', mt: 0.5, fontSize: 14 }}>
        <Key color={inks.thread} words="light reaches" />
        <Key color={inks.ember[1]} words="added loss" />
        <Key color={inks.ember[2]} words="broken: wide mark, no light beyond" />
      </Box>
      <Typography aria-live="polite" sx={{ mt: 1, minHeight: '1.6em' }}>
        {chosen === null ? 'Point at a fiber, or walk through them with the arrow keys.' : inWords(survey, chosen)}
      </Typography>
    </Box>
  )
}

function Key({ color, words }: { color: string; words: string }) {
  return (
    <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75 }}>
      <svg width={18} height={10} aria-hidden>
        <rect width={18} height={10} fill={color} />
      </svg>
      {words}
    </Box>
  )
}

type Fiber = CableSurveyRecord['fibers'][number]

function layRows(survey: CableSurveyRecord, row: number) {
  const groups: { group: CableSurveyRecord['groups'][number]; y: number; height: number; sound: boolean }[] = []
  const fibers: { fiber: Fiber; y: number }[] = []
  let y = HEAD
  for (const group of survey.groups) {
    const own = survey.fibers.filter(({ fiber }) => fiber >= group.first && fiber <= group.last)
    if (own.length === 0) continue
    const height = Math.max(own.length * row, 12)
    groups.push({ group, y, height, sound: own.every((fiber) => fiber.state === 'sound') })
    own.forEach((fiber, k) => fibers.push({ fiber, y: y + k * row }))
    y += height + GAP
  }
  return { groups, fibers, height: y - HEAD }
}

/** Where light was seen from either end, m of ground. */
function litStretches(fiber: Fiber, length: number): [number, number][] {
  const out: [number, number][] = []
  if (fiber.litFrom !== null) out.push([0, fiber.litFrom])
  if (fiber.litTo !== null) out.push([fiber.litTo, length])
  const [first, second] = out
  return first && second && first[1] >= second[0] ? [[0, length]] : out
}

/** Names of nodes that don't run into each other; the ends come first. */
function labelled(nodes: { name: string; x: number }[], width: number) {
  const taken: [number, number][] = []
  const order = [0, nodes.length - 1, ...nodes.keys()]
  const shown = new Map<number, 'start' | 'middle' | 'end'>()
  for (const k of order) {
    if (shown.has(k)) continue
    const { name, x } = nodes[k]!
    const wide = name.length * 7
    const anchor = x + wide / 2 > width ? 'end' : k === 0 ? 'start' : 'middle'
    const from = anchor === 'end' ? x - wide : anchor === 'start' ? x : x - wide / 2
    if (taken.some(([a, b]) => from < b + 8 && from + wide > a - 8)) continue
    taken.push([from, from + wide])
    shown.set(k, anchor)
  }
  return nodes.map((node, k) => ({ ...node, shown: shown.has(k), anchor: shown.get(k) ?? ('middle' as const) }))
}

function inWords(survey: CableSurveyRecord, number: number): string {
  const fiber = survey.fibers.find((one) => one.fiber === number)!
  const group = survey.groups.find((one) => number >= one.first && number <= one.last)!
  const damages = fiber.damages.map((damage) =>
    damage.loss === null
      ? `broken ${metres(damage.ground)} along`
      : `${damage.loss.toFixed(2)} dB added ${metres(damage.ground)} along`,
  )
  const basis = fiber.compared ? 'against its baseline' : 'without a baseline'
  return `Fiber ${number}, ${groupInWords(group)}, fiber ${number - group.first + 1} in it: ${damages.length > 0 ? damages.join(', ') : 'sound'} (${basis}).`
}
