import { Box, Button, Stack, Typography } from '@mui/material'
import { type CheckRow, type ConeState, checkList, cornerName } from '@ochote/core'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { reportsOf } from './reports.ts'

const stateWords: Record<ConeState, string> = {
  laid: say`laid`,
  standing: say`stands`,
  'knocked-over': say`knocked over`,
  moved: say`moved`,
  missing: say`gone`,
}
const deviations: readonly ConeState[] = ['knocked-over', 'moved', 'missing']

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
    <Stack spacing={3}>
      <StageHead
        stage="Cones"
        facts={`${wrong.length === 0 ? say`none reported out of place` : say`${wrong.length} to reset`}${waiting > 0 ? say` · ${waiting} saved here, not sent yet` : ''}`}
      />
      {!day && <Typography>{say`Make a day first: what is found is kept with it.`}</Typography>}
      <Typography>{say`By corner, the one first where most was out of place. Log what is wrong, then “all others stand”.`}</Typography>
      <Box component="ol" aria-label={say`Cones to look at`} sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {[...new Set(rows.map((row) => row.cone.cornerId))].map((cornerId) => (
          <CornerCones
            key={cornerId}
            name={cornerName(plan.corners, cornerId, say`Pit lane`)}
            rows={rows.filter((row) => row.cone.cornerId === cornerId)}
            numberOf={numberOf}
            report={day ? (coneId, state) => tell({ kind: 'cone-report', coneId, state, error_m: null }) : null}
          />
        ))}
      </Box>
    </Stack>
  )
}

type CornerProps = {
  name: string
  rows: readonly CheckRow[]
  numberOf: (coneId: string) => number
  /** Keeps what was found; null without a day to keep it with. */
  report: ((coneId: string, state: ConeState) => void) | null
}

/** The cones of one corner: deviations one by one, all others with one touch. */
const CornerCones = ({ name, rows, numberOf, report }: CornerProps) => {
  const others = rows.filter((row) => !isWrong(row))
  return (
    <Box component="li" sx={{ mb: 5 }}>
      <Stack
        direction="row"
        spacing={3}
        sx={{
          position: 'sticky',
          top: 0,
          alignItems: 'center',
          backgroundColor: 'background.default',
          borderBottom: 'strong',
          py: 2,
          zIndex: 1,
        }}
      >
        <Typography variant="head" sx={{ flex: 1 }}>
          {name}
        </Typography>
        <Button
          variant="outlined"
          disabled={!report || others.length === 0}
          onClick={() => {
            for (const row of others) report?.(row.cone.id, 'standing')
          }}
        >
          {others.length < rows.length ? say`All others stand` : say`All stand`}
        </Button>
      </Stack>
      {rows.map((row) => (
        <Stack
          key={row.cone.id}
          direction="row"
          useFlexGap
          spacing={2}
          sx={{ alignItems: 'center', flexWrap: 'wrap', borderBottom: 'hair', borderColor: 'divider', py: 2 }}
        >
          <Box className="figures" sx={{ width: '2.5ch', textAlign: 'right', fontSize: 'size.head' }}>
            {numberOf(row.cone.id)}
          </Box>
          <ConeGlyph colour={row.cone.colour} shape={row.cone.shape} size={30} />
          <Box sx={{ flex: '1 1 160px', minWidth: 0 }}>
            <Box sx={{ fontWeight: 600 }}>{`${coneNames[row.cone.kind]}, ${staffWords.sides[row.cone.roadSide]}`}</Box>
            <Box
              sx={{ fontSize: 'size.note', color: isWrong(row) ? 'warning.main' : 'text.secondary', fontWeight: isWrong(row) ? 650 : 400 }}
            >
              {historyInWords(row)}
            </Box>
          </Box>
          {isWrong(row) ? (
            <Button variant="contained" disabled={!report} onClick={() => report?.(row.cone.id, 'laid')}>
              {say`Reset`}
            </Button>
          ) : (
            deviations.map((state) => (
              <Button
                key={state}
                variant="outlined"
                disabled={!report}
                aria-label={say`No. ${numberOf(row.cone.id)} ${stateWords[state]}`}
                sx={{ minWidth: 0, px: 3 }}
                onClick={() => report?.(row.cone.id, state)}
              >
                {stateWords[state]}
              </Button>
            ))
          )}
        </Stack>
      ))}
    </Box>
  )
}

const isWrong = ({ last }: CheckRow): boolean => last !== null && last.state !== 'laid' && last.state !== 'standing'

const historyInWords = ({ last, wrong }: CheckRow): string =>
  `${last ? say`${stateWords[last.state]} at ${last.at.slice(11, 16)}` : say`not laid or looked at yet`}${wrong > 0 ? say` · out of place ${wrong} ${wrong === 1 ? say`time` : say`times`}` : ''}`
