import { Box, Stack, Typography } from '@mui/material'
import { type LaidExercise, layExercise, type Pad, padColours } from '@ochote/core'
import { useNavigate } from 'react-router'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { ExerciseDrawing, PadGround } from '../../shared/pad/pad-drawing.tsx'
import { coneRoleWords, sentencesOf, targetInWords } from '../../shared/pad/pad-words.ts'
import { PrintButtons } from '../../shared/print-buttons.tsx'
import { PrintHead } from '../../shared/print-head.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'

const Sheet = ({ pad, laid }: { pad: Pad; laid: LaidExercise }) => {
  const { exercise, target, cones, runOff_m, reaction } = laid
  return (
    <Box component="article" aria-label={exercise.name} sx={{ breakAfter: 'page', pb: 4 }}>
      <PrintHead />
      <Typography variant="title">{exercise.name}</Typography>
      <Typography sx={{ fontWeight: 640 }}>{targetInWords(exercise, target)}</Typography>
      <Typography>{say`Keep ${metres(runOff_m)} free all round. Both base lines meet in the lower left corner of the drawing.`}</Typography>
      <PadGround pad={pad} label={say`${exercise.name} on the pad, to scale`}>
        {(pixel) => <ExerciseDrawing laid={laid} chosen={false} wrong={false} pixel={pixel} />}
      </PadGround>
      <Box
        component="table"
        aria-label={say`Cones of ${exercise.name}`}
        sx={{
          borderCollapse: 'collapse',
          width: 1,
          '& th, & td': { textAlign: 'left', borderBottom: 'hair', borderColor: 'divider', pr: 4 },
        }}
      >
        <thead>
          <tr>
            {[say`Cone`, say`For`, say`Colour`, say`Along the first line`, say`Along the second line`].map((name) => (
              <th key={name}>{name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {cones.map((cone, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a cone is its number
            <tr key={k}>
              <td className="figures">{k + 1}</td>
              <td>{coneRoleWords[cone.role]}</td>
              <td>{staffWords.colours[padColours[cone.role]]}</td>
              <td className="figures">{fineMetres(cone.x_m)}</td>
              <td className="figures">{fineMetres(cone.y_m)}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {reaction && (
        <Typography>{say`The open circle is where the reaction to the signal ends: ${fineMetres(reaction.x_m)} along, ${fineMetres(reaction.y_m)} across.`}</Typography>
      )}
      <Box component="ul" sx={{ m: 0, mt: 2, pl: 5 }}>
        {sentencesOf(exercise).map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </Box>
      <Caution />
    </Box>
  )
}

const Sheets = () => {
  const { day, settings, error } = useDay()
  const { plan } = usePlan(settings)
  const navigate = useNavigate()
  if (!day || !plan) return error ? <ProblemNote error={error} /> : <Reading what={say`Reading the day …`} />
  const { pad } = day.plan
  return (
    <Stack component="main" spacing={3} sx={{ width: '182mm', mx: 'auto', my: 4, '@media print': { my: 0 } }}>
      <PrintButtons back={say`Back to the pad`} onBack={() => navigate('/day/pad')} />
      {pad.exercises.length === 0 && <Typography>{say`Nothing on the pad yet.`}</Typography>}
      {pad.exercises.map((exercise) => (
        <Sheet key={exercise.id} pad={pad} laid={layExercise(exercise, plan.vehicle)} />
      ))}
    </Stack>
  )
}

/** A sheet for each exercise of the pad, A4: drawing to scale, cones from two base lines, target and sentences. */
export const PadSheets = () => (
  <DayProvider>
    <Sheets />
  </DayProvider>
)
