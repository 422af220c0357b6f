import { Box, Button, Stack, Typography } from '@mui/material'
import { type CheckRow, type ConeState, checkList, cornerName } from '@ochote/core'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { ConesTabs } from './cones-tabs.tsx'
import { reportsOf } from './reports.ts'

const stateWords: Record<ConeState, string> = {
  laid: 'laid',
  standing: 'stands',
  'knocked-over': 'knocked over',
  moved: 'moved',
  missing: 'gone',
}
const asked: readonly ConeState[] = ['standing', 'knocked-over', 'moved', 'missing']

/** After a session: every cone looked at again, the likeliest to stand wrong first. */
export const CheckPage = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const set = useConeSet(plan, settings, useNumbers(plan))
  const { events, waiting, tell } = useDayEvents(day?.id ?? '')
  if (!plan || !set) return <ProblemNote error={error} />
  const rows = checkList(set.cones, reportsOf(events))
  const wrong = rows.filter((r) => isWrong(r))
  const numberOf = (coneId: string): number => set.sheet.find((r) => r.cone.id === coneId)?.number ?? 0
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="h1">Cones</Typography>
        <ConesTabs />
        <Typography role="status" color="text.secondary">
          {`${wrong.length === 0 ? 'none reported out of place' : `${wrong.length} to reset`}${waiting > 0 ? ` · ${waiting} saved here, not sent yet` : ''}`}
        </Typography>
      </Stack>
      {!day && <Typography>Make a day first: what is found is kept with it.</Typography>}
      <Typography variant="body2">Order: reported wrong today, wrong before, then apexes and exits, where cones are hit most.</Typography>
      <Box component="ol" aria-label="Cones to look at" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {rows.map((row) => {
          const name = cornerName(plan.corners, row.cone.cornerId, 'pit lane')
          return (
            <Stack
              key={row.cone.id}
              component="li"
              direction="row"
              useFlexGap
              spacing={1}
              sx={{ alignItems: 'center', minHeight: 72, borderBottom: '1px solid', borderColor: 'divider', py: 0.5 }}
            >
              <Box className="figures" sx={{ width: 34, textAlign: 'right', fontSize: 20 }}>
                {numberOf(row.cone.id)}
              </Box>
              <ConeGlyph colour={row.cone.colour} shape={row.cone.shape} size={30} />
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box sx={{ fontSize: 18, fontWeight: 600 }}>{`${coneNames[row.cone.kind]}, ${name}, ${row.cone.roadSide}`}</Box>
                <Box sx={{ fontSize: 14, color: isWrong(row) ? 'warning.main' : 'text.secondary', fontWeight: isWrong(row) ? 650 : 400 }}>
                  {historyInWords(row)}
                </Box>
              </Box>
              {isWrong(row) ? (
                <Button
                  variant="contained"
                  disabled={!day}
                  sx={{ minHeight: 64, fontSize: 18, minWidth: 240 }}
                  onClick={() => tell({ kind: 'cone-report', coneId: row.cone.id, state: 'laid', error_m: null })}
                >
                  Reset
                </Button>
              ) : (
                asked.map((state) => (
                  <Button
                    key={state}
                    variant="outlined"
                    disabled={!day}
                    aria-label={`No. ${numberOf(row.cone.id)} ${stateWords[state]}`}
                    sx={{ minHeight: 64, fontSize: 15, minWidth: 86, px: 0.75, lineHeight: 1.1 }}
                    onClick={() => tell({ kind: 'cone-report', coneId: row.cone.id, state, error_m: null })}
                  >
                    {stateWords[state]}
                  </Button>
                ))
              )}
            </Stack>
          )
        })}
      </Box>
    </Stack>
  )
}

const isWrong = ({ last }: CheckRow): boolean => last !== null && last.state !== 'laid' && last.state !== 'standing'

const historyInWords = ({ last, wrong }: CheckRow): string =>
  `${last ? `${stateWords[last.state]} at ${last.at.slice(11, 16)}` : 'not laid or looked at yet'}${wrong > 0 ? ` · out of place ${wrong} ${wrong === 1 ? 'time' : 'times'}` : ''}`
