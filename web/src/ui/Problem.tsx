import Alert from '@mui/material/Alert'
import { errorText } from '../api/errorText.ts'

/** What went wrong, in one sentence; nothing when nothing did. */
export function Problem({ error }: { error: unknown }) {
  if (!error) return null
  return (
    <Alert severity="error" variant="outlined" role="alert" sx={{ my: 1 }}>
      {errorText(error)}
    </Alert>
  )
}
