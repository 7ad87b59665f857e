import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAddressQuery } from '../api/api.ts'
import { QrCode } from '../ui/QrCode.tsx'

/** Why a phone can't come in by an address, or could not keep the app; null where all is well. */
export function whyNoPhone(address: string): string | null {
  const { hostname, protocol } = new URL(address)
  if (hostname === 'localhost' || hostname === '[::1]' || hostname.startsWith('127.'))
    return 'This address is of this very machine: a phone can’t reach it. Start the server with a host, a certificate and a public address (npm start -- --help).'
  return protocol === 'https:'
    ? null
    : 'This address is plain http: a phone can read and enter, but not open the app without network, and what it sends can be read on the way.'
}

/** The phone's way to a callout: a code to be scanned from the lead's screen. */
export function PhoneButton({ path }: { path: string }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)} className="not-on-paper">
        Open on a phone
      </Button>
      {open && <PhoneDialog path={path} onClose={() => setOpen(false)} />}
    </>
  )
}

function PhoneDialog({ path, onClose }: { path: string; onClose(): void }) {
  const { data } = useAddressQuery()
  if (!data) return null
  const address = new URL(path, data.publicAddress ?? location.origin).href
  const why = whyNoPhone(address)
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
