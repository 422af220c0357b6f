import { CoreError } from '../errors/errors.ts'

/** More rows than this are not one day's log. */
const MAX_ROWS = 1_500_000
/** Rows of a block: columns grow by blocks, so that nothing is copied before their length is known. */
const BLOCK = 1 << 14

/** Columns of equal length that grow by rows. Write a row by `block[k][addRow()]`; `block` is the part that the row lies in. */
export const growingColumns = (count: number) => {
  const full: Float64Array[][] = Array.from({ length: count }, () => [])
  const fresh = (): Float64Array => new Float64Array(BLOCK)
  const block: Float64Array[] = Array.from({ length: count }, fresh)
  let rows = 0
  return {
    block,
    /** Adds a row and gives its place in the block. @throws CoreError 'log-too-long' */
    addRow: (): number => {
      if (rows >= MAX_ROWS) throw new CoreError('log-too-long', `row ${MAX_ROWS}`, { most: MAX_ROWS })
      const at = rows++ % BLOCK
      if (at === 0 && rows > 1)
        for (let k = 0; k < count; k++) {
          full[k].push(block[k])
          block[k] = fresh()
        }
      return at
    },
    rows: (): number => rows,
    /** The columns, each as long as there are rows. Nothing can be added afterwards. */
    end: (): Float64Array[] =>
      full.map((blocks, k) => {
        const column = new Float64Array(rows)
        blocks.forEach((part, b) => {
          column.set(part, b * BLOCK)
        })
        const rest = rows - blocks.length * BLOCK
        column.set(block[k].subarray(0, rest), rows - rest)
        blocks.length = 0
        return column
      }),
  }
}
