import { liveQuery } from 'dexie'
import { useEffect, useRef, useState } from 'react'

/** What a query of the device's store gives, kept up to date, from other tabs too. */
export function useLiveQuery<T>(query: () => Promise<T>, first: T): T {
  const [value, setValue] = useState(first)
  const latest = useRef(query)
  useEffect(() => {
    const subscription = liveQuery(() => latest.current()).subscribe({ next: setValue, error: () => undefined })
    return () => subscription.unsubscribe()
  }, [])
  return value
}
