import type { Observation, SpliceEntry } from '@cold-thread/contract'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { SelectField } from '../../ui/SelectField.tsx'

const OUTCOMES: readonly SpliceEntry['outcome'][] = ['accepted', 'redo', 'stopped']

/** Figures of a splice entered anew: the entry before stays in the record, superseded. */
export function CorrectSplice({
  observation: { id, calloutId, entry },
  onClose,
}: {
  observation: Observation & { entry: SpliceEntry }
  onClose(): void
}) {
  const [add, { error, isLoading }] = useAddObservationMutation()
  const [newId] = useState(() => uuidv7())
  const text = (value: number | null) => (value === null ? '' : String(value))
  const [figures, setFigures] = useState({
    estimate: text(entry.estimate),
    cleaveLeft: text(entry.cleaveLeft),
    cleaveRight: text(entry.cleaveRight),
  })
  const [outcome, setOutcome] = useState(entry.outcome)
  const [remark, setRemark] = useState(entry.remark)
  const read = (value: string) => (value.trim() === '' ? null : Number(value.replace(',', '.')))
  const bad = Object.values(figures).some((value) => Number.isNaN(read(value)))
  const save = async () => {
    const { estimate, cleaveLeft, cleaveRight } = figures
    const corrected: SpliceEntry = {
      ...entry,
      estimate: read(estimate),
      cleaveLeft: read(cleaveLeft),
      cleaveRight: read(cleaveRight),
      outcome,
      remark: remark.trim(),
    }
    const { error: failed } = await add({
      calloutId,
      id: newId,
      observation: { entry: corrected, observedAt: new Date().toISOString(), supersedes: id },
    })
    if (!failed) onClose()
  }
  const figure = (key: keyof typeof figures, label: string) => (
    <TextField
      label={label}
      value={figures[key]}
      error={Number.isNaN(read(figures[key]))}
      onChange={(event) => setFigures({ ...figures, [key]: event.target.value })}
      margin="dense"
      fullWidth
      slotProps={{ htmlInput: { inputMode: 'decimal' } }}
    />
  )
  return (
    <Dialog open onClose={onClose} aria-labelledby="correct" fullWidth maxWidth="xs">
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <DialogTitle id="correct">
          Correct fiber {entry.fiber}, attempt {entry.attempt}
        </DialogTitle>
        <DialogContent>
          {figure('estimate', 'Estimate, dB')}
          {figure('cleaveLeft', 'Left angle, °')}
          {figure('cleaveRight', 'Right angle, °')}
          <SelectField
            label="Outcome"
            value={outcome}
            onChoose={setOutcome}
            margin="dense"
            fullWidth
            options={OUTCOMES.map((one) => [one, one] as const)}
          />
          <TextField
            label="Why, remark"
            value={remark}
            onChange={(event) => setRemark(event.target.value)}
            margin="dense"
            fullWidth
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <Problem error={error} />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" variant="contained" disabled={bad || isLoading}>
            Correct it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
