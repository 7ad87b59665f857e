import { betweenMarkers } from '@cold-thread/core/trace'
import Box from '@mui/material/Box'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { distanceOfGround } from '../worker/polyline.ts'
import type { TraceCurve } from '../worker/view.ts'
import { metres } from '@cold-thread/core/units'

/** Loss, attenuation and distance between two markers, by two points and by least squares, for each trace in sight. */
export function MarkerReadout({ markers, traces }: { markers: readonly number[]; traces: readonly TraceCurve[] }) {
  const [a, b] = markers
  if (a === undefined || b === undefined)
    return (
      <Typography sx={{ fontSize: 14, mt: 1 }}>
        {a === undefined ? 'Click the first place on the thread.' : 'Click the second place.'}
      </Typography>
    )
  const figures = { align: 'right' as const, sx: { fontVariantNumeric: 'tabular-nums', whiteSpace: 'nowrap' } }
  return (
    <Box sx={{ mt: 1, overflowX: 'auto' }}>
      <Typography sx={{ fontSize: 14 }}>{metres(Math.abs(b - a))} of ground between the markers.</Typography>
      <Table size="small" aria-label="Between the markers">
        <TableHead>
          <TableRow>
            <TableCell>Trace</TableCell>
            <TableCell align="right">Fiber, m</TableCell>
            <TableCell align="right">Two points, dB</TableCell>
            <TableCell align="right">Least squares, dB</TableCell>
            <TableCell align="right">Attenuation, dB/km</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {traces.map((trace) => {
            const index = (ground: number) => (distanceOfGround(trace.map, ground) - trace.first) / trace.spacing
            const read = betweenMarkers(trace.pyramid.low[0]!, trace.spacing, index(a), index(b))
            return (
              <TableRow key={trace.id}>
                <TableCell>{`${trace.role} ${trace.direction === 'ab' ? '→' : '←'}`}</TableCell>
                {read ? (
                  <>
                    <TableCell {...figures}>{read.length.toFixed(1)}</TableCell>
                    <TableCell
                      {...figures}
                    >{`${read.twoPoint.toFixed(3)} ± ${read.twoPointSigma.toFixed(3)}`}</TableCell>
                    <TableCell {...figures}>
                      {`${read.leastSquares.toFixed(3)} ± ${Math.max(0.001, read.leastSquaresSigma).toFixed(3)}`}
                    </TableCell>
                    <TableCell {...figures}>
                      {`${(1000 * read.attenuation).toFixed(3)} ± ${Math.max(0.001, 1000 * read.attenuationSigma).toFixed(3)}`}
                    </TableCell>
                  </>
                ) : (
                  <TableCell colSpan={4}>the markers are too close or outside this trace</TableCell>
                )}
              </TableRow>
            )
          })}
        </TableBody>
      </Table>
      <Typography sx={{ fontSize: 13, color: 'text.secondary' }}>
        Two points hold both points’ noise. Least squares is only right where no event stands between the markers.
      </Typography>
    </Box>
  )
}
