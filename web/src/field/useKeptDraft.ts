import { dequal } from 'dequal'
import { useCallback, useEffect, useRef, useState } from 'react'
import { fieldStore, type FieldStore } from './fieldStore.ts'

/** What is being changed and is not saved yet, kept on this device until it is saved or dropped. */
export interface KeptDraft<T> {
  /** As it was left when the page was opened; null where nothing was left. */
  left: T | null
  /** Keeps it as it is now; null forgets it. */
  keep(draft: T | null): void
}

/**
 * A page's changes that outlive it, and the browser: null until what was left is read.
 * @param key names what is changed; with another one the page must begin anew
 */
export function useKeptDraft<T>(key: string, store: FieldStore = fieldStore): KeptDraft<T> | null {
  const [left, setLeft] = useState<{ draft: T | null } | null>(null)
  useEffect(() => {
    let gone = false
    store.drafts
      .get(key)
      .catch(() => undefined)
      .then((kept) => !gone && setLeft({ draft: (kept?.draft as T | undefined) ?? null }))
    return () => {
      gone = true
    }
  }, [key, store])
  const last = useRef<T | null | undefined>(undefined)
  const keep = useCallback(
    (draft: T | null) => {
      if (dequal(draft, last.current)) return
      last.current = draft
      // A full device only means that it is lost with the page.
      const write = async () => (draft === null ? store.drafts.delete(key) : store.drafts.put({ key, draft }))
      write().catch(() => undefined)
    },
    [key, store],
  )
  return left === null ? null : { left: left.draft, keep }
}
