import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { useCallback, useEffect, useState } from 'react'
import { Section } from '../ui/Section.tsx'
import { fieldStore } from './fieldStore.ts'
import { fullness, makeRoom, readRoom, type Room } from './room.ts'
import { useLiveQuery } from './useLiveQuery.ts'

const megabytes = (bytes: number) => `${(bytes / 1e6).toLocaleString('en', { maximumFractionDigits: 0 })}\u00a0MB`

/** What this device keeps, how much room is left, and the way to make some. */
export function RoomSection() {
  const [room, setRoom] = useState<Room | null>(null)
  const [sure, setSure] = useState(false)
  const taken = useLiveQuery(() => fieldStore.taken.toArray(), null)
  const look = useCallback(() => void readRoom().then(setRoom), [])
  useEffect(look, [look])
  if (room === null || taken === null) return null
  const full = fullness(room)
  const drop = async () => {
    setSure(false)
    await makeRoom(fieldStore)
    look()
  }
  return (
    <Section
      title="On this device"
      action={
        taken.length > 0 && (
          <Button
            variant="outlined"
            color={sure ? 'error' : 'primary'}
            onClick={() => (sure ? void drop() : setSure(true))}
          >
            {sure ? 'Drop it: without network it can’t be read then' : 'Drop what was taken along'}
          </Button>
        )
      }
    >
      <Typography>
        {taken.length === 0
          ? 'No callout is taken along.'
          : `${taken.length} ${taken.length === 1 ? 'callout is' : 'callouts are'} taken along, ${megabytes(taken.reduce((sum, { bytes }) => sum + bytes, 0))}.`}{' '}
        {room.lasting
          ? 'The browser keeps it when the device gets full.'
          : 'The browser may clear it when the device gets full: what was entered goes to the server as soon as it answers.'}
      </Typography>
      {full !== null && (
        <Box sx={{ mt: 1 }}>
          <LinearProgress
            variant="determinate"
            value={Math.min(100, 100 * full)}
            color={full >= 0.8 ? 'error' : 'primary'}
            aria-label="Store in use"
          />
          <Typography sx={{ fontSize: 14 }}>
            {megabytes(room.used!)} of {megabytes(room.most!)} in use
          </Typography>
        </Box>
      )}
    </Section>
  )
}
