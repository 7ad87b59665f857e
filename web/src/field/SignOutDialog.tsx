import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'

/**
 * Asked before signing out would lose what is not on the server.
 * @param entries how many entries wait or were refused
 * @param drafts how many things were changed and not saved
 */
export function SignOutDialog({
  entries,
  drafts,
  onLeave,
  onClose,
}: {
  entries: number
  drafts: number
  onLeave(): void
  onClose(): void
}) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="leave">
      <DialogTitle id="leave">
        {entries === 0
          ? 'Changes are not saved'
          : `${entries === 1 ? 'One entry is' : `${entries} entries are`} not on the server`}
      </DialogTitle>
      <DialogContent>
        Signing out wipes this device.{' '}
        {entries > 0 && 'What waits or was refused is lost then: stay until it has gone, or send it from the outbox. '}
        {drafts > 0 && 'What was changed of a plan or the kit and not saved is lost too.'}
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
