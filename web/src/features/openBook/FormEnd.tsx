import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'

/** What is wrong with a form, and the way out of it. */
export function FormEnd({
  problem,
  busy,
  onSave,
  onCancel,
}: {
  problem: string | null
  busy: boolean
  onSave(): void
  onCancel(): void
}) {
  return (
    <>
      {problem && (
        <Alert severity="error" variant="outlined" role="alert" sx={{ mb: 1.5 }}>
          {problem}
        </Alert>
      )}
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="contained" size="large" disabled={busy} onClick={onSave}>
          Save
        </Button>
        <Button onClick={onCancel}>Back</Button>
      </Box>
    </>
  )
}
