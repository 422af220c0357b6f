import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, readFile, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import type { Request } from 'express'
import type { Config } from '../config.ts'
import { HttpProblem } from './problems.ts'

const tooLarge = (limit: number): HttpProblem =>
  new HttpProblem(
    413,
    'too-large',
    `The file is larger than ${Math.round(limit / 1048576)} MB.`,
    'Cut it into runs, or leave out channels; nothing was stored.',
  )

/** A packed file must not become much larger than an unpacked one may be. */
const UNPACKED_TIMES = 4
const gunzipped = promisify(gunzip)

const unpacked = async (bytes: Buffer, limit: number): Promise<Buffer> => {
  try {
    return (await gunzipped(bytes, { maxOutputLength: UNPACKED_TIMES * limit })) as Buffer
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') throw tooLarge(limit)
    throw new HttpProblem(
      422,
      'file-unreadable',
      'The packed file is damaged.',
      'Pack it again, or give the file itself; nothing was stored.',
    )
  }
}

/**
 * Streams a request's body to a temporary file, at most the configured size, and returns its text; gzip is unpacked.
 * @throws HttpProblem 413; the temporary file is gone in any case
 */
export const receiveUpload = async (req: Request, config: Config): Promise<string> => {
  if (Number(req.headers['content-length'] ?? 0) > config.uploadLimit) throw tooLarge(config.uploadLimit)
  const folder = join(config.dataDir, 'uploads')
  await mkdir(folder, { recursive: true })
  const file = join(folder, randomUUID())
  let size = 0
  const counter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      size += chunk.length
      done(size > config.uploadLimit ? tooLarge(config.uploadLimit) : null, chunk)
    },
  })
  try {
    await pipeline(req, counter, createWriteStream(file))
    const bytes = await readFile(file)
    return (bytes[0] === 0x1f && bytes[1] === 0x8b ? await unpacked(bytes, config.uploadLimit) : bytes).toString('utf8')
  } finally {
    await rm(file, { force: true })
  }
}
