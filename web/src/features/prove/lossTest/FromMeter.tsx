import Button from '@mui/material/Button'
import { useState } from 'react'
import type { StandInLossSet } from '../../../devices/powerMeter.ts'
import { MeterStream } from './MeterStream.tsx'

/** A button that reads the simulated meter, and its stream until it has come to rest. */
export function FromMeter({
  set,
  label,
  what,
  loss,
  onLevel,
}: {
  set: StandInLossSet
  /** Of the button. */
  label: string
  what: string
  /** Between source and meter, dB. */
  loss: number
  /** dBm */
  onLevel(level: number): void
}) {
  const [on, setOn] = useState(false)
  if (on)
    return (
      <MeterStream
        meter={set}
        what={what}
        onSteady={(level) => {
          setOn(false)
          onLevel(level)
        }}
        onStop={() => setOn(false)}
      />
    )
  return (
    <Button
      variant="outlined"
      onClick={() => {
        set.plug(loss)
        setOn(true)
      }}
      sx={{ minHeight: 56 }}
    >
      {label}
    </Button>
  )
}
