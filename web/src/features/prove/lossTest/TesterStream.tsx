import { gatherTrunk, type TrunkSample } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import type { TrunkTester } from '../../../devices/trunkTester.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { useListening } from './useListening.ts'

/** What a tester can send: a loss in dB or a level in dBm, a return loss in dB. */
const RANGE = { value: [-90, 60], returnLoss: [0, 90] } as const
/** Samples of a channel that are kept. */
const KEPT = 20

const within = (value: number | null, [least, most]: readonly [number, number]) =>
  value === null || (value >= least && value <= most)

/** What a multi-fiber tester sends while it is read: taken once every channel has come to rest, and not before. */
export function TesterStream({
  tester,
  onRows,
  onStop,
}: {
  tester: TrunkTester
  /** A row for each channel, in their order. */
  onRows(rows: TrunkSample[]): void
  onStop(): void
}) {
  const stream = useRef<readonly TrunkSample[]>([])
  const [samples, setSamples] = useState<readonly TrunkSample[]>([])
  const trouble = useListening(tester, 'tester', (sample: TrunkSample) => {
    const isChannel = Number.isInteger(sample.channel) && sample.channel >= 1 && sample.channel <= tester.channels
    if (!isChannel || !within(sample.value, RANGE.value) || !within(sample.returnLoss, RANGE.returnLoss))
      return 'nonsense'
    stream.current = [...stream.current, sample].slice(-KEPT * tester.channels)
    setSamples(stream.current)
    const { rows } = gatherTrunk(stream.current, tester.channels)
    if (rows === null) return 'more'
    onRows(rows)
    return 'enough'
  })
  const { atRest, reason } = gatherTrunk(samples, tester.channels)
  return (
    <Box role="status" aria-label="Reading the tester" sx={{ my: 1, minHeight: 56 }}>
      <Typography sx={{ fontWeight: 650 }}>
        {atRest} of {tester.channels} channels at rest
      </Typography>
      <LinearProgress variant="determinate" value={(100 * atRest) / tester.channels} aria-hidden="true" />
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center' }}>
        <Judgement
          tone={trouble === null ? 'unknown' : 'bad'}
          word={trouble ?? (samples.length === 0 ? 'listening' : (reason ?? 'all taken'))}
        />
        <Button onClick={onStop}>Stop reading</Button>
      </Box>
    </Box>
  )
}
