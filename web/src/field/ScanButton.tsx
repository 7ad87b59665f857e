import IconButton from '@mui/material/IconButton'
import { useState } from 'react'
import { ScanCodeIcon } from '../ui/icons.tsx'
import { PageBoundary } from '../app/PageBoundary.tsx'
import { page } from '../app/page.ts'

const ScanDialog = page(async () => (await import('./ScanDialog.tsx')).ScanDialog)

/** Opens the scanner of tags and codes. */
export function ScanButton() {
  const [open, setOpen] = useState(false)
  return (
    <>
      <IconButton title="Scan a tag" aria-label="Scan a tag" onClick={() => setOpen(true)}>
        <ScanCodeIcon />
      </IconButton>
      {open && (
        <PageBoundary page="scan" loading={null}>
          <ScanDialog onClose={() => setOpen(false)} />
        </PageBoundary>
      )}
    </>
  )
}
