import { createGzip } from 'node:zlib'
import { api } from '@ochote/contract'
import { serverTime } from '../clock/clock.ts'
import type { Opened } from '../db/open.ts'
import type { Mount } from '../http/mount.ts'
import { readArchive, writeArchive } from './archive.ts'

/** The whole school as one file, out and in. `onRead`: everything is another school now. */
export const schoolRoutes = (mount: Mount, opened: Opened, onRead: () => Promise<void>): void => {
  mount(api.exportSchool, async ({ res }) => {
    res.type('application/gzip').attachment(`school-${serverTime().slice(0, 10)}.jsonl.gz`)
    const packed = createGzip()
    packed.pipe(res)
    await writeArchive(opened, packed)
    packed.end()
    return undefined
  })
  mount(api.importSchool, async ({ upload }) => {
    const rows = await readArchive(opened.db, upload.path)
    await onRead()
    return { rows }
  })
}
