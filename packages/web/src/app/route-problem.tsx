import { Box, Button } from '@mui/material'
import { useRouteError } from 'react-router'
import { say } from '../language/say.ts'
import { ProblemNote } from '../shared/problem-note.tsx'

/** A page that failed: what is saved, and how to go on. */
export const RouteProblem = () => (
  <Box sx={{ p: 6, maxWidth: 640 }}>
    <ProblemNote error={useRouteError()} />
    <Button variant="contained" sx={{ mt: 4 }} onClick={() => window.location.reload()}>
      {say`Reload`}
    </Button>
  </Box>
)
