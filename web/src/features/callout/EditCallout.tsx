import type { Callout } from '@cold-thread/contract'
import IconButton from '@mui/material/IconButton'
import { useState } from 'react'
import { EditIcon } from '../../ui/icons.tsx'
import { PageBoundary } from '../../app/PageBoundary.tsx'
import { page } from '../../app/page.ts'

const EditDialog = page(async () => (await import('./EditDialog.tsx')).EditDialog)

/** Opens what the callout is called, what was reported, and whose it is. */
export function EditCallout({ callout }: { callout: Callout }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <IconButton title="Edit" aria-label="Edit the callout" onClick={() => setOpen(true)} className="not-on-paper">
        <EditIcon />
      </IconButton>
      {open && (
        <PageBoundary page="edit" loading={null}>
          <EditDialog callout={callout} onClose={() => setOpen(false)} />
        </PageBoundary>
      )}
    </>
  )
}
