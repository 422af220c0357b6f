import type { Writable } from 'node:stream'

/** Writes a text, and waits where its reader is slower than this server; one that has gone away is waited for no longer. */
export const written = (out: Writable, text: string): Promise<void> =>
  new Promise((resolve) => {
    if (out.write(text) || out.destroyed) {
      resolve()
      return
    }
    const goOn = (): void => {
      out.off('drain', goOn).off('close', goOn)
      resolve()
    }
    out.once('drain', goOn).once('close', goOn)
  })
