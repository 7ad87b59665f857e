import { useEffect, useState } from 'react'
import { PageBoundary } from './PageBoundary.tsx'
import { page } from './page.ts'

const KeysDialog = page(async () => (await import('./KeysDialog.tsx')).KeysDialog)

/** Opens the list of keys with a question mark. */
export function Keys() {
  const [open, setOpen] = useState(false)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, select')
      if (event.key === '?' && !typing) setOpen(true)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  return open ? (
    <PageBoundary page="keys" loading={null}>
      <KeysDialog onClose={() => setOpen(false)} />
    </PageBoundary>
  ) : null
}
