import { totalHolds, totalName, type Proof, type ProofEvent } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import FormControlLabel from '@mui/material/FormControlLabel'
import Switch from '@mui/material/Switch'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableContainer from '@mui/material/TableContainer'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import useMediaQuery from '@mui/material/useMediaQuery'
import { useState } from 'react'
import { Figure } from '../../ui/Figure.tsx'
import { Judgement } from '../../ui/Judgement.tsx'
import { LinkDrawing } from './LinkDrawing.tsx'
import { LossStrip, StripKey } from './LossStrip.tsx'
import { allowedWhy, HOLDS, kindOf, returnLossWords, whyOf } from './words.ts'

/** Every joint and the total, before and after, at the wavelength that shows most wrong; what does not hold by itself if wanted. */
export function ReadingsTable({ proof }: { proof: Proof }) {
  const wavelengths = Object.keys(proof.total)
    .map(Number)
    .sort((a, b) => a - b)
  const failing = (wavelength: number) =>
    proof.events.filter((event) => event.wavelength === wavelength && event.holds !== 'yes')
  const worst = wavelengths.reduce((a, b) => (failing(b).length >= failing(a).length ? b : a), wavelengths[0] ?? 0)
  const [chosen, setChosen] = useState<number | null>(null)
  const [only, setOnly] = useState(false)
  const narrow = useMediaQuery('(max-width: 700px)')
  const wavelength = chosen !== null && wavelengths.includes(chosen) ? chosen : worst
  const events = proof.events.filter((event) => event.wavelength === wavelength)
  const total = proof.total[String(wavelength)]
  if (!total) return null
  const bad = failing(wavelength).length
  const shown = only && bad > 0 ? failing(wavelength) : events
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center', mb: 1 }}>
        <ToggleButtonGroup
          exclusive
          value={wavelength}
          onChange={(_event, value: number | null) => value !== null && setChosen(value)}
          aria-label="Wavelength"
        >
          {wavelengths.map((one) => (
            <ToggleButton key={one} value={one} sx={{ minHeight: 44, px: 2, textTransform: 'none' }}>
              {one} nm
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {bad > 0 && (
          <FormControlLabel
            control={<Switch checked={only} onChange={(_event, checked) => setOnly(checked)} />}
            label={`Only what does not hold, ${bad}`}
          />
        )}
      </Box>
      <LinkDrawing events={events} wavelength={wavelength} />
      <StripKey />
      {narrow ? (
        <EventList events={shown} wavelength={wavelength} />
      ) : (
        <EventTable events={shown} wavelength={wavelength} total={total} />
      )}
      {narrow && (
        <Typography sx={{ fontWeight: 650, mt: 1 }}>
          {totalName(total)}: {total.before === null ? '' : `was ${total.before.toFixed(2)} dB, `}
          {total.after === null ? 'not measured' : `is ${total.after.toFixed(2)} dB`}
          {total.allowed !== null && `, allowed ${total.allowed.toFixed(2)} dB`}
          {total.budget != null && `, budget ${total.budget.toFixed(2)} dB`}
          {returnLossWords(total) && `, ${returnLossWords(total)}`} <Judgement {...HOLDS[totalHolds(total)]} />
        </Typography>
      )}
    </>
  )
}

function stripOf({ lossBefore, lossAfter, lossSigma, limit }: ProofEvent) {
  return { before: lossBefore, after: lossAfter, sigma: lossSigma, limit }
}

/** On a phone: each joint in words, with its strip. */
function EventList({ events, wavelength }: { events: readonly ProofEvent[]; wavelength: number }) {
  return (
    <Box component="ul" aria-label={`Readings at ${wavelength} nm`} sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {events.map((event) => (
        <Box
          component="li"
          key={`${event.chainage} ${event.node}`}
          sx={{ borderTop: 1, borderColor: 'divider', py: 1, display: 'grid', gap: 0.25 }}
        >
          <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1 }}>
            <strong>{event.place}</strong>
            <Judgement {...HOLDS[event.holds]} />
          </Box>
          <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
            {kindOf(event)}
            {event.reflectanceAfter !== null && `, reflects ${event.reflectanceAfter.toFixed(1)} dB`}
          </Typography>
          <Box sx={{ display: 'flex', justifyContent: 'space-between', gap: 1, alignItems: 'center' }}>
            <LossStrip {...stripOf(event)} />
            <Typography sx={{ fontSize: 15 }}>
              {event.lossBefore !== null && `${event.lossBefore.toFixed(2)} → `}
              <Figure value={event.lossAfter} unit="dB" why={whyOf(event)} />
              {`, max ${event.limit.toFixed(2)}`}
            </Typography>
          </Box>
        </Box>
      ))}
    </Box>
  )
}

