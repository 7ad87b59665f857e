import { Workbox } from 'workbox-window'
import { updateWaits } from './fieldState.ts'

let workbox: Workbox | null = null
/** Asked for in this tab: another tab's update loads nothing anew here. */
let asked = false

/** Whether this page can be opened without network: browsers allow it over https or on this very machine only. */
export function canOpenOffline(): boolean {
  return globalThis.isSecureContext === true && 'serviceWorker' in navigator
}

/** Keeps the app's code on this device; tells when a newer version waits, or was taken by another tab. */
export function registerServiceWorker(dispatch: (action: { type: string }) => unknown): void {
  if (!import.meta.env.PROD || !canOpenOffline()) return
  workbox = new Workbox('/sw.js')
  workbox.addEventListener('waiting', () => dispatch(updateWaits()))
  workbox.addEventListener('controlling', ({ isUpdate }) => {
    if (!isUpdate) return
    if (asked) location.reload()
    else dispatch(updateWaits())
  })
  workbox.register().catch(() => undefined)
}

/** Asks whether a newer version is there. */
export function lookForUpdate(): void {
  workbox?.update().catch(() => undefined)
}

/** Takes the newer version: this page is loaded anew with it. */
export async function takeUpdate(): Promise<void> {
  asked = true
  const registration = await navigator.serviceWorker?.getRegistration().catch(() => undefined)
  // Without one that waits (plain http, or another tab has taken it) the page itself is read anew.
  if (registration?.waiting) workbox?.messageSkipWaiting()
  else location.reload()
}
