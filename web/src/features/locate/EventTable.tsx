import Box from '@mui/material/Box'
import MenuItem from '@mui/material/MenuItem'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableContainer from '@mui/material/TableContainer'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'
import type { LocateView, TraceCurve } from '../../worker/view.ts'

const WHY = {
  'inside-dead-zone': 'inside the dead zone',
  'below-noise': 'below the noise',
  overlap: 'runs into a neighbouring event',
  'no-two-way': 'known from one end only',
} as const

type Event = TraceCurve['events'][number]

/** The events of one trace with their uncertainties; a row chosen is shown on the thread. */
export function EventTable({ view, onChoose }: { view: LocateView; onChoose(ground: number): void }) {
  const traces = view.traces.toSorted((a, b) => Number(b.role === 'present') - Number(a.role === 'present'))
  const [chosen, setChosen] = useState<string | null>(null)
  const trace = traces.find((candidate) => candidate.id === chosen) ?? traces[0]
  if (!trace) return null
  const figures = { align: 'right' as const, sx: { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap' } }
  return (
    <Section
      title="Events"
      action={
        <TextField
          select
          size="small"
          label="Trace"
          value={trace.id}
          onChange={(event) => setChosen(event.target.value)}
          sx={{ minWidth: 250 }}
        >
          {traces.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {`${one.role}, ${one.direction === 'ab' ? 'near' : 'far'} end, ${one.wavelength} nm`}
            </MenuItem>
          ))}
        </TextField>
      }
    >
      <TableContainer sx={{ maxHeight: 360 }}>
        <Table size="small" stickyHeader aria-label="Events of the trace">
          <TableHead>
            <TableRow>
              <TableCell>Kind</TableCell>
              <TableCell align="right">Distance, m</TableCell>
              <TableCell align="right">Loss, dB</TableCell>
              <TableCell align="right">Reflectance, dB</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {trace.events.map((event) => (
              <TableRow
                key={`${event.kind} ${event.distance}`}
                hover
                tabIndex={0}
                onClick={() => onChoose(event.ground)}
                onKeyDown={(key) => key.key === 'Enter' && onChoose(event.ground)}
                sx={{ cursor: 'pointer', height: 44 }}
              >
                <TableCell>{kindOf(event)}</TableCell>
                <TableCell {...figures}>
                  {event.distance.toFixed(1)} <Spread>± {event.distanceSigma.toFixed(1)}</Spread>
                </TableCell>
                <TableCell {...figures}>
                  {event.loss === null ? (
                    <Spread>{event.why?.loss ? WHY[event.why.loss] : '–'}</Spread>
                  ) : (
                    <>
                      {event.loss.toFixed(3)} <Spread>± {Math.max(event.lossSigma!, 0.001).toFixed(3)}</Spread>
                    </>
                  )}
                </TableCell>
                <TableCell {...figures}>
                  {event.reflectance === null
                    ? '–'
                    : `${event.bound?.reflectance === 'min' ? '≥ ' : ''}${event.reflectance.toFixed(1)}`}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </TableContainer>
    </Section>
  )
}

function kindOf(event: Event): string {
  if (event.kind === 'ghost') return `ghost: echo of ${(event.echoOf ?? []).join(', ')}`
  const words = { start: 'start', reflective: 'reflection', step: 'step', gain: 'gainer', end: 'end' }[event.kind]
  return event.extent > 0 ? `${words}, spread over ${event.extent.toFixed(0)} m` : words
}

function Spread({ children }: { children: React.ReactNode }) {
  return (
    <Box component="span" sx={{ color: 'text.secondary', fontSize: 13 }}>
      {children}
    </Box>
  )
}
