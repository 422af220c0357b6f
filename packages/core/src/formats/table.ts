import Papa from 'papaparse'
import { CoreError } from '../errors/errors.ts'

/** A table of text cells with a header row; `lines[i]`: line of the file in which `rows[i]` stands, from 1. */
export type Table = { header: string[]; rows: string[][]; lines: number[] }

/** A line that is a comment. */
const comment = /^\s*(#|\/\/|%|;(?![\d.;-]))\s?/

/** A number in a cell of a table, which may have a decimal comma; NaN for anything else. */
export const numberInCell = (cell: string): number => {
  if (cell === '') return Number.NaN
  const value = Number(cell)
  return Number.isNaN(value) ? Number(cell.replace(',', '.')) : value
}

/**
 * Reads delimited text (comma, semicolon or tab, guessed) with a header row, which may stand in the last comment above the data.
 * @param what what the file should be, for the message
 * @throws CoreError 'file-unreadable' or 'file-empty'
 */
export const readTable = (text: string, what: string): Table => {
  if (text.includes('\u0000')) throw new CoreError('file-unreadable', 'file', { expected: what, why: 'it holds binary data' })
  const body = text.startsWith('\ufeff') ? text.slice(1) : text
  if (body.trim() === '') throw new CoreError('file-empty', 'file', { what })
  const all = body.split(/\r\n|\r|\n/)
  const told = all.map((text, i) => ({ text, line: i + 1 })).filter(({ text }) => text.trim() !== '' && !comment.test(text))
  const isData = ({ text }: { text: string }): boolean => /^\s*"?[-+]?[\d.]/.test(text)
  // A header that is written as a comment is one all the same.
  const above = told[0] && isData(told[0]) ? all.slice(0, told[0].line - 1).findLast((text) => comment.test(text)) : undefined
  const rows = above === undefined ? told : [{ text: above.replace(comment, ''), line: 0 }, ...told]
  const { data } = Papa.parse<string[]>(rows.map(({ text }) => text).join('\n'), { delimitersToGuess: [';', '\t', ','] })
  const header = (data[0] ?? []).map((h) => h.trim())
  return { header, rows: data.slice(1), lines: rows.slice(1).map(({ line }) => line) }
}

/**
 * Numeric columns by name out of a table; capitals, blanks and a unit in brackets make no difference.
 * @param required columns that must be there with a finite number in every row, each with the names it may have
 * @param optional columns that are read where present; an empty cell becomes NaN
 * @throws CoreError 'columns-missing', 'file-empty' or 'number-invalid'
 */
export const numericColumns = <R extends string, O extends string>(
  table: Table,
  what: string,
  required: Readonly<Record<R, readonly string[]>>,
  optional: Readonly<Record<O, readonly string[]>>,
): Record<R, Float64Array> & Partial<Record<O, Float64Array>> => {
  const header = table.header.map(plainName)
  const placeOf = (names: readonly string[]): number => header.findIndex((name) => names.includes(name))
  const missing = (Object.keys(required) as R[]).filter((name) => placeOf(required[name]) < 0)
  if (missing.length > 0)
    throw new CoreError('columns-missing', 'row 1', {
      missing: missing.join(', '),
      found: table.header.slice(0, 12).join(', ').slice(0, 200),
      needed: Object.keys(required).join(', '),
    })
  if (table.rows.length === 0) throw new CoreError('file-empty', 'file', { what })
  const out: Record<string, Float64Array> = {}
  for (const [name, names] of [...Object.entries(required), ...Object.entries(optional)] as [string, readonly string[]][]) {
    const at = placeOf(names)
    if (at < 0) continue
    const mayBeEmpty = !(name in required)
    const column = new Float64Array(table.rows.length)
    for (let i = 0; i < table.rows.length; i++) {
      const cell = (table.rows[i][at] ?? '').trim()
      const value = numberInCell(cell)
      if (!Number.isFinite(value) && !(mayBeEmpty && cell === ''))
        throw new CoreError('number-invalid', `row ${table.lines[i]}`, { value: cell.slice(0, 40), column: name, range: 'in every row' })
      column[i] = value
    }
    out[name] = column
  }
  return out as Record<R, Float64Array> & Partial<Record<O, Float64Array>>
}

/** A column's name without capitals, blanks and brackets: `X (m)` and `x_m` are the same. */
export const plainName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')

/** Writes columns as CSV with a header; numbers are rounded to the digits given for each column. */
export const writeColumns = (columns: readonly { name: string; values: ArrayLike<number>; digits: number }[]): string => {
  const lines = [columns.map((c) => c.name).join(',')]
  const n = columns[0]?.values.length ?? 0
  for (let i = 0; i < n; i++) lines.push(columns.map((c) => (Number.isFinite(c.values[i]) ? c.values[i].toFixed(c.digits) : '')).join(','))
  return `${lines.join('\n')}\n`
}

/** Cells that a spreadsheet takes for a formula; a minus begins one unless a number follows and nothing else. */
const FORMULA = /^(?:[=+@\t\r]|-(?!\d+(?:\.\d+)?(?:e[-+]?\d+)?$))/i

/** Writes rows of text and numbers as CSV; cells that a spreadsheet would run as a formula are quoted as text. */
export const writeRows = (header: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse({ fields: [...header], data: rows.map((r) => [...r]) }, { newline: '\n', escapeFormulae: FORMULA })}\n`
