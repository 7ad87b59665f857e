import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Typography from '@mui/material/Typography'
import { QrCode } from '../ui/QrCode.tsx'
import { usePublicAddress } from './publicAddress.ts'

/** The phone's way to a callout: a code to be scanned from the lead's screen. */
export function PhoneDialog({ path, onClose }: { path: string; onClose(): void }) {
  const reached = usePublicAddress(path)
  if (!reached) return null
  const { address, problem: why } = reached
  return (
    <Dialog open onClose={onClose} aria-labelledby="phone">
      <DialogTitle id="phone">Open on a phone</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5, justifyItems: 'center' }}>
        <QrCode text={address} size={260} label={`QR code of ${address}`} />
        <Typography sx={{ overflowWrap: 'anywhere' }}>{address}</Typography>
        {why && (
          <Alert severity="warning" variant="outlined">
            {why}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
