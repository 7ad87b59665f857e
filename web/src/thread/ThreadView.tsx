import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import useMediaQuery from '@mui/material/useMediaQuery'
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import type { LocateView, TraceCurve } from '../worker/view.ts'
import { metres } from '@cold-thread/core/units'
import { RULERS, rulerTicks, rulerValue, type RulerKind } from './axisTicks.ts'
import { CurveLane } from './CurveLane.tsx'
import { valueAt, type Pen } from './drawCurve.ts'
import { MarkerReadout } from './MarkerReadout.tsx'
import { PLANT_HEIGHT, PlantLane } from './PlantLane.tsx'
import { SUSPICION_HEIGHT, SuspicionLane } from './SuspicionLane.tsx'
import { ThreadToolbar } from './ThreadToolbar.tsx'
import { useRuler } from './useRuler.ts'
import { useWidth } from './useWidth.ts'

const RULER_HEIGHT = 26
const TOOLS = { display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap', mb: 1 } as const
const DIRECTION_NAME = { ab: 'from the near end', ba: 'from the far end' } as const

/** A link as one thread on one ground ruler: plant, traces, difference and suspicion; they zoom and pan together. */
export function ThreadView({
  view,
  focus = null,
  here = null,
}: {
  view: LocateView
  focus?: number | null
  /** This device, with the radius it is sure to, m on the ground ruler. */
  here?: { ground: number; accuracy: number } | null
}) {
  const { inks, palette } = useTheme()
  const narrow = useMediaQuery('(max-width: 600px)')
  const surface = useRef<HTMLDivElement>(null)
  const width = useWidth(surface)
  const margin = 0.03 * view.groundLength
  const ruler = useRuler(surface, width, [-margin, view.groundLength + margin])
  const { scale, move } = ruler
  const [cursor, setCursor] = useState<number | null>(null)
  /** Ground of the markers, none while nothing is measured. */
  const [markers, setMarkers] = useState<number[] | null>(null)
  const wavelengths = useMemo(
    () => [...new Set(view.traces.map((trace) => trace.wavelength))].sort((a, b) => a - b),
    [view],
  )
  const [chosen, setChosen] = useState<number | null>(null)
  const [kind, setKind] = useState<RulerKind>('ground')
  const wavelength = chosen !== null && wavelengths.includes(chosen) ? chosen : (wavelengths.at(-1) ?? 1550)
  const lanes = (['ab', 'ba'] as const)
    .map((direction) => ({
      direction,
      traces: view.traces.filter((trace) => trace.direction === direction && trace.wavelength === wavelength),
    }))
    .filter((lane) => lane.traces.length > 0)
  const differences = view.differences.filter((curve) => curve.wavelength === wavelength)
  const marks = useMemo(() => stops(view, wavelength), [view, wavelength])
  const pens: Record<'baseline' | 'present', Pen> = {
    baseline: { color: inks.baseline, width: 1.4, dash: [5, 3] },
    present: { color: inks.present, width: 1.6 },
  }
  const laneHeight = narrow ? 104 : 128
  const fault = view.faults[0]

  const showWhole = useCallback(() => move.show(-margin, view.groundLength + margin), [move, margin, view.groundLength])
  const showFault = useCallback(() => {
    if (!fault) return
    const reach = Math.max(150, 8 * (fault.fiberSigma ?? view.groundLength / 8))
    move.show(fault.ground - reach, fault.ground + reach)
    setCursor(fault.ground)
  }, [fault, move, view.groundLength])
  const toggleMeasure = useCallback(() => setMarkers((placed) => (placed === null ? [] : null)), [])
  // A place chosen elsewhere on the page, such as an event of the table.
  useEffect(() => {
    if (focus === null) return
    setCursor(focus)
    const [a, b] = scale.domain() as [number, number]
    if (focus < a || focus > b) move.show(focus - (b - a) / 2, focus + (b - a) / 2)
    // Only a new choice moves the view; zooming afterwards is the person's own.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [focus])
  const nextRuler = () => {
    const order = RULERS.map(([value]) => value)
    setKind(order[(order.indexOf(kind) + 1) % order.length]!)
  }
  const goTo = (direction: 1 | -1) => {
    const here = cursor ?? (direction === 1 ? -Infinity : Infinity)
    const next = direction === 1 ? marks.find((mark) => mark > here + 0.5) : marks.findLast((mark) => mark < here - 0.5)
    if (next === undefined) return
    const [a, b] = scale.domain() as [number, number]
    setCursor(next)
    if (next < a || next > b) move.show(next - (b - a) / 2, next + (b - a) / 2)
  }
  /** A third marker begins anew. */
  const placeMarker = (ground: number) =>
    setMarkers((placed) => (placed === null || placed.length >= 2 ? [ground] : [...placed, ground]))
  const onKey = (event: KeyboardEvent) => {
    const actions: Record<string, () => void> = {
      '[': () => goTo(-1),
      ']': () => goTo(1),
      '+': () => move.zoomBy(1.6),
      '=': () => move.zoomBy(1.6),
      '-': () => move.zoomBy(1 / 1.6),
      ArrowLeft: () => move.panBy(80),
      ArrowRight: () => move.panBy(-80),
      '0': showWhole,
      f: showFault,
      r: nextRuler,
      m: () => cursor !== null && placeMarker(cursor),
    }
    const action = actions[event.key]
    if (!action || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    event.stopPropagation()
    action()
  }

  return (
    <Box>
      <Box sx={TOOLS}>
        <ThreadToolbar
          wavelengths={wavelengths}
          wavelength={wavelength}
          onWavelength={setChosen}
          kind={kind}
          onKind={setKind}
          measuring={markers !== null}
          onMeasure={toggleMeasure}
          onWhole={showWhole}
          onFault={fault ? showFault : null}
          move={move}
        />
        <CursorReadout kind={kind} view={view} cursor={cursor} lanes={lanes} differences={differences} />
      </Box>
      <div
        ref={surface}
        tabIndex={0}
        role="group"
        aria-label="Thread view: [ and ] go from event to event, plus and minus zoom, arrows pan, 0 shows the whole link, f the fault, m places a marker, r changes the ruler"
        onKeyDown={onKey}
        onClick={() => {
          if (markers !== null && cursor !== null) placeMarker(cursor)
        }}
        onPointerMove={(event) =>
          setCursor(scale.invert(event.clientX - event.currentTarget.getBoundingClientRect().left))
        }
        style={{
          position: 'relative',
          border: `1px solid ${palette.divider}`,
          borderRadius: 6,
          overflow: 'hidden',
          touchAction: 'none',
          // What moves with every frame is laid out and painted by itself.
          contain: 'layout paint style',
          cursor: 'crosshair',
          background: palette.background.paper,
        }}
      >
        <svg width={width} height={PLANT_HEIGHT} style={{ display: 'block', borderBottom: `1px solid ${inks.grid}` }}>
          <PlantLane view={view} scale={scale} />
        </svg>
        {lanes.map(({ direction, traces }) => (
          <CurveLane
            key={direction}
            title={`Trace ${DIRECTION_NAME[direction]}`}
            curves={traces.map((curve) => ({ curve, pen: pens[curve.role], name: curve.role }))}
            scale={scale}
            width={width}
            height={laneHeight}
            least={null}
            floor={-34}
            within={[0, view.groundLength]}
          />
        ))}
        {differences.length > 0 && (
          <CurveLane
            title="Difference: present − baseline"
            curves={differences.map((curve, i) => ({
              curve,
              name: DIRECTION_NAME[curve.direction],
              pen: { color: inks.difference, width: 1.6, ...(i > 0 ? { dash: [2, 2] } : {}) },
            }))}
            scale={scale}
            width={width}
            height={laneHeight}
            least={[-0.5, 0.5]}
            floor={-12}
            within={[0, view.groundLength]}
            zeroLine
            limits={differences[0]!.limits}
          />
        )}
        <svg width={width} height={SUSPICION_HEIGHT} style={{ display: 'block' }}>
          <SuspicionLane view={view} scale={scale} />
        </svg>
        <svg
          width={width}
          height={RULER_HEIGHT}
          style={{ display: 'block', borderTop: `1px solid ${inks.grid}` }}
          aria-hidden
        >
          {rulerTicks(view, scale, kind).map(({ ground, label }, k) => (
            <g key={k}>
              <line x1={scale(ground)} x2={scale(ground)} y1={0} y2={6} stroke={inks.label} />
              {Math.abs(scale(ground) - width / 2) < width / 2 - 3.5 * label.length && (
                <text x={scale(ground)} y={20} textAnchor="middle" fontSize={12} fill={inks.label}>
                  {label}
                </text>
              )}
            </g>
          ))}
        </svg>
        {here && <Here {...here} scale={scale} />}
        {(markers ?? []).map((ground, i) => (
          <div
            key={`${i} ${ground}`}
            aria-label={`Marker ${i + 1}`}
            style={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              left: scale(ground) - 1,
              width: 2,
              background: inks.thread,
              pointerEvents: 'none',
            }}
          />
        ))}
        {cursor !== null && (
          <div
            style={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              left: scale(cursor),
              width: 1,
              background: inks.cursor,
              opacity: 0.6,
              pointerEvents: 'none',
            }}
          />
        )}
      </div>
      {markers !== null && <MarkerReadout markers={markers} traces={lanes.flatMap((lane) => lane.traces)} />}
    </Box>
  )
}

/** Where the person with this device stands, as sure as the device is. */
function Here({
  ground,
  accuracy,
  scale,
}: {
  ground: number
  accuracy: number
  scale: ReturnType<typeof useRuler>['scale']
}) {
  const { inks } = useTheme()
  const [a, b] = [scale(ground - accuracy), scale(ground + accuracy)]
  const wide = Math.max(4, b - a)
  return (
    <div
      role="img"
      aria-label={`You are at ${metres(ground)} from the near end`}
      style={{
        position: 'absolute',
        top: 0,
        height: PLANT_HEIGHT,
        left: (a + b - wide) / 2,
        width: wide,
        background: `color-mix(in srgb, ${inks.present} 28%, transparent)`,
        borderBottom: `5px solid ${inks.present}`,
        pointerEvents: 'none',
      }}
    >
      <span
        style={{
          position: 'absolute',
          bottom: 2,
          left: '50%',
          transform: 'translateX(-50%)',
          fontSize: 12.5,
          fontWeight: 650,
        }}
      >
        You
      </span>
    </div>
  )
}

/** Places worth a stop: nodes, events of the chosen wavelength and faults, in order along the ground. */
function stops(view: LocateView, wavelength: number): number[] {
  const events = view.traces
    .filter((trace) => trace.wavelength === wavelength)
    .flatMap((trace) => trace.events.map((event) => event.ground))
  const all = [...view.nodes.map((node) => node.ground), ...events, ...view.faults.map((fault) => fault.ground)]
  const sorted = all.filter((ground) => ground >= 0 && ground <= view.groundLength).sort((a, b) => a - b)
  return sorted.filter((ground, i) => i === 0 || ground - sorted[i - 1]! > 2)
}

function CursorReadout({
  kind,
  view,
  cursor,
  lanes,
  differences,
}: {
  kind: RulerKind
  view: LocateView
  cursor: number | null
  lanes: { direction: 'ab' | 'ba'; traces: TraceCurve[] }[]
  differences: LocateView['differences']
}) {
  const { inks } = useTheme()
  if (cursor === null) return null
  const inside = Math.min(Math.max(cursor, 0), view.groundLength)
  const read = (label: string, value: number | null, digits: number) =>
    value === null ? null : `${label} ${value.toFixed(digits)} dB`
  const parts = [
    metres(rulerValue(view, kind, inside)),
    ...lanes.flatMap(({ direction, traces }) =>
      traces.map((trace) => read(`${trace.role} ${direction === 'ab' ? '→' : '←'}`, valueAt(trace, cursor), 2)),
    ),
    ...differences.map((curve) => read(`Δ ${curve.direction === 'ab' ? '→' : '←'}`, valueAt(curve, cursor), 3)),
  ].filter((part) => part !== null)
  return (
    <Box
      component="output"
      aria-label="Reading at the cursor"
      sx={{ fontVariantNumeric: 'tabular-nums', fontSize: 13, color: inks.label }}
    >
      {parts.join('  ·  ')}
    </Box>
  )
}
