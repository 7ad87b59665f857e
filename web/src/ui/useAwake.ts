import { useEffect } from 'react'

/** Keeps the screen on while a step is worked on, where the browser can; released when the page is left or hidden. */
export function useAwake(active: boolean): void {
  useEffect(() => {
    if (!active || !('wakeLock' in navigator)) return
    let lock: WakeLockSentinel | null = null
    let left = false
    const hold = async () => {
      if (document.visibilityState !== 'visible' || lock?.released === false) return
      lock = await navigator.wakeLock.request('screen').catch(() => null)
      if (left) void lock?.release()
    }
    void hold()
    document.addEventListener('visibilitychange', hold)
    return () => {
      left = true
      document.removeEventListener('visibilitychange', hold)
      void lock?.release()
    }
  }, [active])
}
