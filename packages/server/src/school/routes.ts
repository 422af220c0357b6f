import { createGzip } from 'node:zlib'
import { api } from '@ochote/contract'
import type { Knex } from 'knex'
import { serverTime } from '../clock/clock.ts'
import type { Mount } from '../http/mount.ts'
import { readArchive, writeArchive } from './archive.ts'

/** The whole school as one file, out and in. `onRead`: everything is another school now. */
export const schoolRoutes = (mount: Mount, db: Knex, onRead: () => Promise<void>): void => {
  mount(api.exportSchool, async ({ res }) => {
    res.type('application/gzip').attachment(`school-${serverTime().slice(0, 10)}.jsonl.gz`)
    const packed = createGzip()
    packed.pipe(res)
    await writeArchive(db, packed)
    packed.end()
    return undefined
  })
  mount(api.importSchool, async ({ upload }) => {
    const rows = await readArchive(db, upload.path)
    await onRead()
    return { rows }
  })
}
