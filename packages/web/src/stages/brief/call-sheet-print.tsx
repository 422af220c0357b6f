import { Box, Stack, Typography } from '@mui/material'
import { cornerName, formatDate, formatDistance, type Intensity, intensities } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate, useSearchParams } from 'react-router'
import { dayQuery, studentsQuery } from '../../data/api/queries.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { usePlan } from '../../data/plan/use-plan.ts'
import { inside, say, sayWhole, staffLanguage } from '../../language/say.ts'
import { staffUnits } from '../../language/staff-units.ts'
import { callNames } from '../../shared/calls/call-words.ts'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { type CalledKind, calledLaps, useCalledLap } from '../../shared/calls/use-called-lap.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { PrintButtons } from '../../shared/print-buttons.tsx'
import { PrintHead } from '../../shared/print-head.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { intensityWords } from './call-options.tsx'

const intensityOf = (text: string | null): Intensity => intensities.find((i) => i === text) ?? 'driven'

const Sheet = () => {
  const [search] = useSearchParams()
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const latest = useQuery({ ...dayQuery(day?.id ?? ''), enabled: day !== undefined })
  const students = useQuery(studentsQuery)
  const navigate = useNavigate()
  const studentId = search.get('student')
  const student = students.data?.find((s) => s.id === studentId)
  const intensity = intensityOf(search.get('talk'))
  const kind = calledLaps.find(([one]) => one === search.get('lap'))?.[0] ?? 'coached'
  const work = latest.data?.plan.calls ?? day?.plan.calls
  if (!plan || !settings || !work) return error ? <ProblemNote error={error} /> : <Reading what={say`Computing the calls …`} />
  return <Printed {...{ plan, settings, work, intensity, kind, studentId, student, onBack: () => navigate('/brief/calls') }} />
}

type PrintedProps = {
  plan: NonNullable<ReturnType<typeof usePlan>['plan']>
  settings: NonNullable<ReturnType<typeof useDay>['settings']>
  work: Parameters<typeof useCallSheet>[2]['work']
  intensity: Intensity
  kind: CalledKind
  studentId: string | null
  student: { name: string; units: 'metric' | 'imperial' } | undefined
  onBack: () => void
}

const Printed = ({ plan: planned, settings, work, intensity, kind, studentId, student, onBack }: PrintedProps) => {
  const { day } = useDay()
  const { plan, lap } = useCalledLap(planned, settings, kind)
  const state = useCallSheet(plan, settings, { work, intensity, studentId, lap })
  if (!plan || !state) return <Reading what={say`Computing the calls …`} />
  const units = student?.units ?? staffUnits
  return (
    <Stack component="main" spacing={3} sx={{ width: '182mm', mx: 'auto', my: 4, '@media print': { my: 0 } }}>
      <PrintButtons back={say`Back to the calls`} onBack={onBack} />
      <PrintHead />
      <Typography variant="title">{say`Call sheet, ${plan.circuit.name}`}</Typography>
      <Typography>
        {[
          day && formatDate(day.plan.date, staffLanguage),
          student?.name,
          plan.vehicle.name,
          surfaceInside(settings.surface),
          say`pace ${Math.round(plan.settings.pace * 100)}%`,
          calledLaps.find(([one]) => one === kind)?.[1],
          say`talk: ${inside(intensityWords[intensity])}`,
          sayWhole(state.book.name),
        ]
          .filter(Boolean)
          .join(' · ')}
      </Typography>
      <Box
        component="table"
        aria-label={say`Call sheet`}
        sx={{
          borderCollapse: 'collapse',
          width: 1,
          '& th, & td': { textAlign: 'left', borderBottom: 'hair', borderColor: 'divider', py: 1, pr: 4 },
        }}
      >
        <thead>
          <tr>
            {[say`Corner`, say`For`, say`Said`, say`At`, say`Before the mark`].map((name) => (
              <th key={name}>{name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {state.sheet.calls.map((call) => (
            <tr key={call.key}>
              <td style={{ fontWeight: 640 }}>{cornerName(plan.corners, call.cornerId)}</td>
              <td>{callNames[call.kind]}</td>
              <td>{`“${call.phrase}”`}</td>
              <td className="figures">{formatDistance(call.markStation_m, units)}</td>
              <td className="figures">{`${(call.mark_s - call.end_s).toFixed(1)} s`}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      <Caution />
    </Stack>
  )
}

/** The call sheet on paper, A4. */
export const CallSheetPrint = () => (
  <DayProvider>
    <Sheet />
  </DayProvider>
)
