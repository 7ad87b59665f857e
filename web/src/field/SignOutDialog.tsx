import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'

/** Asked before signing out would lose what is not on the server. @param kept how many entries those are */
export function SignOutDialog({ kept, onLeave, onClose }: { kept: number; onLeave(): void; onClose(): void }) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="leave">
      <DialogTitle id="leave">{kept === 1 ? 'One entry is' : `${kept} entries are`} not on the server</DialogTitle>
      <DialogContent>
        Signing out wipes this device: what waits or was refused is lost then. Stay until it has gone, or send it from
        the outbox.
      </DialogContent>
      <DialogActions>
        <Button color="error" onClick={onLeave}>
          Sign out and lose it
        </Button>
        <Button variant="contained" onClick={onClose}>
          Stay
        </Button>
      </DialogActions>
    </Dialog>
  )
}
