import type { Holds, Proof, ProofEvent } from '@cold-thread/core/prove'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableContainer from '@mui/material/TableContainer'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { Figure } from '../../ui/Figure.tsx'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'

const HOLDS: Record<Holds, { tone: Tone; word: string }> = {
  yes: { tone: 'good', word: 'holds' },
  close: { tone: 'close', word: 'close' },
  no: { tone: 'bad', word: 'over' },
  unknown: { tone: 'unknown', word: 'not measured' },
}

/** Every joint and the total, before and after, one table for each wavelength. */
export function ReadingsTable({ proof }: { proof: Proof }) {
  return Object.keys(proof.total).map((wavelength) => (
    <WavelengthTable key={wavelength} wavelength={Number(wavelength)} proof={proof} />
  ))
}

function WavelengthTable({ wavelength, proof }: { wavelength: number; proof: Proof }) {
  const events = proof.events.filter((event) => event.wavelength === wavelength)
  const total = proof.total[String(wavelength)]!
  const number = { align: 'right' as const }
  return (
    <>
      <Typography variant="h3" sx={{ mt: 1 }}>
        {wavelength} nm
      </Typography>
      <TableContainer tabIndex={0}>
        <Table size="small" aria-label={`Readings at ${wavelength} nm`}>
          <TableHead>
            <TableRow>
              <TableCell>Place</TableCell>
              <TableCell>Kind</TableCell>
              <TableCell {...number}>Before, dB</TableCell>
              <TableCell {...number}>After, dB</TableCell>
              <TableCell {...number}>Allowed, dB</TableCell>
              <TableCell {...number}>Reflectance, dB</TableCell>
              <TableCell>Verdict</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {events.map((event) => (
              <TableRow key={`${event.chainage} ${event.node}`}>
                <TableCell>{event.place}</TableCell>
                <TableCell>
                  {event.kind === 'event' ? 'new event' : event.kind}
                  {event.status === 'changed'
                    ? ', changed'
                    : event.node === null && event.kind === 'splice'
                      ? ', new'
                      : ''}
                </TableCell>
                <TableCell {...number}>{event.lossBefore === null ? '–' : event.lossBefore.toFixed(3)}</TableCell>
                <TableCell {...number}>
                  <Figure value={event.lossAfter} unit="" digits={3} why={whyOf(event)} />
                </TableCell>
                <TableCell {...number}>
                  <Figure value={event.limit} unit="" digits={2} why={event.limitSource} />
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
              <TableCell>Whole link</TableCell>
              <TableCell>total</TableCell>
              <TableCell {...number}>{total.before === null ? '–' : total.before.toFixed(2)}</TableCell>
              <TableCell {...number}>
                <Figure
                  value={total.after}
                  unit=""
                  why={`Mean of both directions, ± ${(2 * (total.afterSigma ?? 0)).toFixed(2)} dB (k = 2): connections, joints and fiber between.`}
                />
              </TableCell>
              <TableCell {...number}>{total.allowed === null ? '–' : total.allowed.toFixed(2)}</TableCell>
              <TableCell {...number}>–</TableCell>
              <TableCell>
                <Judgement {...totalHolds(total)} />
              </TableCell>
            </TableRow>
          </TableBody>
        </Table>
      </TableContainer>
    </>
  )
}

function whyOf(event: ProofEvent): string {
  const spread = event.lossSigma === null ? '' : ` ± ${(2 * event.lossSigma).toFixed(3)} dB (k = 2)`
  return event.lossTwoWay === null
    ? `One direction only${spread}: holds the difference in backscatter of the two fibers.`
    : `Mean of both directions${spread}: the difference in backscatter cancels (IEC 61280-4-2).`
}

function totalHolds({ after, allowed, afterSigma }: Proof['total'][string]): { tone: Tone; word: string } {
  if (after === null || allowed === null) return HOLDS.unknown
  const spread = 2 * (afterSigma ?? 0)
  if (after + spread <= allowed) return HOLDS.yes
  return after - spread > allowed ? HOLDS.no : HOLDS.close
}
