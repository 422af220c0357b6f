import { Box, Typography } from '@mui/material'
import type { StudentRecord } from '@ochote/contract'
import { padStandings } from '@ochote/core'
import { say } from '../../language/say.ts'
import { standingInWords } from '../../shared/pad/pad-words.ts'

/** What a student's attempts on the pad came to, drill by drill. */
export const PadTries = ({ tries }: { tries: StudentRecord['pad'] }) => (
  <Box component="section" aria-label={say`On the pad`}>
    <Typography variant="head" component="h3" gutterBottom>
      {say`On the pad`}
    </Typography>
    {tries.length === 0 && <Typography variant="text">{say`No attempt yet.`}</Typography>}
    {padStandings(tries).map((one) => (
      <Typography key={one.drill} variant="text">
        {standingInWords(one)}
      </Typography>
    ))}
  </Box>
)
