import Papa from 'papaparse'
import { CoreError } from '../errors.ts'

/** How the cells of a column are written: plain numbers, times of day, or moments with a date. */
type CellKind = 'number' | 'clock' | 'date'

/** One column of a log file: its header as written, the header without its unit, and its values; `values` has a NaN for each empty cell; clocks and dates are seconds (of the day, or since 1970). */
export type LogColumn = { name: string; label: string; unit: string | null; kind: CellKind; values: Float64Array }

/** A log file as columns of equal length. `firstRow`: the number of its first data row, counted from 1. */
export type LogTable = { columns: LogColumn[]; rows: number; firstRow: number }

/** More rows than this are not one day's log. */
const MOST_ROWS = 1_500_000
/** Lines looked at to find header, separator and decimals. */
const LOOK_LINES = 60
/** Least share of the cells looked at that are numbers where data begin. */
const DATA_SHARE = 0.6
const NUMBER = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$/
const CLOCK = /^(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?$/
const DATE = /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}/

const clean = (cell: string | undefined): string => (cell ?? '').trim().replace(/^"|"$/g, '')

/** Which separator parts the lines into the most even rows. */
const separatorOf = (lines: readonly string[]): string => {
  let best = { separator: ',', score: 0 }
  for (const separator of [';', '\t', ',', '|']) {
    const counts = lines.map((line) => line.split(separator).length)
    const usual = counts.sort((a, b) => a - b)[counts.length >> 1] ?? 1
    const even = counts.filter((c) => c === usual).length / Math.max(1, counts.length)
    // Commas in decimals make many cells too: a semicolon or tab that parts evenly goes before.
    if (usual > 1 && even * (separator === ',' ? 1 : 1.5) * Math.min(usual, 4) > best.score)
      best = { separator, score: even * (separator === ',' ? 1 : 1.5) * Math.min(usual, 4) }
  }
  return best.separator
}

const kindOf = (cell: string): CellKind | null =>
  NUMBER.test(cell) ? 'number' : CLOCK.test(cell) ? 'clock' : DATE.test(cell) ? 'date' : null

const isData = (cells: readonly string[]): boolean => {
  const filled = cells.filter((c) => c !== '')
  return filled.length > 1 && filled.filter((c) => kindOf(c) !== null).length >= DATA_SHARE * filled.length
}

/** A unit in brackets at a header's end, or after its last underscore or space. */
const splitUnit = (header: string): { name: string; unit: string | null } => {
  const bracket = /^(.*?)\s*[([{]\s*([^)\]}]*)\s*[)\]}]\s*$/.exec(header)
  if (bracket) return { name: bracket[1] || header, unit: bracket[2] || null }
  const tail = /^(.+)[_ ](mps|kmh|kph|mph|kn|deg|rad|pct|bar|psi|kpa|ms|s|sec|m|ft|g)$/i.exec(header)
  return tail ? { name: tail[1], unit: tail[2] } : { name: header, unit: null }
}

