import type { StudentRecord } from '@ochote/contract'
import { writeRows } from '@ochote/core'

const number = (value: number | null | undefined, digits: number): number | string =>
  value === null || value === undefined ? '' : Number(value.toFixed(digits))

/** A student's record as a table: a row a pass, with what was seen there and how far its marks lay from the plan's. */
export const recordCsv = ({ runs, passes, seen }: Pick<StudentRecord, 'runs' | 'passes' | 'seen'>): string =>
  writeRows(
    [
      'run',
      'date',
      'circuit',
      'surface',
      'pace',
      'lap',
      'corner',
      'watched',
      'mistakes',
      'worth_s',
      'brake_later_m',
      'turn_in_later_m',
      'apex_further_m',
      'slowest_quicker_mps',
    ],
    passes.map((p) => [
      p.run,
      p.date,
      p.circuitId,
      runs[p.run - 1]?.settings.surface ?? '',
      p.pace,
      p.lap,
      p.cornerId,
      p.watched,
      p.codes.join(' '),
      number(
        seen
          .filter((s) => s.run === p.run && s.lap === p.lap && s.cornerId === p.cornerId && s.worth_s !== undefined)
          .reduce<number | null>((sum, s) => (sum ?? 0) + (s.worth_s ?? 0), null),
        3,
      ),
      number(p.off?.brake_m, 1),
      number(p.off?.turnIn_m, 1),
      number(p.off?.apexInner_m, 2),
      number(p.off?.slowest_mps, 2),
    ]),
  )
