import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useEffect } from 'react'
import { Link as RouterLink } from 'react-router'
import { useAppSelector } from '../app/store.ts'
import { Judgement } from '../ui/Judgement.tsx'
import { ago, duration } from '../ui/time.ts'
import { isClockWrong } from './serverSays.ts'
import { lookForUpdate, takeUpdate } from './serviceWorker.ts'

/** Warned from here on. */
const NEARLY_FULL = 0.8

/** One quiet line under the header: nothing while all is well. */
export function OutboxLine() {
  const { waiting, refused, link, shownFrom, update, clockAhead, storeFull } = useAppSelector((state) => state.field)
  useEffect(() => {
    if (update === 'needed') lookForUpdate()
  }, [update])
  const parts: React.ReactNode[] = []
  if (refused > 0) parts.push(<Judgement key="refused" tone="bad" word={`${refused} refused`} />)
  if (waiting > 0)
    parts.push(
      <span key="waiting">
        {waiting} {waiting === 1 ? 'entry waits' : 'entries wait'}
        {link === 'down' && ', kept on this device'}
        {link === 'signed-out' && ' for you to sign in'}
      </span>,
    )
  if (link === 'down')
    parts.push(
      <span key="down">
        <Judgement tone="unknown" word="no network" />
        {shownFrom !== null && `: shown as read ${ago(shownFrom)}`}
      </span>,
    )
  if (isClockWrong(clockAhead))
    parts.push(
      <span key="clock">
        <Judgement tone="close" word={`clock ${duration(Math.abs(clockAhead))} ${clockAhead > 0 ? 'fast' : 'slow'}`} />:
        the server’s time is kept beside it
      </span>,
    )
  if (storeFull !== null && storeFull >= NEARLY_FULL)
    parts.push(
      <Judgement key="full" tone="bad" word={`this device’s store is ${Math.round(100 * storeFull)} % full`} />,
    )
  const line = parts.length > 0 && (
    <Box
      component={RouterLink}
      to="/outbox"
      className="not-on-paper"
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        columnGap: 2,
        rowGap: 0,
        alignItems: 'center',
        alignContent: 'center',
        minHeight: 44,
        py: 0.5,
        px: 2,
        color: 'text.primary',
        bgcolor: 'action.hover',
        borderBottom: 1,
        borderColor: 'divider',
        textDecoration: 'none',
      }}
    >
      {parts}
    </Box>
  )
  return (
    <>
      <div role="status" aria-label="What waits">
        {line}
      </div>
      {update !== 'none' && (
        <Box className="not-on-paper" sx={{ display: 'flex', gap: 2, alignItems: 'center', px: 2, flexWrap: 'wrap' }}>
          {update === 'ready'
            ? 'A newer version of the app is here.'
            : 'The server speaks another version than this app. What is entered is kept here and goes with the newer one.'}
          <Button onClick={() => void takeUpdate()}>Load it now</Button>
        </Box>
      )}
    </>
  )
}
