import type { ColoredPosition } from '@cold-thread/core/fiber'
import Box from '@mui/material/Box'

/** What the names of the orders look like on plastic; the name stands beside it, for no screen shows them truly. */
const INKS: Record<string, string> = {
  blue: '#1c63b8',
  orange: '#ea7a17',
  green: '#2c8f40',
  brown: '#7b4b25',
  slate: '#7f8a94',
  grey: '#8c8c8c',
  white: '#ffffff',
  red: '#c9252b',
  black: '#1b1b1b',
  yellow: '#f3d21f',
  violet: '#7b40a3',
  rose: '#f3a0b6',
  pink: '#f3a0b6',
  aqua: '#38c2c7',
  turquoise: '#2fb3b0',
}

const WIDTH = 150
const HEIGHT = 26

/** A piece of a tube, ribbon or fiber as it looks: its colour, a tracer as dashes along it, ring marks across it. */
export function Strand({ color, rings = 0 }: { color: ColoredPosition | null; rings?: number }) {
  const middle = HEIGHT / 2
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      sx={{ width: { xs: 104, sm: WIDTH }, flex: 'none' }}
      aria-hidden
    >
      <rect
        x={1}
        y={1}
        width={WIDTH - 2}
        height={HEIGHT - 2}
        rx={6}
        fill={color === null ? 'none' : INKS[color.color]}
        stroke="#6b7780"
      />
      {color?.tracer && (
        <line
          x1={4}
          x2={WIDTH - 4}
          y1={middle}
          y2={middle}
          stroke={INKS[color.tracer]}
          strokeWidth={4}
          strokeDasharray="16 8"
        />
      )}
      {Array.from({ length: rings }, (_, k) => (
        <line
          key={k}
          x1={10 + k * 11}
          x2={10 + k * 11}
          y1={3}
          y2={HEIGHT - 3}
          stroke={color === null ? 'currentColor' : INKS.black}
          strokeWidth={4}
        />
      ))}
    </Box>
  )
}
