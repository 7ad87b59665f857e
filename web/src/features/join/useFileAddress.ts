import type { Attachment } from '@cold-thread/contract'
import { useEffect, useState } from 'react'
import { attachmentFile } from '../../field/files.ts'

/** Address of the file as this device has it; null until it is read, or where it can't be. */
export function useFileAddress(
  attachment: Pick<Attachment, 'id' | 'sha256' | 'fileName' | 'mediaType'>,
): string | null {
  const [address, setAddress] = useState<string | null>(null)
  const { id, sha256, fileName, mediaType } = attachment
  useEffect(() => {
    let made: string | null = null
    let gone = false
    attachmentFile({ id, sha256, fileName })
      .then((bytes) => {
        if (gone) return
        made = URL.createObjectURL(new Blob([bytes], { type: mediaType }))
        setAddress(made)
      })
      .catch(() => undefined)
    return () => {
      gone = true
      if (made !== null) URL.revokeObjectURL(made)
    }
  }, [id, sha256, fileName, mediaType])
  return address
}
