import type { Callout } from '@cold-thread/contract'
import { MOST_DRIFT, readMeter, type LoggedReference } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useEnter } from '../../../api/useEnter.ts'
import { Problem } from '../../../ui/Problem.tsx'
import { FromMeter } from './FromMeter.tsx'
import type { StandInMeterProps } from './useSimulatedMeter.ts'

/** The same cords back between source and meter: has the reference moved? */
export function LookAgain({
  callout,
  reference,
  standIn,
}: {
  callout: Callout
  reference: LoggedReference
  standIn: StandInMeterProps
}) {
  const { enter, error, busy } = useEnter(callout.id)
  const [text, setText] = useState('')
  const read = readMeter(text, 'level')
  const level = read && 'level' in read ? read.level : null
  const off = level === null ? 0 : level - reference.level
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault()
        void enter({ kind: 'reference-look', referenceId: reference.id, level: level! }).then((id) => id && setText(''))
      }}
      sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'flex-start', mb: 2 }}
    >
      <TextField
        label="Reference looked at again, dBm"
        value={text}
        onChange={({ target }) => setText(target.value)}
        error={text.trim() !== '' && level === null}
        helperText="the same cords, before the test ends and whenever in doubt"
        slotProps={{ htmlInput: { maxLength: 20 } }}
        sx={{ flex: '1 1 240px', maxWidth: 340 }}
      />
      <Button type="submit" variant="outlined" disabled={level === null || busy} sx={{ minHeight: 56 }}>
        Keep the look
      </Button>
      {standIn && (
        <FromMeter
          set={standIn.set}
          label="As the simulated meter shows it"
          what="The reference’s cords, as they were"
          loss={standIn.held(reference.method)}
          onLevel={(found) => setText(found.toFixed(2))}
        />
      )}
      {level !== null && (
        <Typography role="status" sx={{ alignSelf: 'center' }}>
          {Math.abs(off) > MOST_DRIFT
            ? `Moved by ${off.toFixed(2)} dB, more than ${MOST_DRIFT} dB: what was read since the last look is suspect`
            : `Moved by ${off.toFixed(2)} dB: it holds`}
        </Typography>
      )}
      <Problem error={error} />
    </Box>
  )
}
