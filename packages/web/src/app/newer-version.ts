import { useSyncExternalStore } from 'react'
import { Workbox } from 'workbox-window'

let worker: Workbox | null = null
let waiting = false
const listeners = new Set<() => void>()

/** Installs the service worker, by which every page opens without the server. Does nothing where browsers allow none. */
export const installPages = (): void => {
  if (!('serviceWorker' in navigator) || import.meta.env.DEV) return
  worker = new Workbox('/sw.js')
  worker.addEventListener('waiting', () => {
    waiting = true
    for (const listener of listeners) listener()
  })
  // A browser that allows none still shows all pages while the server is there.
  worker.register().catch(() => {})
}

/** Takes the newer version and loads the page with it. */
export const takeNewerVersion = (): void => {
  worker?.addEventListener('controlling', () => window.location.reload())
  worker?.messageSkipWaiting()
}

/** True if a newer version of the pages is waiting. */
export const useNewerVersion = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => waiting,
  )
