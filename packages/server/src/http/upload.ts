import { randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, open, readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip } from 'node:zlib'
import type { Request } from 'express'
import type { Config } from '../config.ts'
import { HttpProblem } from './problems.ts'

/** A file that was sent, on this machine's disk as long as the call lasts. */
export type Upload = { path: string }

const tooLarge = (limit: number): HttpProblem =>
  new HttpProblem(
    413,
    'too-large',
    `The file is larger than ${Math.round(limit / 1048576)} MB.`,
    'Cut it into runs, or leave out channels; nothing was stored.',
  )

/** Lets a limited number of bytes through. */
const atMost = (bytes: number, limit: number): Transform => {
  let size = 0
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      size += chunk.length
      done(size > bytes ? tooLarge(limit) : null, chunk)
    },
  })
}

const folderOf = (config: Config): string => join(config.dataDir, 'uploads')

/** No upload takes so long (ms). */
const LONGEST_MS = 24 * 3600 * 1000

/** Takes away what a server that was killed had received in part; not what other processes on the same folder are receiving now. */
export const forgetUploads = async (config: Config): Promise<void> => {
  if (config.database === null) return rm(folderOf(config), { recursive: true, force: true })
  for (const name of await readdir(folderOf(config)).catch(() => [])) {
    const path = join(folderOf(config), name)
    const touched = await stat(path).catch(() => null)
    if (touched && Date.now() - touched.mtimeMs > LONGEST_MS) await rm(path, { recursive: true, force: true })
  }
}

/** A packed file must not become much larger than an unpacked one may be. */
const UNPACKED_TIMES = 4

const isPacked = async (path: string): Promise<boolean> => {
  const file = await open(path)
  try {
    const { buffer } = await file.read(Buffer.alloc(2), 0, 2, 0)
    return buffer[0] === 0x1f && buffer[1] === 0x8b
  } finally {
    await file.close()
  }
}

const unpack = async (from: string, to: string, limit: number): Promise<void> => {
  try {
    await pipeline(createReadStream(from), createGunzip(), atMost(UNPACKED_TIMES * limit, limit), createWriteStream(to))
  } catch (error) {
    if (error instanceof HttpProblem) throw error
    throw new HttpProblem(
      422,
      'file-unreadable',
      'The compressed file is damaged.',
      'Pack it again, or give the file itself; nothing was stored.',
    )
  }
}

/**
 * Streams a request's body to a temporary file, at most the configured size, unpacks gzip the same way, and gives it to some
 * work; afterwards the file is gone, however the work ended.
 * @throws HttpProblem 413, 422, and what the work throws
 */
export const withUpload = async <T>(req: Request, config: Config, work: (upload: Upload) => Promise<T>): Promise<T> => {
  if (Number(req.headers['content-length'] ?? 0) > config.uploadLimit) throw tooLarge(config.uploadLimit)
  const folder = folderOf(config)
  await mkdir(folder, { recursive: true })
  const sent = join(folder, randomUUID())
  const unpacked = `${sent}.unpacked`
  try {
    await pipeline(req, atMost(config.uploadLimit, config.uploadLimit), createWriteStream(sent))
    const packed = await isPacked(sent)
    if (packed) await unpack(sent, unpacked, config.uploadLimit)
    const path = packed ? unpacked : sent
    return await work({ path })
  } finally {
    await rm(sent, { force: true })
    await rm(unpacked, { force: true })
  }
}

/** Gives a file on this machine to some work, unpacked where it is packed. */
export const withUnpacked = async <T>(path: string, config: Config, work: (path: string) => Promise<T>): Promise<T> => {
  if (!(await isPacked(path))) return work(path)
  const folder = folderOf(config)
  await mkdir(folder, { recursive: true })
  const unpacked = join(folder, `${randomUUID()}.unpacked`)
  try {
    await unpack(path, unpacked, Number.MAX_SAFE_INTEGER)
    return await work(unpacked)
  } finally {
    await rm(unpacked, { force: true })
  }
}
