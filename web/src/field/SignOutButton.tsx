import IconButton from '@mui/material/IconButton'
import { useState } from 'react'
import { SignOutIcon } from '../ui/icons.tsx'
import { useSignOutMutation } from '../api/api.ts'
import { PageBoundary } from '../app/PageBoundary.tsx'
import { page } from '../app/page.ts'
import { useAppSelector } from '../app/store.ts'
import { fieldStore } from './fieldStore.ts'

const SignOutDialog = page(async () => (await import('./SignOutDialog.tsx')).SignOutDialog)

/** Signs out and wipes what this device keeps; warns first while something would be lost. */
export function SignOutButton() {
  const [signOut] = useSignOutMutation()
  const { waiting, refused } = useAppSelector((state) => state.field)
  const [asked, setAsked] = useState<{ entries: number; drafts: number } | null>(null)
  const ask = async () => {
    const lost = { entries: waiting + refused, drafts: await fieldStore.drafts.count().catch(() => 0) }
    if (lost.entries + lost.drafts > 0) setAsked(lost)
    else await leave()
  }
  const leave = async () => {
    setAsked(null)
    // First the session: without the network nobody signs out, and nothing is wiped.
    const { error } = await signOut()
    if (!error) await fieldStore.wipe()
  }
  return (
    <>
      <IconButton title="Sign out" aria-label="Sign out" onClick={() => void ask()}>
        <SignOutIcon />
      </IconButton>
      {asked && (
        <PageBoundary page="sign-out" loading={null}>
          <SignOutDialog {...asked} onLeave={() => void leave()} onClose={() => setAsked(null)} />
        </PageBoundary>
      )}
    </>
  )
}
