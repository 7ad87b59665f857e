import { Workbox } from 'workbox-window'
import { updateWaits } from './fieldState.ts'

let workbox: Workbox | null = null

/** Whether this page can be opened without network: browsers allow it over https or on this very machine only. */
export function canOpenOffline(): boolean {
  return globalThis.isSecureContext === true && 'serviceWorker' in navigator
}

/** Keeps the app's code on this device; tells when a newer version waits. */
export function registerServiceWorker(dispatch: (action: { type: string }) => unknown): void {
  if (!import.meta.env.PROD || !canOpenOffline()) return
  workbox = new Workbox('/sw.js')
  workbox.addEventListener('waiting', () => dispatch(updateWaits()))
  workbox.addEventListener('controlling', ({ isUpdate }) => {
    if (isUpdate) location.reload()
  })
  workbox.register().catch(() => undefined)
}

/** Takes the newer version: the page is loaded anew with it. */
export function takeUpdate(): void {
  workbox?.messageSkipWaiting()
}
