import { CoreError } from '../errors/errors.ts'
import type { Log } from '../log/log.ts'
import { readJsonLine } from './json-lines.ts'
import { fixColumns, lineReader } from './log-fixes.ts'
import { gpxFixes } from './log-gpx.ts'
import { type LogTable, tableReader } from './log-table.ts'
import { nmeaReader } from './nmea.ts'

/** Kinds of log file. */
export const logForms = ['table', 'gpx', 'nmea', 'json-lines'] as const
export type LogForm = (typeof logForms)[number]

/** Contents of a log file: columns that still have to be mapped, or a log. */
export type LogFile = { form: 'table'; table: LogTable } | { form: Exclude<LogForm, 'table'>; log: Log }

/** Reads a file that is given in pieces. */
type Reader<T> = { take: (piece: string) => void; end: () => T }

/** Size of the pieces of text; the first one shows a file's form and header. */
const PIECE = 1 << 18

/** The form of a log file, by its first characters. */
export const logFormOf = (text: string): LogForm => {
  const start = text.slice(0, 400).trimStart()
  if (start.startsWith('<')) return 'gpx'
  if (start.startsWith('{')) return 'json-lines'
  return /^[$!][A-Z]{2,}/.test(start) ? 'nmea' : 'table'
}

/** XML is read as a whole: its tree is only known at its end. */
const gpxReader = (): Reader<Log> => {
  const pieces: string[] = []
  return {
    take: (piece) => pieces.push(piece),
    end: () => {
      const fixes = fixColumns('GPX log')
      for (const fix of gpxFixes(pieces.join(''))) fixes.add(fix)
      return fixes.end()
    },
  }
}

const nmeaLines = (): Reader<Log> => {
  const read = nmeaReader()
  return lineReader('NMEA log', (line) => read(line, 0))
}

/** Kinds of XML that people take for logs, and what is wrong with them; null for others. */
const otherXml = (start: string): string | null => {
  const root = start.slice(0, 4000)
  if (/<kml[\s>]/.test(root)) return 'it is KML, which draws a way and has no times; save the log as GPX or as a table'
  if (/<TrainingCenterDatabase[\s>]/.test(root)) return 'it is TCX, which is not read; save the log as GPX or as a table'
  return null
}

/** A reader for the form that a file begins with. @throws CoreError for what is no text */
const readerFor = (start: string): Reader<LogFile> => {
  if (start.startsWith('PK'))
    throw new CoreError('file-unreadable', 'file', { expected: 'log', why: 'it is a packed archive; unpack it first' })
  if (start.slice(0, 4000).includes('\u0000'))
    throw new CoreError('file-unreadable', 'file', { expected: 'log', why: 'it holds binary data' })
  const other = otherXml(start)
  if (other) throw new CoreError('file-unreadable', 'file', { expected: 'log', why: other })
  const form = logFormOf(start)
  if (form === 'table') {
    const { take, end } = tableReader(start)
    return { take, end: () => ({ form, table: end() }) }
  }
  const { take, end } = form === 'gpx' ? gpxReader() : form === 'nmea' ? nmeaLines() : lineReader('log of JSON lines', readJsonLine)
  return { take, end: () => ({ form, log: end() }) }
}

/**
 * Reads a log file of any form in pieces that may end anywhere: what is in memory are the columns and one piece (a GPX file
 * is kept whole until its end). Cost linear in the file.
 * @throws CoreError from `take` or `end` for files that cannot be read, as soon as that is known
 */
const logReader = (): Reader<LogFile> => {
  let start = ''
  let reader: Reader<LogFile> | null = null
  const begin = (): Reader<LogFile> => {
    const text = start.replace(/^\ufeff/, '')
    start = ''
    const begun = readerFor(text)
    begun.take(text)
    return begun
  }
  return {
    take: (piece) => {
      if (reader) reader.take(piece)
      else {
        start += piece
        if (start.length >= PIECE) reader = begin()
      }
    },
    end: () => {
      reader ??= begin()
      return reader.end()
    },
  }
}

/** Reads a log file out of a text. @throws CoreError as {@link logReader} */
export const readLogText = (text: string): LogFile => {
  const reader = logReader()
  for (let at = 0; at < text.length; at += PIECE) reader.take(text.slice(at, at + PIECE))
  return reader.end()
}

/**
 * Reads a log file out of a stream of text.
 * @param onTaken called back after each piece with the characters read so far
 * @throws CoreError as {@link logReader}; the stream's own errors pass through
 */
export const readLogPieces = async (pieces: AsyncIterable<string>, onTaken?: (characters: number) => void): Promise<LogFile> => {
  const reader = logReader()
  let characters = 0
  for await (const piece of pieces) {
    reader.take(piece)
    characters += piece.length
    onTaken?.(characters)
  }
  return reader.end()
}
