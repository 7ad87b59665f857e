import Tooltip from '@mui/material/Tooltip'
import Box from '@mui/material/Box'
import { MONO } from '../app/theme.ts'

/** A number with its unit; hover, focus or tap shows why: formula, inputs, source. */
export function Figure({
  value,
  unit,
  digits = 2,
  sigma = null,
  why,
}: {
  value: number | null
  /** Its standard uncertainty, when it has one. */
  sigma?: number | null
  unit: string
  digits?: number
  why?: string
}) {
  const number =
    value === null ? '' : `${value.toFixed(digits)}${sigma === null ? '' : `\u00a0±\u00a0${sigma.toFixed(digits)}`}`
  const text = value === null ? 'not measured' : unit ? `${number}\u00a0${unit}` : number
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
