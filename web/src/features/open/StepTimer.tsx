import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useCallback, useState } from 'react'
import { readNumber } from '../../ui/readNumber.ts'
import { leftOf, minutesAndSeconds, startTimer, useTick, useTimers } from '../../ui/timers.ts'

/** A clock for what takes its time by itself; it goes on through a reload and beside others, and rings above every stage. */
export function StepTimer({
  name,
  label,
  minutes,
}: {
  name: string
  /** What it is, for the alarm. */
  label: string
  /** Those of a sheet that is not here are entered. */
  minutes: number | 'by its sheet'
}) {
  const timer = useTimers().find((one) => one.name === name)
  const [text, setText] = useState('')
  const [, setNow] = useState(0)
  useTick(
    timer !== undefined,
    useCallback(() => setNow(Date.now()), []),
  )
  const entered = minutes === 'by its sheet' ? readNumber(text) : minutes
  const bad = entered === null || entered <= 0 || entered > 2880
  const left = timer ? leftOf(timer) : null
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'flex-start', mb: 1.5, flexWrap: 'wrap' }}>
      {minutes === 'by its sheet' && (
        <TextField
          label="Minutes, by its sheet"
          value={text}
          onChange={({ target }) => setText(target.value)}
          error={text.trim() !== '' && bad}
          helperText={text.trim() !== '' && bad ? 'above 0, 2880 at most' : ' '}
          slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 8 } }}
          sx={{ width: 200 }}
        />
      )}
      <Button
        variant="outlined"
        size="large"
        disabled={bad}
        onClick={() => startTimer(name, label, entered!)}
        sx={{ minHeight: 56 }}
      >
        {timer ? 'Start anew' : minutes === 'by its sheet' ? 'Start' : `Start ${timeInWords(minutes)}`}
      </Button>
      {left !== null && (
        <Typography component="output" sx={{ fontSize: 24, fontVariantNumeric: 'tabular-nums', lineHeight: '56px' }}>
          {left <= 0 ? 'time is up' : `${minutesAndSeconds(left)} left`}
        </Typography>
      )}
    </Box>
  )
}

function timeInWords(minutes: number): string {
  return minutes < 1 ? `${Math.round(minutes * 60)} s` : `${minutes} min`
}
