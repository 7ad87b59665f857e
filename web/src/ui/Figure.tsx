import Tooltip from '@mui/material/Tooltip'
import Box from '@mui/material/Box'
import { MONO } from '../app/theme.ts'

/** A number with its unit; hover, focus or tap shows why: formula, inputs, source. */
export function Figure({
  value,
  unit,
  digits = 2,
  why,
}: {
  value: number | null
  unit: string
  digits?: number
  why?: string
}) {
  const text = value === null ? 'not measured' : unit ? `${value.toFixed(digits)}\u00a0${unit}` : value.toFixed(digits)
  const body = (
    <Box
      component="span"
      tabIndex={why ? 0 : undefined}
      sx={{
        fontFamily: value === null ? undefined : MONO,
        whiteSpace: 'nowrap',
        ...(why ? { textDecoration: 'underline dotted', textUnderlineOffset: 3, cursor: 'help' } : {}),
      }}
    >
      {text}
    </Box>
  )
  return why ? (
    <Tooltip title={why} enterTouchDelay={0} leaveTouchDelay={8000}>
      {body}
    </Tooltip>
  ) : (
    body
  )
}
