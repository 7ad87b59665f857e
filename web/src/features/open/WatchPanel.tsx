import {
  judgeTwoReadings,
  judgeWatch,
  WATCH_RULES,
  type StepOutcome,
  type WatchJudgement,
  type WatchReading,
} from '@cold-thread/core/open'
import { seedFrom } from '@cold-thread/core/math'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Slider from '@mui/material/Slider'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState } from 'react'
import { Judgement } from '../../ui/Judgement.tsx'
import { readNumber } from '../../ui/readNumber.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { StandInMeter } from '../../devices/powerMeter.ts'
import { WatchChart } from './WatchChart.tsx'

export type Watched = NonNullable<StepOutcome['watch']>

interface WatchProps extends Pick<StageProps, 'callout'> {
  state: { step: { id: string } }
  onWatched(watched: Watched | null): void
  onFailed(why: string): void
}

/** Loss while something is tightened or closed: from the meter, or from two readings by hand. */
export function WatchPanel(props: WatchProps) {
  const [byHand, setByHand] = useState(!props.callout.simulated)
  const { onWatched } = props
  return (
    <Box
      role="group"
      aria-label="Loss while you work"
      sx={{ mb: 1.5, p: 1.5, border: 1, borderColor: 'divider', borderRadius: 1 }}
    >
      {byHand ? <ByHand {...props} /> : <FromMeter {...props} />}
      {props.callout.simulated && (
        <Button
          size="small"
          onClick={() => {
            setByHand(!byHand)
            onWatched(null)
          }}
        >
          {byHand ? 'From the simulated power meter' : 'Enter readings by hand'}
        </Button>
      )}
    </Box>
  )
}

function toWatched({ outcome, added, sigma }: WatchJudgement): Watched | null {
  return outcome === 'waiting' || added === null || sigma === null
    ? null
    : { added, sigma, flagged: outcome === 'flagged' }
}

function ByHand({ onWatched, onFailed }: WatchProps) {
  const [before, setBefore] = useState('')
  const [now, setNow] = useState('')
  const [a, b] = [readNumber(before), readNumber(now)]
  const judged = a === null || b === null ? null : judgeTwoReadings(a, b)
  const change = (set: (text: string) => void, first: string, second: string, text: string) => {
    set(text)
    const [x, y] = [readNumber(first), readNumber(second)]
    onWatched(x === null || y === null ? null : toWatched(judgeTwoReadings(x, y)))
  }
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mb: 1 }}>
        <TextField
          label="Power before, dBm"
          value={before}
          onChange={({ target }) => change(setBefore, target.value, now, target.value)}
          slotProps={{ htmlInput: { inputMode: 'text' }, input: { sx: { fontSize: 20 } } }}
          sx={{ width: 190 }}
        />
        <TextField
          label="Power now, dBm"
          value={now}
          onChange={({ target }) => change(setNow, before, target.value, target.value)}
          slotProps={{ htmlInput: { inputMode: 'text' }, input: { sx: { fontSize: 20 } } }}
          sx={{ width: 190 }}
        />
      </Box>
      {judged && <Told judged={judged} onFailed={onFailed} />}
    </>
  )
}

/** Readings of the simulated meter, while its simulated screw is turned. */
function FromMeter({ callout, state, onWatched, onFailed }: WatchProps) {
  const [meter] = useState(() => new StandInMeter(seedFrom(callout.id, state.step.id), 0.4))
  const [readings, setReadings] = useState<WatchReading[]>([])
  const [begunAt, setBegunAt] = useState<number | null>(null)
  const [tightness, setTightness] = useState(0.4)
  const clock = useRef(0)
  useEffect(
    () =>
      meter.listen((level) => {
        clock.current += 1 / meter.rate
        const at = clock.current
        setReadings((all) => [...all, { at, level }].slice(-600))
      }),
    [meter],
  )
  const before = readings.filter(({ at }) => begunAt === null || at <= begunAt).slice(-40)
  const during = begunAt === null ? [] : readings.filter(({ at }) => at > begunAt)
  const judged = judgeWatch(before, during)
  const told = useRef(onWatched)
  useEffect(() => {
    told.current = onWatched
  })
  const [added, flagged] = [
    judged.added === null ? null : Number(judged.added.toFixed(3)),
    judged.outcome === 'flagged',
  ]
  const sigma = judged.sigma === null ? null : Number(judged.sigma.toFixed(3))
  useEffect(() => {
    told.current(added === null || sigma === null ? null : { added, sigma, flagged })
  }, [added, sigma, flagged])
  const last = readings.at(-1)
  return (
    <>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>Simulated power meter and clamp</Typography>
      <Typography component="output" sx={{ display: 'block', fontSize: 26, fontVariantNumeric: 'tabular-nums' }}>
        {last ? `${last.level.toFixed(2).replace('-', '−')} dBm` : 'waiting for light'}
      </Typography>
      {readings.length > 1 && <WatchChart readings={readings.slice(-160)} begunAt={begunAt} before={judged.before} />}
      {begunAt === null ? (
        <Button
          variant="outlined"
          size="large"
          disabled={before.length < WATCH_RULES.before}
          onClick={() => setBegunAt(last?.at ?? 0)}
          sx={{ minHeight: 56 }}
        >
          {before.length < WATCH_RULES.before ? 'Taking the level before' : 'Begin: this is the level before'}
        </Button>
      ) : (
        <>
          <Box sx={{ px: 4 }}>
            <Typography id="screw" sx={{ fontSize: 14 }}>
              Screw of the simulated clamp
            </Typography>
            <Slider
              aria-labelledby="screw"
              value={tightness}
              min={0}
              max={2}
              step={0.1}
              marks={[
                { value: 0, label: 'open' },
                { value: 0.4, label: 'snug' },
                { value: 1, label: 'tight' },
                { value: 2, label: 'too tight' },
              ]}
              onChange={(_event, value) => {
                const next = Number(value)
                setTightness(next)
                meter.tightness = next
              }}
            />
          </Box>
          <Told judged={judged} onFailed={onFailed} />
        </>
      )}
    </>
  )
}

function Told({ judged, onFailed }: { judged: WatchJudgement; onFailed(why: string): void }) {
  const { outcome, reasons } = judged
  if (outcome === 'waiting') return <Typography role="status">{reasons.join('. ')}.</Typography>
  return (
    <Box>
      <Typography role="status" sx={{ fontSize: 18 }}>
        <Judgement
          tone={outcome === 'flagged' ? 'bad' : 'good'}
          word={outcome === 'flagged' ? 'release it' : 'holds'}
        />
        : {reasons.join('. ')}.
      </Typography>
      {outcome === 'flagged' && (
        <Button
          variant="outlined"
          size="large"
          onClick={() => onFailed(`${judged.added!.toFixed(2)} dB were added; released`)}
          sx={{ mt: 1, minHeight: 56 }}
        >
          Note this as a failed try
        </Button>
      )}
    </Box>
  )
}
