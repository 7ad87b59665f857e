import LogoutIcon from '@mui/icons-material/Logout'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import { useState } from 'react'
import { useSignOutMutation } from '../api/api.ts'
import { useAppSelector } from '../app/store.ts'
import { fieldStore } from './fieldStore.ts'

/** Signs out and wipes what this device keeps; warns first while something would be lost. */
export function SignOutButton() {
  const [signOut] = useSignOutMutation()
  const { waiting, refused } = useAppSelector((state) => state.field)
  const [asked, setAsked] = useState(false)
  const kept = waiting + refused
  const leave = async () => {
    setAsked(false)
    // First the session: without the network nobody signs out, and nothing is wiped.
    const { error } = await signOut()
    if (!error) await fieldStore.wipe()
  }
  return (
    <>
      <Tooltip title="Sign out">
        <IconButton aria-label="Sign out" onClick={() => (kept > 0 ? setAsked(true) : void leave())}>
          <LogoutIcon />
        </IconButton>
      </Tooltip>
      <Dialog open={asked} onClose={() => setAsked(false)} aria-labelledby="leave">
        <DialogTitle id="leave">{kept === 1 ? 'One entry is' : `${kept} entries are`} not on the server</DialogTitle>
        <DialogContent>
          Signing out wipes this device: what waits or was refused is lost then. Stay until it has gone, or send it from
          the outbox.
        </DialogContent>
        <DialogActions>
          <Button color="error" onClick={() => void leave()}>
            Sign out and lose it
          </Button>
          <Button variant="contained" onClick={() => setAsked(false)}>
            Stay
          </Button>
        </DialogActions>
      </Dialog>
    </>
  )
}
