import Papa from 'papaparse'
import { CoreError } from '../errors/errors.ts'

/** A table of text cells with a header row. */
export type Table = { header: string[]; rows: string[][] }

/**
 * Reads delimited text (comma, semicolon or tab, guessed) with a header row.
 * @param what what the file should be, for the message
 * @throws CoreError 'file-unreadable' or 'file-empty'
 */
export const readTable = (text: string, what: string): Table => {
  if (text.includes('\u0000')) throw new CoreError('file-unreadable', 'file', { expected: what, why: 'it holds binary data' })
  const body = text.startsWith('\ufeff') ? text.slice(1) : text
  if (body.trim() === '') throw new CoreError('file-empty', 'file', { what })
  const { data } = Papa.parse<string[]>(body, { skipEmptyLines: 'greedy', delimitersToGuess: [',', ';', '\t'] })
  const header = (data[0] ?? []).map((h) => h.trim())
  return { header, rows: data.slice(1) }
}

/**
 * Numeric columns by name out of a table. Row numbers in messages count the header as row 1.
 * @param required columns that must be there with a finite number in every row
 * @param optional columns that are read where present; an empty cell becomes NaN
 * @throws CoreError 'columns-missing', 'file-empty' or 'number-invalid'
 */
export const numericColumns = <R extends string, O extends string>(
  table: Table,
  what: string,
  required: readonly R[],
  optional: readonly O[],
): Record<R, Float64Array> & Partial<Record<O, Float64Array>> => {
  const missing = required.filter((name) => !table.header.includes(name))
  if (missing.length > 0)
    throw new CoreError('columns-missing', 'row 1', {
      missing: missing.join(', '),
      found: table.header.slice(0, 12).join(', ').slice(0, 200),
      needed: required.join(', '),
    })
  if (table.rows.length === 0) throw new CoreError('file-empty', 'file', { what })
  const out: Record<string, Float64Array> = {}
  for (const name of [...required, ...optional]) {
    const at = table.header.indexOf(name)
    if (at < 0) continue
    const mayBeEmpty = !(required as readonly string[]).includes(name)
    const column = new Float64Array(table.rows.length)
    for (let i = 0; i < table.rows.length; i++) {
      const cell = (table.rows[i][at] ?? '').trim()
      const value = cell === '' ? Number.NaN : Number(cell)
      if (!Number.isFinite(value) && !(mayBeEmpty && cell === ''))
        throw new CoreError('number-invalid', `row ${i + 2}`, { value: cell.slice(0, 40), column: name, range: 'in every row' })
      column[i] = value
    }
    out[name] = column
  }
  return out as Record<R, Float64Array> & Partial<Record<O, Float64Array>>
}

/** Writes columns as CSV with a header; numbers are rounded to the digits given for each column. */
export const writeColumns = (columns: readonly { name: string; values: ArrayLike<number>; digits: number }[]): string => {
  const lines = [columns.map((c) => c.name).join(',')]
  const n = columns[0]?.values.length ?? 0
  for (let i = 0; i < n; i++) lines.push(columns.map((c) => (Number.isFinite(c.values[i]) ? c.values[i].toFixed(c.digits) : '')).join(','))
  return `${lines.join('\n')}\n`
}

/** Writes rows of text and numbers as CSV; cells that a spreadsheet would run as a formula are quoted as text. */
export const writeRows = (header: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse({ fields: [...header], data: rows.map((r) => [...r]) }, { newline: '\n', escapeFormulae: /^[=+@\t\r]/ })}\n`
