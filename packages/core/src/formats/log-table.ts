import Papa from 'papaparse'
import { CoreError } from '../errors/errors.ts'
import { growingColumns } from './growing-columns.ts'
import { numberInCell } from './table.ts'

/** Kinds of cells of a column: plain numbers, times of day, or moments with a date. */
type CellKind = 'number' | 'clock' | 'date'

/** One column of a log file: its header as written, the header without its unit, and its values; `values` has a NaN for each empty cell; clocks and dates are seconds (of the day, or since 1970). */
export type LogColumn = { name: string; label: string; unit: string | null; kind: CellKind; values: Float64Array }

/** A log file as columns of equal length. `firstRow`: the number of its first data row, counted from 1; `cutRow`: the last row, left out because it ends in the middle. */
export type LogTable = { columns: LogColumn[]; rows: number; firstRow: number; cutRow?: number }

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
  return numberInCell(cell)
}

type Head = {
  columns: readonly Omit<LogColumn, 'values'>[]
  separator: string
  newline: '\n' | '\r\n'
  /** Rows, and characters, before the first row of data. */
  dataFrom: number
  dataAt: number
}

/** Layout of a table as its first lines show it. @throws CoreError 'file-unreadable', 'file-empty' or 'columns-missing' */
const headOf = (start: string): Head => {
  if (start.trim() === '') throw new CoreError('file-empty', 'file', { what: 'log' })
  const lines = start.split('\n', LOOK_LINES)
  if (lines.at(-1) === '') lines.pop()
  const newline = lines[0].endsWith('\r') ? '\r\n' : '\n'
  const rows = lines.map((line) => line.replace(/\r$/, ''))
  const separator = separatorOf(rows.slice(-30).filter((line) => line.trim() !== ''))
  const parser = new Papa.Parser({ delimiter: separator })
  const cells = rows.map((line) => ((parser.parse(line, 0, false) as Papa.ParseResult<string[]>).data[0] ?? ['']).map(clean))
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
      found: rows[0].slice(0, 120),
      needed: 'time, latitude, longitude',
    })
  const sample = cells.slice(dataFrom, dataFrom + 20)
  const kindAt = (k: number): CellKind => {
    const seen = sample.map((row) => kindOf(row[k] ?? '')).filter((kind) => kind !== null)
    return seen.sort((a, b) => seen.filter((x) => x === b).length - seen.filter((x) => x === a).length)[0] ?? 'number'
  }
  return {
    columns: header.map((text, k) => {
      const { name, unit } = splitUnit(text)
      return { name: text, label: name.trim(), unit: (looksLikeUnits ? first?.[k] : null) || unit, kind: kindAt(k) }
    }),
    separator,
    newline,
    dataFrom,
    dataAt: lines.slice(0, dataFrom).reduce((sum, line) => sum + line.length + 1, 0),
  }
}

/** Maximum length of a row (characters): a longer one is a quote that was never closed. */
const LONGEST_ROW = 1 << 20

const unclosed = (row: number): CoreError =>
  new CoreError('file-unreadable', `row ${row}`, {
    expected: 'log',
    why: 'a row has no end; look for a quotation mark that is not closed',
  })

/**
 * Reads a log table of any header, given in pieces that end anywhere: lines of text may stand before the header and a row of
 * units after it; separators are commas, semicolons, tabs or bars, decimals points or commas.
 * @param start the file's beginning, which is given again as the first piece
 * @throws CoreError 'file-unreadable', 'file-empty', 'columns-missing' or 'log-too-long'
 */
export const tableReader = (start: string): { take: (piece: string) => void; end: () => LogTable } => {
  const { columns, separator, newline, dataFrom, dataAt } = headOf(start)
  const kinds = columns.map((c) => c.kind)
  const grown = growingColumns(columns.length)
  const parser = new Papa.Parser({ delimiter: separator, newline })
  let rest = ''
  let skip = dataAt
  let cutRow: number | undefined
  let usual: readonly string[] = []
  const read = (text: string, last: boolean): void => {
    const { data, meta, errors } = parser.parse(text, 0, !last) as Papa.ParseResult<string[]>
    const open = errors.find((e) => e.code === 'MissingQuotes')
    if (open) throw unclosed(dataFrom + grown.rows() + (open.row ?? 0) + 1)
    data.forEach((row, i) => {
      if (row.length < 2) return
      if (last && i === data.length - 1 && text.at(-1) !== '\n' && isCutOff(row, usual)) {
        cutRow = dataFrom + grown.rows() + 1
        return
      }
      usual = row
      const at = grown.addRow()
      for (let k = 0; k < kinds.length; k++) grown.block[k][at] = cellNumber(row[k], kinds[k])
    })
    rest = last ? '' : text.slice(meta.cursor)
    if (rest.length > LONGEST_ROW) throw unclosed(dataFrom + grown.rows() + 1)
  }
  return {
    take: (piece) => {
      // The header was read already; pieces go on where data begin.
      const data = skip > 0 ? piece.slice(skip) : piece
      skip = Math.max(0, skip - piece.length)
      read(rest + data, false)
    },
    end: () => {
      read(rest, true)
      const rows = grown.rows()
      if (rows === 0) throw new CoreError('file-empty', 'file', { what: 'log' })
      const values = grown.end()
      return {
        columns: columns.map((column, k) => ({ ...column, values: values[k] })),
        rows,
        firstRow: dataFrom + 1,
        ...(cutRow === undefined ? {} : { cutRow }),
      }
    },
  }
}

/** True if a file's last row ends in the middle: cells are missing, or its last number has lost decimals that the row before has. */
const isCutOff = (row: readonly string[], before: readonly string[]): boolean => {
  if (row.length !== before.length) return row.length < before.length
  const decimals = (cell: string): number => /[.,](\d*)\s*$/.exec(cell)?.[1].length ?? 0
  const last = row.length - 1
  return decimals(before[last]) > decimals(row[last]) && decimals(before[last]) > 1
}

const TENS = Array.from({ length: 16 }, (_, k) => 10 ** k)

/**
 * A cell as a number. Most are a few digits with a point, which give the nearest number by one exact division (Clinger 1990);
 * the rest is left to the language.
 */
const cellNumber = (cell: string | undefined, kind: CellKind): number => {
  if (!cell || cell.length > 15) return cellValue(clean(cell), kind)
  let digits = 0
  let point = -1
  const first = cell.charCodeAt(0) === 45 ? 1 : 0
  for (let i = first; i < cell.length; i++) {
    const digit = cell.charCodeAt(i) - 48
    if (digit >= 0 && digit <= 9) digits = 10 * digits + digit
    else if (digit === -2 && point < 0) point = i
    else return cellValue(clean(cell), kind)
  }
  if (cell.length - first - (point < 0 ? 0 : 1) === 0) return cellValue(clean(cell), kind)
  const size = point < 0 ? digits : digits / TENS[cell.length - 1 - point]
  return first === 1 ? -size : size
}

const isUnit = (cell: string): boolean => /^(s|ms|sec|km\/h|kmh|kph|mph|m\/s|kn|deg|°|rad|%|bar|psi|kpa|m|ft|g|rpm|1\/min)$/i.test(cell)
