import { Button, Stack, TableBody, TableCell, TableHead, TableRow } from '@mui/material'
import { type DaySetup, type DayTimetable, type Emphasis, missingIn, planFigures } from '@ochote/core'
import { useMemo } from 'react'
import { say } from '../../language/say.ts'
import { RowTable } from '../../shared/row-table.tsx'
import type { KeptPlan } from './use-day-search.ts'

/** What a search weighs more, as it is chosen. */
export const emphasisNames: Record<Emphasis, string> = {
  rules: say`as the rules say`,
  waiting: say`less waiting`,
  instructor: say`the same instructor`,
  load: say`even laps and loads`,
}

const range = ({ least, most }: { least: number; most: number }): string => (least === most ? String(least) : say`${least} to ${most}`)

/** What plans are compared by: one row each, in words and figures. */
const rowsOf = (setup: DaySetup, plan: DayTimetable): readonly (readonly [string, string])[] => {
  const figures = planFigures(setup, plan.sessions)
  return [
    [say`Left out`, String(missingIn(plan))],
    [say`Laps a student`, range(figures.laps)],
    [say`Waiting a student (min)`, String(Math.round(figures.waiting_min))],
    [say`Longest wait (min)`, String(figures.longestWait_min)],
    [say`Students with more than one instructor`, String(figures.otherInstructor)],
    [say`Sessions an instructor`, range(figures.sessions)],
    [say`Costs (min)`, String(Math.round(plan.cost))],
  ]
}

type Props = { setup: DaySetup; kept: readonly KeptPlan[]; onUse: (plan: DayTimetable) => void; onForget: (name: string) => void }

/** Plans that were kept, side by side: what each gives, and the button that takes it. */
export const PlansBeside = ({ setup, kept, onUse, onForget }: Props) => {
  const columns = useMemo(() => kept.map((k) => rowsOf(setup, k.plan)), [setup, kept])
  if (kept.length === 0) return null
  return (
    <RowTable aria-label={say`Plans side by side`} sx={{ '& .MuiTableCell-root': { px: 3, py: 1 }, width: 'auto' }}>
      <TableHead>
        <TableRow>
          <TableCell>{say`Plans side by side`}</TableCell>
          {kept.map((k) => (
            <TableCell key={k.name}>{say`Plan ${k.name}: ${emphasisNames[k.emphasis]}`}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {(columns[0] ?? []).map(([name], row) => (
          <TableRow key={name}>
            <TableCell sx={{ fontWeight: 600 }}>{name}</TableCell>
            {kept.map((k, column) => (
              <TableCell key={k.name} className="figures">
                {columns[column][row][1]}
              </TableCell>
            ))}
          </TableRow>
        ))}
        <TableRow>
          <TableCell />
          {kept.map((k) => (
            <TableCell key={k.name}>
              <Stack direction="row" spacing={2}>
                <Button size="small" variant="outlined" onClick={() => onUse(k.plan)}>
                  {say`Use plan ${k.name}`}
                </Button>
                <Button size="small" variant="text" onClick={() => onForget(k.name)}>
                  {say`Drop plan ${k.name}`}
                </Button>
              </Stack>
            </TableCell>
          ))}
        </TableRow>
      </TableBody>
    </RowTable>
  )
}
