import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'

/** A clock for what takes its time by itself; it goes on through a reload, by when it was started. */
export function StepTimer({ name, minutes }: { name: string; minutes: number }) {
  const key = `cold-thread.timer.${name}`
  const [startedAt, setStartedAt] = useState(() => Number(localStorage.getItem(key)) || null)
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    if (startedAt === null) return
    const timer = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(timer)
  }, [startedAt])
  const left = startedAt === null ? null : startedAt + minutes * 60_000 - now
  const over = left !== null && left <= 0
  useEffect(() => {
    if (over) navigator.vibrate?.([200, 100, 200])
  }, [over])
  const start = () => {
    const at = Date.now()
    localStorage.setItem(key, String(at))
    setStartedAt(at)
    setNow(at)
  }
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', mb: 1.5 }}>
      <Button variant="outlined" size="large" onClick={start} sx={{ minHeight: 56 }}>
        {startedAt === null ? `Start ${minutes} min` : 'Start anew'}
      </Button>
      {left !== null && (
        <Typography component="output" sx={{ fontSize: 24, fontVariantNumeric: 'tabular-nums' }}>
          {over
            ? 'time is up'
            : `${Math.floor(left / 60_000)}:${String(Math.floor((left % 60_000) / 1000)).padStart(2, '0')} left`}
        </Typography>
      )}
    </Box>
  )
}
