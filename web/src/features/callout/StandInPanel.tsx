import type { SimulatedShot, TraceRole } from '@cold-thread/contract'
import { adviseShot } from '@cold-thread/core/locate'
import { buildThread, type Direction } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useShootMutation } from '../../api/api.ts'
import { MONO } from '../../app/theme.ts'
import { metres } from '@cold-thread/core/units'
import { Problem } from '../../ui/Problem.tsx'
import { SelectField } from '../../ui/SelectField.tsx'
import { LiveShot } from './LiveShot.tsx'
import type { StageProps } from './stageProps.ts'

const WAVELENGTHS = [1310, 1550, 1625]
const PULSES = [5, 10, 30, 100, 300, 1000, 3000, 10_000]
const MINUTES = [0.5, 1, 3, 10]
const METRES_PER_NS = 0.102

/** The simulated OTDR: its settings, what they will show, and shots that are kept as simulated traces. */
export function StandInPanel({
  callout,
  plant,
  link,
  role,
}: StageProps & { role: Extract<TraceRole, 'present' | 'after'> }) {
  const advice = adviseShot(buildThread(plant, link.id), null, 1550)
  const [direction, setDirection] = useState<Direction>('ab')
  const [wavelength, setWavelength] = useState(1550)
  const [pulse, setPulse] = useState(Math.round(advice.pulse * 1e9))
  const [minutes, setMinutes] = useState(advice.minutes)
  const [shoot, { error, isLoading }] = useShootMutation()
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  /** The shot that is being watched. */
  const [watched, setWatched] = useState<{ id: string; shot: SimulatedShot } | null>(null)
  const one = () => setWatched({ id: uuidv7(), shot: { role, direction, wavelength, pulseWidth: pulse, minutes } })
  const all = async () => {
    for (const from of ['ab', 'ba'] as const)
      for (const nm of [1310, 1550]) {
        const { error: failed } = await shoot({
          calloutId: callout.id,
          id: uuidv7(),
          shot: { role, direction: from, wavelength: nm },
        })
        if (failed) return
      }
  }
  const knob = <T extends string | number>(
    label: string,
    value: T,
    set: (value: T) => void,
    options: [T, string][],
    width = 130,
  ) => (
    <SelectField
      size="small"
      label={label}
      value={value}
      onChoose={set}
      sx={{ width, '& .MuiSelect-select': { fontFamily: MONO } }}
      options={options}
    />
  )
  return (
    <Box
      component="section"
      aria-label="Simulated OTDR"
      className="not-on-paper"
      sx={{ mt: 1.5, p: 1.5, borderLeft: 4, borderColor: 'primary.main', bgcolor: 'action.hover', borderRadius: 1 }}
    >
      <Typography variant="h3" sx={{ mb: 1 }}>
        Simulated OTDR
      </Typography>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        {knob<Direction>(
          'At',
          direction,
          setDirection,
          [
            ['ab', nameOf(link.from)],
            ['ba', nameOf(link.to)],
          ],
          230,
        )}
        {knob(
          'Wavelength',
          wavelength,
          setWavelength,
          WAVELENGTHS.map((nm) => [nm, `${nm} nm`]),
        )}
        {knob(
          'Pulse',
          pulse,
          setPulse,
          PULSES.map((ns) => [ns, ns < 1000 ? `${ns} ns` : `${ns / 1000} µs`]),
        )}
        {knob(
          'Averaging',
          minutes,
          setMinutes,
          MINUTES.map((value) => [value, `${value} min`]),
        )}
        <Button variant="contained" disabled={isLoading || watched !== null} onClick={one} sx={{ minHeight: 44 }}>
          {isLoading || watched ? 'Shooting…' : 'Shoot these settings'}
        </Button>
        <Button
          variant="outlined"
          disabled={isLoading || watched !== null}
          onClick={() => void all()}
          sx={{ minHeight: 44 }}
        >
          Shoot both ends at both wavelengths
        </Button>
      </Box>
      {watched && <LiveShot key={watched.id} calloutId={callout.id} {...watched} onDone={() => setWatched(null)} />}
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        With this pulse two events closer than {metres(Math.max(1, pulse * METRES_PER_NS))} run into one, and a loss
        needs about {metres(Math.max(3, 3 * pulse * METRES_PER_NS))} of fiber after a reflection. The second button
        shoots both ends at 1310 and 1550 nm with settings that suit the length.
      </Typography>
      <Problem error={error} />
    </Box>
  )
}