function EventTable({
  events,
  wavelength,
  total,
}: {
  events: readonly ProofEvent[]
  wavelength: number
  total: Proof['total'][string]
}) {
  const number = { align: 'right' as const }
  return (
    <TableContainer tabIndex={0}>
      <Table size="small" aria-label={`Readings at ${wavelength} nm`}>
        <TableHead>
          <TableRow>
            <TableCell>Place</TableCell>
            <TableCell>Kind</TableCell>
            <TableCell {...number}>Before, dB</TableCell>
            <TableCell {...number}>After, dB</TableCell>
            <TableCell {...number}>Change, dB</TableCell>
            <TableCell {...number}>Allowed, dB</TableCell>
            <TableCell>Was, is, allowed</TableCell>
            <TableCell {...number}>Reflectance, dB</TableCell>
            <TableCell>Verdict</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {events.map((event) => (
            <TableRow key={`${event.chainage} ${event.node}`}>
              <TableCell>{event.place}</TableCell>
              <TableCell>{kindOf(event)}</TableCell>
              <TableCell {...number}>{event.lossBefore === null ? '–' : event.lossBefore.toFixed(3)}</TableCell>
              <TableCell {...number}>
                <Figure value={event.lossAfter} unit="" digits={3} why={whyOf(event)} />
              </TableCell>
              <TableCell {...number}>{changeOf(event)}</TableCell>
              <TableCell {...number}>
                <Figure value={event.limit} unit="" digits={2} why={event.limitSource} />
              </TableCell>
              <TableCell>
                <LossStrip {...stripOf(event)} />
              </TableCell>
              <TableCell {...number}>
                {event.reflectanceAfter === null ? '–' : event.reflectanceAfter.toFixed(1)}
              </TableCell>
              <TableCell>
                <Judgement {...HOLDS[event.holds]} />
              </TableCell>
            </TableRow>
          ))}
          <TableRow sx={{ '& td': { fontWeight: 650 } }}>
            <TableCell>{totalName(total)}</TableCell>
            <TableCell>total</TableCell>
            <TableCell {...number}>{total.before === null ? '–' : total.before.toFixed(2)}</TableCell>
            <TableCell {...number}>
              <Figure
                value={total.after}
                unit=""
                why={`Mean of both directions, ± ${(2 * (total.afterSigma ?? 0)).toFixed(2)} dB (k = 2): connections, joints and fiber between.`}
              />
            </TableCell>
            <TableCell {...number}>
              {total.before === null || total.after === null ? '–' : signed(total.after - total.before, 2)}
            </TableCell>
            <TableCell {...number}>
              {total.allowed === null ? '–' : <Figure value={total.allowed} unit="" why={allowedWhy(total)} />}
            </TableCell>
            <TableCell>
              <LossStrip before={total.before} after={total.after} sigma={total.afterSigma} limit={total.allowed} />
            </TableCell>
            <TableCell {...number}>{returnLossWords(total) ?? '–'}</TableCell>
            <TableCell>
              <Judgement {...HOLDS[totalHolds(total)]} />
            </TableCell>
          </TableRow>
        </TableBody>
      </Table>
    </TableContainer>
  )
}

function changeOf({ lossBefore, change }: ProofEvent): string {
  return lossBefore === null || change === null ? '–' : signed(change, 3)
}

function signed(value: number, digits: number): string {
  return `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`
}
