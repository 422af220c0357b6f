import { Box, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Outlet, useLocation } from 'react-router'
import { sessionQuery } from '../data/api/queries.ts'
import { say } from '../language/say.ts'
import { ProblemNote } from '../shared/problem-note.tsx'
import { SignIn } from './sign-in.tsx'

/** The account that was signed in last on this device; forgotten at sign-out. */
const LAST = 'ochote.account'
/** Forgets who was signed in here. */
export const forgetAccount = (): void => localStorage.removeItem(LAST)

/** Sends what waits on this device from an earlier page or visit; the queues load after the page. */
const sendWhatWaits = async (): Promise<void> => {
  const [{ runQueue }, { dayQueue }] = await Promise.all([
    import('../data/events/run-queue.ts'),
    import('../data/events/use-day-events.ts'),
  ])
  await Promise.all([runQueue.sendWaiting(), dayQueue.sendWaiting()])
}

/**
 * Lets signed-in people through and shows everybody else the sign-in page. A run in progress stays open to whoever was signed
 * in on this device, even when the server has forgotten them: what they log is saved here until they sign in again.
 */
export const RequireSignIn = () => {
  const session = useQuery(sessionQuery)
  const { pathname } = useLocation()
  const account = session.data?.account
  useEffect(() => {
    if (!account) return
    localStorage.setItem(LAST, account.id)
    void sendWhatWaits()
  }, [account])
  const onTrack = /^\/run\/./.test(pathname) && localStorage.getItem(LAST) !== null
  if (account || onTrack) return <Outlet />
  if (session.data) return <SignIn state={session.data} />
  return (
    <Box sx={{ p: 6 }}>
      {session.error ? <ProblemNote error={session.error} /> : <Typography role="status">{say`Loading …`}</Typography>}
    </Box>
  )
}
