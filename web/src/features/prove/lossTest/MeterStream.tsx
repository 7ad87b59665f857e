import { steadiness } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import type { PowerMeter } from '../../../devices/powerMeter.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { useListening } from './useListening.ts'

/** What a meter can show, dBm. */
const RANGE = [-90, 35] as const
const KEPT = 40

/** What a meter shows while it is read: taken by itself once it has come to rest, and not before. */
export function MeterStream({
  meter,
  what,
  onSteady,
  onStop,
}: {
  meter: PowerMeter
  /** What is read, for people. */
  what: string
  /** dBm, the mean of readings that stay together. */
  onSteady(level: number): void
  onStop(): void
}) {
  const [levels, setLevels] = useState<readonly number[]>([])
  const stream = useRef<readonly number[]>([])
  const trouble = useListening(meter, 'meter', (level: number) => {
    if (!Number.isFinite(level) || level < RANGE[0] || level > RANGE[1]) return 'nonsense'
    stream.current = [...stream.current, level].slice(-KEPT)
    setLevels(stream.current)
    const rest = steadiness(stream.current)
    if (!rest?.steady) return 'more'
    onSteady(Math.round(rest.value * 100) / 100)
    return 'enough'
  })
  const rest = steadiness(levels)
  return (
    <Box
      role="status"
      aria-label={what}
      sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center', my: 1, minHeight: 56 }}
    >
      <Typography component="span">{what}</Typography>
      {levels.length > 0 && (
        <Typography component="output" sx={{ fontSize: 28, fontWeight: 650, fontVariantNumeric: 'tabular-nums' }}>
          {levels.at(-1)!.toFixed(2).replace('-', '−')} dBm
        </Typography>
      )}
      {trouble !== null ? (
        <Judgement tone="bad" word={trouble} />
      ) : rest?.steady ? (
        <Judgement tone="good" word="at rest: taken" />
      ) : (
        <Judgement tone="unknown" word={rest?.reason ?? 'listening'} />
      )}
      <Button onClick={onStop}>Stop reading</Button>
    </Box>
  )
}
