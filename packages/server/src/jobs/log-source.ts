import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { pipeline as pipe, Readable, Writable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import { CoreError, decodedPieces, type FileKind, kindOfFile, type LogFile, type LogMapping, misplaced, readLogPieces } from '@ochote/core'

/** Characters at the beginning of a file that show what it is. */
const HEAD = 4000

/** Kinds of file that can never be a log. */
const noLog: ReadonlySet<FileKind> = new Set(['vehicle', 'day', 'student', 'school', 'picture', 'document', 'video'])

/** Bytes of a file in memory at a time. */
const PIECE = 1 << 18

/** Source of a log: a file on this machine's disk, packed as it is stored, or a text that was just made. */
export type LogSource = { path: string } | { packed: Uint8Array } | { text: string }
/** A log with what a person said of its columns. */
export type GivenLog = { source: LogSource; mapping?: LogMapping | undefined }

/** A source's bytes as a stream, how many there are, and how many were taken already. */
const opened = async (source: LogSource): Promise<{ stream: Readable; size: number; taken: () => number }> => {
  if ('path' in source) {
    const { size } = await stat(source.path)
    const stream = createReadStream(source.path, { highWaterMark: PIECE })
    return { stream, size, taken: () => stream.bytesRead }
  }
  if ('packed' in source) {
    const unpacking = createGunzip({ chunkSize: PIECE })
    // Errors are reported by the stream that is read.
    return {
      stream: pipe(Readable.from([source.packed]), unpacking, () => {}),
      size: source.packed.length,
      taken: () => unpacking.bytesWritten,
    }
  }
  let taken = 0
  const pieces = function* (): Generator<Buffer> {
    while (taken < source.text.length) {
      const piece = source.text.slice(taken, taken + PIECE)
      taken += piece.length
      yield Buffer.from(piece)
    }
  }
  return { stream: Readable.from(pieces()), size: source.text.length, taken: () => taken }
}

/**
 * Reads a log piece by piece. @param onProgress called back with the share that is read
 * @throws CoreError for files that cannot be read; for one of another kind it says which
 */
export const readSource = async (source: LogSource, onProgress: (share: number) => void): Promise<LogFile> => {
  const { stream, size, taken } = await opened(source)
  let head = ''
  const pieces = async function* (): AsyncGenerator<string> {
    for await (const piece of decodedPieces(stream)) {
      if (head.length < HEAD) head += piece.slice(0, HEAD)
      yield piece
    }
  }
  try {
    const file = await readLogPieces(pieces(), () => onProgress(Math.min(1, taken() / Math.max(1, size))))
    const is = kindOfFile(head)
    // Some of what is no log looks like a table of one odd column.
    if (is !== null && noLog.has(is)) throw new CoreError('file-of-other-kind', 'file', { is, wanted: 'log' })
    return file
  } catch (error) {
    throw misplaced(error, head, 'log')
  }
}

/** A log as it is kept, packed piece by piece. */
export const packSource = async (source: LogSource): Promise<Uint8Array> => {
  if ('packed' in source) return source.packed
  const { stream } = await opened(source)
  const packed: Buffer[] = []
  const gathered = new Writable({
    write: (chunk: Buffer, _encoding, done) => {
      packed.push(chunk)
      done()
    },
  })
  await pipeline(stream, createGzip(), gathered)
  return Buffer.concat(packed)
}
