import type { Callout } from '@cold-thread/contract'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import { clock, duration } from '../../ui/time.ts'

/** How long the callout has been open, or took. */
export function CalloutClock({ callout }: { callout: Callout }) {
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    if (callout.closedAt !== null) return
    const timer = setInterval(() => setNow(Date.now()), 20_000)
    return () => clearInterval(timer)
  }, [callout.closedAt])
  const until = callout.closedAt === null ? now : Date.parse(callout.closedAt)
  return (
    <Typography sx={{ color: 'text.secondary', fontVariantNumeric: 'tabular-nums' }}>
      {callout.closedAt === null ? 'Open for' : 'Took'}{' '}
      <strong>{duration(until - Date.parse(callout.openedAt))}</strong>, since {clock(callout.openedAt)}
    </Typography>
  )
}
