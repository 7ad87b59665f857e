import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useCallback, useEffect, useState } from 'react'
import { clock } from '../../ui/time.ts'
import { endTimer, hearTimer, leftOf, minutesAndSeconds, useTick, useTimers, watchClock } from '../../ui/timers.ts'

/** Timers that run on this device, whatever stage is open; one that is over rings until it is put out. */
export function TimersBar() {
  const timers = useTimers()
  const [, setNow] = useState(0)
  const [changed, setChanged] = useState<number | null>(null)
  useTick(
    timers.length > 0,
    useCallback(() => {
      setChanged(watchClock())
      setNow(Date.now())
    }, []),
  )
  const ringing = timers.filter((timer) => leftOf(timer) <= 0 && !timer.heard).length
  useEffect(() => {
    if (ringing === 0) return
    const ring = () => {
      navigator.vibrate?.([300, 150, 300])
      beep()
    }
    ring()
    const again = setInterval(ring, 4000)
    return () => clearInterval(again)
  }, [ringing])
  if (timers.length === 0) return null
  return (
    <Box component="section" aria-label="Timers" className="not-on-paper" sx={{ mb: 2 }}>
      {changed !== null && (
        <Typography role="status" sx={{ mb: 1 }}>
          This device’s clock was set by {Math.round(changed / 1000)} s: the timers go on by the time that really
          passed.
        </Typography>
      )}
      {timers.map((timer) => {
        const { name, label, startedAt, heard } = timer
        const left = leftOf(timer)
        return (
          <Alert
            key={name}
            severity={left <= 0 ? 'warning' : 'info'}
            variant="outlined"
            role={left <= 0 && !heard ? 'alert' : 'status'}
            sx={{ mb: 1, alignItems: 'center' }}
            action={
              left <= 0 && !heard ? (
                <Button onClick={() => hearTimer(name)}>I heard it</Button>
              ) : (
                <Button onClick={() => endTimer(name)}>End</Button>
              )
            }
          >
            <strong>{left <= 0 ? 'Time is up' : `${minutesAndSeconds(left)} left`}</strong>: {label}, started{' '}
            {clock(new Date(startedAt).toISOString())}
          </Alert>
        )
      })}
    </Box>
  )
}

/** A short tone, where the browser lets a page sound. */
function beep(): void {
  if (!('AudioContext' in globalThis)) return
  try {
    const context = new AudioContext()
    const tone = context.createOscillator()
    tone.frequency.value = 880
    tone.connect(context.destination)
    tone.start()
    tone.stop(context.currentTime + 0.3)
    tone.onended = () => void context.close()
  } catch {
    // Silence: the alarm stands on the screen all the same.
  }
}
