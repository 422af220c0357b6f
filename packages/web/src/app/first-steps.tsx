import { Box, Button, Stack, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { circuitsQuery, daysQuery, studentsQuery, vehiclesQuery } from '../data/api/queries.ts'
import { say } from '../language/say.ts'

/** First steps of an empty school, in order; each with the button that does it. */
export const FirstSteps = () => {
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const students = useQuery(studentsQuery)
  const days = useQuery(daysQuery)
  const has = (list: readonly unknown[] | undefined): boolean => (list?.length ?? 0) > 0
  const steps = [
    {
      done: has(circuits.data),
      title: say`A circuit`,
      does: say`Read a circuit`,
      to: '/circuit/new',
      why: say`From a file (one lap as GPX is enough), from driven laps, or drawn over a picture. You look at it before it is kept.`,
    },
    {
      done: has(vehicles.data),
      title: say`A vehicle`,
      does: say`Choose a vehicle`,
      to: '/circuit/vehicles',
      why: say`Start from a typical one; every number of it can be changed later. With these two the line, the marks and the cones are there.`,
    },
    {
      done: has(students.data),
      title: say`Students`,
      does: say`Add students`,
      to: '/school',
      why: say`One by one, or pasted from a spreadsheet. Instructors and cars are beside them.`,
    },
    {
      done: has(days.data),
      title: say`A day`,
      does: say`Make a day`,
      to: '/day/all',
      why: say`Its date, who is there, who drives when and in what.`,
    },
  ]
  const next = steps.find((step) => !step.done)
  return (
    <Box sx={{ maxWidth: 960 }}>
      <Typography variant="title" gutterBottom>
        {say`First steps`}
      </Typography>
      <Typography sx={{ mb: 5 }}>{say`From nothing to a cone plan in a few minutes; nothing has to be typed but names.`}</Typography>
      <Stack spacing={4} component="ol" sx={{ pl: 0, listStyle: 'none' }}>
        {steps.map((step, i) => (
          <Box component="li" key={step.title} sx={{ borderTop: 'chosen', borderColor: step.done ? 'divider' : 'text.primary', pt: 3 }}>
            <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
              <Box sx={{ flex: '1 1 320px' }}>
                <Typography variant="head" component="h2">{`${i + 1} ${step.title}${step.done ? say`: done` : ''}`}</Typography>
                <Typography variant="text" color="text.secondary">
                  {step.why}
                </Typography>
              </Box>
              <Button component={Link} to={step.to} variant={step === next ? 'contained' : 'outlined'}>
                {step.done ? say`Open` : step.does}
              </Button>
            </Stack>
          </Box>
        ))}
      </Stack>
    </Box>
  )
}
