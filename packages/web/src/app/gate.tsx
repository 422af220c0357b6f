import { Box, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { Outlet } from 'react-router'
import { ProblemNote } from '../shared/problem-note.tsx'
import { sessionQuery } from './queries.ts'
import { SignIn } from './sign-in.tsx'

/** Lets signed-in people through and shows everybody else the way in. */
export const Gate = () => {
  const session = useQuery(sessionQuery)
  if (session.data?.account) return <Outlet />
  if (session.data) return <SignIn state={session.data} />
  return <Box sx={{ p: 4 }}>{session.error ? <ProblemNote error={session.error} /> : <Typography role="status">Loading …</Typography>}</Box>
}
