import { CoreError } from '../errors/errors.ts'
import { logColumns } from '../log/channels.ts'
import type { Log } from '../log/log.ts'
import type { ReceivedFix, ReceiverLine } from '../log/received-fix.ts'
import { growingColumns } from './growing-columns.ts'
import { tidyLog } from './tidy-log.ts'

/** Gathers positions into a log; channels that no position has are left out. `what`: the file, for messages. */
export const fixColumns = (what: string) => {
  const grown = growingColumns(logColumns.length)
  return {
    add: (fix: ReceivedFix): void => {
      const at = grown.addRow()
      for (let k = 0; k < logColumns.length; k++) grown.block[k][at] = fix[logColumns[k]] ?? Number.NaN
    },
    /** @throws CoreError 'file-empty', and as `tidyLog` */
    end: (): Log => {
      if (grown.rows() === 0) throw new CoreError('file-empty', 'file', { what })
      const columns = grown.end()
      const entries = logColumns.map((name, k) => [name, name === 'ele_m' ? columns[k].map((z) => z || 0) : columns[k]] as const)
      return tidyLog(Object.fromEntries(entries.filter(([, values]) => values.some(Number.isFinite))) as Log, { row: 1, fromFirst: true })
    },
  }
}

/** Reads positions out of a file that has one in a line, given in pieces that end anywhere. */
export const lineReader = (what: string, read: (line: string) => ReceiverLine) => {
  const fixes = fixColumns(what)
  let rest = ''
  let found = 0
  let withoutFix = 0
  const line = (text: string): void => {
    const answer = read(text)
    if (answer.kind === 'part') withoutFix++
    if (answer.kind !== 'fix') return
    fixes.add(answer.fix)
    found++
  }
  return {
    take: (piece: string): void => {
      const lines = (rest + piece).split('\n')
      rest = lines.pop() ?? ''
      for (const text of lines) line(text)
    },
    end: (): Log => {
      if (rest !== '') line(rest)
      if (found === 0 && withoutFix > 0) throw new CoreError('log-no-fix', 'file', { sentences: withoutFix })
      return fixes.end()
    },
  }
}
