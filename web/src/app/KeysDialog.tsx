import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableRow from '@mui/material/TableRow'
import { MONO } from './theme.ts'

const KEYS: [string, string][] = [
  ['1 2 3 4 5 6', 'go from stage to stage of a callout'],
  ['[ ]', 'on the thread: event before, event after'],
  ['[ ]', 'on a run sheet: step before, step after'],
  ['Enter', 'on a run sheet: the step is done'],
  ['+ −', 'on the thread: closer, further'],
  ['← →', 'on the thread: along it'],
  ['0', 'on the thread: the whole link'],
  ['f', 'on the thread: to the fault'],
  ['m', 'on the thread: place a marker at the cursor'],
  ['r', 'on the thread: ruler by ground, sheath or fiber'],
  ['↑ ↓', 'in a cable’s survey or proof: from fiber to fiber'],
  ['space, ↑ ↓, space', 'on the handle of a line of the plan: take it, move it, put it down'],
  ['?', 'this list'],
]

/** The keys of the application. */
export function KeysDialog({ onClose }: { onClose(): void }) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="keys">
      <DialogTitle id="keys">Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {KEYS.map(([keys, words]) => (
              <TableRow key={words}>
                <TableCell component="th" scope="row" sx={{ fontFamily: MONO, whiteSpace: 'nowrap' }}>
                  {keys}
                </TableCell>
                <TableCell>{words}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  )
}
