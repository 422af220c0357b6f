import { Box, Typography } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Navigate, Outlet, useLocation } from 'react-router'
import { sessionQuery } from '../data/api/queries.ts'
import { comeBack } from '../data/events/leave-device.ts'
import { forgetAnswers } from '../data/events/stored-answers.ts'
import { say } from '../language/say.ts'
import { ProblemNote } from '../shared/problem-note.tsx'
import { SignIn } from './sign-in.tsx'

/** The account that was signed in last on this device; forgotten at sign-out. */
const LAST = 'ochote.account'
/** Pages on which volunteers help; the others are for instructors. */
const volunteersPages = /^\/run\/(corner-post|pit-wall)/

/** Set while a volunteer is signed in here: once they are signed out nothing of the day stays. */
const HELPING = 'ochote.helping'

/** Forgets who was signed in here. */
export const forgetAccount = (): void => {
  localStorage.removeItem(LAST)
  localStorage.removeItem(HELPING)
}

/** Sends what waits on this device from an earlier page or visit; the queues load after the page. */
export const sendWhatWaits = async (): Promise<void> => {
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
  const sealKey = session.data?.sealKey
  const signedOut = session.data?.account === null
  useEffect(() => {
    if (!account) {
      // The desk has signed this phone out, or the day is over.
      if (signedOut && localStorage.getItem(HELPING)) void forgetAnswers().then(forgetAccount)
      return
    }
    localStorage.setItem(account.role === 'volunteer' ? HELPING : LAST, account.id)
    const begin = async (): Promise<void> => {
      if (sealKey) await comeBack({ id: account.id, sealKey })
      await sendWhatWaits()
    }
    void begin()
  }, [account, sealKey, signedOut])
  const onTrack = /^\/run\/./.test(pathname) && localStorage.getItem(LAST) !== null
  if (account?.role === 'volunteer' && !volunteersPages.test(pathname)) return <Navigate to="/run/corner-post" replace />
  if (account || onTrack) return <Outlet />
  if (session.data) return <SignIn state={session.data} />
  return (
    <Box sx={{ p: 6 }}>
      {session.error ? <ProblemNote error={session.error} /> : <Typography role="status">{say`Loading …`}</Typography>}
    </Box>
  )
}
