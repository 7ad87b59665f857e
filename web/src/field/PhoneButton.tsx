import Button from '@mui/material/Button'
import { useState } from 'react'
import { PageBoundary } from '../app/PageBoundary.tsx'
import { page } from '../app/page.ts'

const PhoneDialog = page(async () => (await import('./PhoneDialog.tsx')).PhoneDialog)

/** Opens the phone's way to a page. */
export function PhoneButton({ path }: { path: string }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)} className="not-on-paper">
        Open on a phone
      </Button>
      {open && (
        <PageBoundary page="phone" loading={null}>
          <PhoneDialog path={path} onClose={() => setOpen(false)} />
        </PageBoundary>
      )}
    </>
  )
}
