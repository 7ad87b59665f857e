import type { OrderLine } from '@cold-thread/core/plan'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { useState } from 'react'

/** Minutes that a line of the plan took. */
export function DoneDialog({
  line,
  onClose,
  onDone,
}: {
  line: OrderLine
  onClose(): void
  onDone(minutes: number): void
}) {
  const planned = Math.max(1, Math.round(line.end.planned - line.start))
  const [text, setText] = useState('')
  const minutes = Number(text.replace(',', '.'))
  const good = text.trim() !== '' && minutes > 0 && minutes <= 10_000
  return (
    <Dialog open onClose={onClose} aria-labelledby="done">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (good) onDone(minutes)
        }}
      >
        <DialogTitle id="done">{line.name}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label="Minutes it took"
            value={text}
            onChange={(event) => setText(event.target.value)}
            error={text !== '' && !good}
            helperText={`planned ${planned} min`}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            sx={{ mt: 1 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Not yet</Button>
          <Button type="submit" variant="contained" disabled={!good}>
            Done
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
