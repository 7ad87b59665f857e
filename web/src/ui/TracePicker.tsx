import Button from '@mui/material/Button'
import { useRef } from 'react'

/** A button that asks for trace files, several at once. */
export function TracePicker({
  label,
  variant,
  words = 'Choose .sor files',
  busy = false,
  onFiles,
}: {
  label: string
  variant: 'contained' | 'outlined' | 'text'
  words?: string
  busy?: boolean
  onFiles(files: File[]): void
}) {
  const picker = useRef<HTMLInputElement>(null)
  return (
    <>
      <input
        ref={picker}
        type="file"
        multiple
        accept=".sor,.SOR"
        hidden
        aria-label={label}
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])])
          // The same file may be chosen again.
          event.target.value = ''
        }}
      />
      <Button variant={variant} disabled={busy} onClick={() => picker.current?.click()}>
        {busy ? 'Reading…' : words}
      </Button>
    </>
  )
}