/** Seconds of a time of day; NaN where it is none. Two parts are minutes and seconds where the second has decimals. */
const clockSeconds = (cell: string): number => {
  const match = /^(?:(\d{1,2}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)$/.exec(cell)
  return match ? Number(match[1] ?? 0) * 3600 + Number(match[2]) * 60 + Number(match[3].replace(',', '.')) : Number.NaN
}

/** Reads a cell of a kind; NaN where it is empty or something else. */
const cellValue = (cell: string, kind: CellKind): number => {
  if (cell === '') return Number.NaN
  if (kind === 'clock') return clockSeconds(cell)
  if (kind === 'date') return Date.parse(/[zZ]|[+-]\d{2}:?\d{2}$/.test(cell) ? cell.replace(' ', 'T') : `${cell.replace(' ', 'T')}Z`) / 1000
  const value = Number(cell)
  return Number.isNaN(value) ? Number(cell.replace(',', '.')) : value
}

/** The usual cell: a number with a point and nothing around it. */
const quickNumber = (cell: string | undefined): number | null => {
  if (!cell) return null
  const value = +cell
  return Number.isNaN(value) || cell.charCodeAt(0) <= 32 ? null : value
}

/**
 * Reads a log table of any header: lines of text may stand before it and a row of units after it; separators are commas,
 * semicolons, tabs or bars, decimals points or commas. Rows are read in pieces, so that only the columns stay in memory.
 * @throws CoreError 'file-unreadable', 'file-empty' or 'log-too-long'
 */
export const readLogTable = (text: string): LogTable => {
  if (text.startsWith('PK'))
    throw new CoreError('file-unreadable', 'file', { expected: 'log', why: 'it is a packed archive; unpack it first' })
  if (text.slice(0, 4000).includes('\u0000'))
    throw new CoreError('file-unreadable', 'file', { expected: 'log', why: 'it holds binary data' })
  const body = text.charCodeAt(0) === 0xfeff ? text.slice(1) : text
  if (body.trim() === '') throw new CoreError('file-empty', 'file', { what: 'log' })
  const lines: string[] = []
  for (let at = 0; at < body.length && lines.length < LOOK_LINES; ) {
    const end = body.indexOf('\n', at)
    lines.push(body.slice(at, end < 0 ? undefined : end).replace(/\r$/, ''))
    at = end < 0 ? body.length : end + 1
  }
  const separator = separatorOf(lines.slice(-30).filter((line) => line.trim() !== ''))
  const cells = lines.map((line) => line.split(separator).map(clean))
  const dataFrom = cells.findIndex(
    (row, i) => isData(row) && (cells[i + 1] === undefined || isData(cells[i + 1]) || i + 1 === lines.length),
  )
  if (dataFrom < 0)
    throw new CoreError('file-unreadable', 'file', { expected: 'log', why: 'no rows of numbers were found in its first lines' })
  const width = cells[dataFrom].length
  // A unit row is text of the same width right above the data, with the header above it.
  const above = (by: number): string[] | null => {
    const row = cells[dataFrom - by]
    return row && row.length >= width - 1 && !isData(row) && row.some((c) => c !== '') ? row : null
  }
  const [first, second] = [above(1), above(2)]
  const looksLikeUnits = first?.every((c) => c.length <= 8) && second?.every((c) => c === '' || !isUnit(c))
  const header = looksLikeUnits ? second : first
  if (!header)
    throw new CoreError('columns-missing', 'row 1', {
      missing: 'a header row',
      found: lines[0].slice(0, 120),
      needed: 'time, latitude, longitude',
    })
  const named = header.map((h) => splitUnit(h))
  const sample = cells.slice(dataFrom, dataFrom + 20)
  const kinds = named.map((_, k): CellKind => {
    const seen = sample.map((row) => kindOf(row[k] ?? '')).filter((kind) => kind !== null)
    return seen.sort((a, b) => seen.filter((x) => x === b).length - seen.filter((x) => x === a).length)[0] ?? 'number'
  })
  const { columns, rows } = readRows(lines, body, dataFrom, separator, kinds)
  if (rows === 0) throw new CoreError('file-empty', 'file', { what: 'log' })
  return {
    columns: named.map(({ name, unit }, k) => ({
      name: header[k],
      label: name.trim(),
      unit: (looksLikeUnits ? first?.[k] : null) || unit,
      kind: kinds[k],
      values: columns[k].subarray(0, rows),
    })),
    rows,
    firstRow: dataFrom + 1,
  }
}

const isUnit = (cell: string): boolean => /^(s|ms|sec|km\/h|kmh|kph|mph|m\/s|kn|deg|°|rad|%|bar|psi|kpa|m|ft|g|rpm|1\/min)$/i.test(cell)

const readRows = (
  lines: readonly string[],
  body: string,
  dataFrom: number,
  separator: string,
  kinds: readonly CellKind[],
): { columns: Float64Array[]; rows: number } => {
  let start = 0
  for (let i = 0; i < dataFrom; i++) start = body.indexOf('\n', start) + 1
  let capacity = Math.max(64, Math.ceil((body.length - start) / Math.max(8, lines[dataFrom].length)) + 16)
  let columns = kinds.map(() => new Float64Array(capacity))
  let rows = 0
  const config = {
    delimiter: separator,
    skipEmptyLines: true,
    chunkSize: 1 << 18,
    chunk: ({ data }: Papa.ParseResult<string[]>) => {
      for (const row of data) {
        if (rows >= MOST_ROWS) throw new CoreError('log-too-long', `row ${MOST_ROWS}`, { most: MOST_ROWS })
        if (rows === capacity) {
          capacity *= 2
          columns = columns.map((column) => {
            const longer = new Float64Array(capacity)
            longer.set(column)
            return longer
          })
        }
        if (row.length < 2) continue
        for (let k = 0; k < kinds.length; k++) columns[k][rows] = quickNumber(row[k]) ?? cellValue(clean(row[k]), kinds[k])
        rows++
      }
    },
  }
  // Text is read in pieces too, which the types do not know.
  Papa.parse<string[]>(start === 0 ? body : body.slice(start), config as Papa.ParseConfig<string[]>)
  return { columns, rows }
}
