import type { ShotStages, SimulatedShot } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { scaleLinear } from 'd3'
import { useEffect, useRef, useState } from 'react'
import { useShootMutation, useShotStagesQuery } from '../../api/api.ts'
import { metres } from '@cold-thread/core/units'
import { useWidth } from '../../thread/useWidth.ts'
import { Problem } from '../../ui/Problem.tsx'

/** How long each stage shows, ms: a shot of minutes is watched in seconds. */
const STAGE_MS = 350
const HEIGHT = 150
/** Below this there is only noise, dB. */
const FLOOR_DB = -36

/** A shot of the simulated OTDR while its averages add up; it may be stopped when it shows enough. */
export function LiveShot({
  calloutId,
  id,
  shot,
  onDone,
}: {
  calloutId: string
  id: string
  shot: SimulatedShot
  onDone(): void
}) {
  const { data, error } = useShotStagesQuery({ calloutId, id, shot })
  const [shown, setShown] = useState(0)
  const [shoot, { error: notKept, isLoading }] = useShootMutation()
  const last = (data?.stages.length ?? 0) - 1
  const keep = async (stopAt?: number) => {
    const { error: failed } = await shoot({ calloutId, id, shot: stopAt === undefined ? shot : { ...shot, stopAt } })
    if (!failed) onDone()
  }
  const finish = useRef(keep)
  useEffect(() => {
    finish.current = keep
  })
  useEffect(() => {
    if (!data) return
    let stage = 0
    const timer = setInterval(() => {
      stage++
      if (stage < data.stages.length) setShown(stage)
      else {
        clearInterval(timer)
        void finish.current()
      }
    }, STAGE_MS)
    return () => clearInterval(timer)
  }, [data])
  const stage = data?.stages[shown]
  return (
    <Box role="group" aria-label="Shot in progress" sx={{ mt: 1.5 }}>
      <Problem error={error ?? notKept} />
      {!data && !error && <CircularProgress size={24} aria-label="Waiting for the first light" />}
      {data && stage && (
        <>
          <Display stages={data} shown={shown} />
          <LinearProgress
            variant="determinate"
            value={(100 * stage.averages) / data.stages[last]!.averages}
            aria-label="Averages"
            sx={{ mb: 1 }}
          />
          <Typography component="output" sx={{ fontSize: 18, fontVariantNumeric: 'tabular-nums' }}>
            {stage.smallestLoss === null
              ? 'Before the far end nothing can be seen yet'
              : `Before the far end a loss of ${stage.smallestLoss.toFixed(stage.smallestLoss < 0.1 ? 3 : 2)} dB would be seen`}
          </Typography>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            {duration(stage.minutes)} of {duration(data.stages[last]!.minutes)} averaged; shown faster than it takes
          </Typography>
        </>
      )}
      <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
        {stage && (
          <Button
            variant="contained"
            disabled={isLoading || (shown === last && !notKept)}
            onClick={() => void keep(shown === last ? undefined : stage.averages)}
            sx={{ minHeight: 44 }}
          >
            {notKept ? 'Try to keep it again' : 'Enough: keep this'}
          </Button>
        )}
        <Button disabled={isLoading} onClick={onDone} sx={{ minHeight: 44 }}>
          Stop, keep nothing
        </Button>
      </Box>
    </Box>
  )
}

/** The instrument's display: the lowest and highest level of each column. */
function Display({ stages, shown }: { stages: ShotStages; shown: number }) {
  const { inks } = useTheme()
  const frame = useRef<HTMLDivElement>(null)
  const width = useWidth(frame)
  const { low, high } = stages.stages[shown]!
  const top = Math.max(...stages.stages.at(-1)!.high)
  const x = scaleLinear([0, low.length], [0, width])
  const y = scaleLinear([FLOOR_DB, top + 1], [HEIGHT - 22, 4]).clamp(true)
  const ground = scaleLinear([stages.from, stages.to], [0, width])
  const bars = low.map((level, k) => `M${x(k + 0.5).toFixed(1)} ${y(high[k]!).toFixed(1)}V${(y(level) + 1).toFixed(1)}`)
  return (
    <Box ref={frame} sx={{ mb: 1, bgcolor: 'background.paper', border: 1, borderColor: 'divider', borderRadius: 1 }}>
      <svg width={width} height={HEIGHT} role="img" aria-label="Trace so far" style={{ display: 'block' }}>
        {y.ticks(4).map((mark) => (
          <g key={mark}>
            <line x1={0} x2={width} y1={y(mark)} y2={y(mark)} stroke={inks.grid} />
            <text x={6} y={y(mark) + 12} fontSize={11} fill={inks.label}>
              {mark} dB
            </text>
          </g>
        ))}
        <path d={bars.join('')} stroke={inks.present} strokeWidth={Math.max(1, width / low.length)} fill="none" />
        {ground.ticks(Math.max(2, Math.floor(width / 140))).map((mark) => (
          <text key={mark} x={ground(mark)} y={HEIGHT - 6} fontSize={12} fill={inks.label} textAnchor="middle">
            {mark > stages.from && mark < 0.97 * stages.to ? metres(mark) : ''}
          </text>
        ))}
      </svg>
    </Box>
  )
}

function duration(minutes: number): string {
  return minutes < 1 ? `${Math.max(1, Math.round(60 * minutes))} s` : `${Number(minutes.toFixed(1))} min`
}
