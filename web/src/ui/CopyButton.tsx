import Button from '@mui/material/Button'
import { useState } from 'react'

/** Puts a text on the clipboard, and says when it is there. */
export function CopyButton({ text, children }: { text: string; children: string }) {
  const [copied, setCopied] = useState(false)
  return (
    <Button
      variant="outlined"
      sx={{ minHeight: 44 }}
      onClick={() =>
        void navigator.clipboard.writeText(text).then(
          () => setCopied(true),
          () => setCopied(false),
        )
      }
    >
      {copied ? 'Copied' : children}
    </Button>
  )
}
