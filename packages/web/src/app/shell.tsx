import { Alert, Box, Button, Stack, Typography } from '@mui/material'
import { api, VERSION } from '@ochote/contract'
import { useIsMutating, useMutation, useQuery } from '@tanstack/react-query'
import { memo, useEffect } from 'react'
import { Link, NavLink, Outlet, useLocation } from 'react-router'
import { call } from '../data/api/api-client.ts'
import { queryClient, schoolSettingsQuery, sessionQuery } from '../data/api/queries.ts'
import { DayProvider, Following, useDay } from '../data/day/day-context.tsx'
import type { StageName } from '../data/day/day-states.ts'
import { useDayStates } from '../data/day/use-day-states.ts'
import { leaveDevice } from '../data/events/leave-device.ts'
import { forgetAnswers } from '../data/events/stored-answers.ts'
import { WRITE_SETTINGS } from '../data/school/use-school-settings.ts'
import { keepStaffLanguage, say } from '../language/say.ts'
import { keepStaffUnits } from '../language/staff-units.ts'
import { chosenLook } from '../look/chosen.ts'
import { useThemeChoice } from '../look/theme-choice.tsx'
import { LostFields } from '../shared/lost-fields.tsx'
import { ProblemNote } from '../shared/problem-note.tsx'
import { LapSelectionProvider } from '../shared/selection/lap-selection.tsx'
import { ServerNote } from '../shared/server-note.tsx'
import { ContextBar } from './context-bar.tsx'
import { FirstSteps } from './first-steps.tsx'
import { takeNewerVersion, useNewerVersion } from './newer-version.ts'
import { forgetAccount, sendWhatWaits } from './require-sign-in.tsx'
import { SearchAndKeys } from './search.tsx'
import { Tour } from './tour.tsx'

/** The stages in the order of the day. */
const stages = [
  { path: '/circuit', name: say`Circuit`, task: say`learn it` },
  { path: '/cones', name: say`Cones`, task: say`lay them out` },
  { path: '/day', name: say`Day`, task: say`who, when` },
  { path: '/brief', name: say`Brief`, task: say`tell them` },
  { path: '/run', name: say`Run`, task: say`coach` },
  { path: '/debrief', name: say`Debrief`, task: say`look back` },
  { path: '/record', name: say`Record`, task: say`keep it` },
] as const

const Rail = () => {
  const session = useQuery(sessionQuery)
  const { dark, setDark } = useThemeChoice()
  const states = useDayStates()
  const newer = useNewerVersion()
  const signOut = useMutation({
    mutationFn: async () => {
      const state = session.data
      // What waits is sent first where it can be; the rest is sealed once the server has let this device go.
      await sendWhatWaits().catch(() => {})
      const left = await call(api.signOut)
      if (state?.account && state.sealKey) await leaveDevice({ ...state.account, sealKey: state.sealKey })
      return left
    },
    onSuccess: async (state) => {
      forgetAccount()
      await forgetAnswers()
      queryClient.setQueryData(sessionQuery.queryKey, state)
      queryClient.removeQueries({ predicate: (query) => query.queryKey[0] !== sessionQuery.queryKey[0] })
    },
  })
  return (
    <Stack
      component="nav"
      aria-label={say`Stages of the day`}
      sx={{
        width: { xs: 1, sm: 112 },
        flex: 'none',
        flexDirection: { xs: 'row', sm: 'column' },
        flexWrap: { xs: 'wrap', sm: 'nowrap' },
        alignItems: { xs: 'center', sm: 'stretch' },
        borderRight: { xs: 0, sm: 'hair' },
        borderBottom: { xs: 'hair', sm: 0 },
        borderColor: { xs: 'divider', sm: 'divider' },
        minHeight: { sm: '100dvh' },
        position: { sm: 'sticky' },
        top: 0,
        alignSelf: { sm: 'flex-start' },
        '@media print': { display: 'none' },
      }}
    >
      <Typography
        component="div"
        sx={{ px: 3, pt: 3, pb: 2, fontWeight: 760, fontStretch: '112%', fontSize: 'size.head', letterSpacing: '-0.02em' }}
      >
        ochote
      </Typography>
      <SearchAndKeys />
      {stages.map(({ path, name, task }, i) => {
        const state = states[path.slice(1) as StageName]
        return (
          <Box key={path} sx={{ '&:has(> .active)': chosenLook('left'), '&:hover': { backgroundColor: 'var(--verge)' } }}>
            <Box
              component={NavLink}
              to={path}
              sx={{ display: 'block', px: 3, pt: 2, pb: { xs: 2, sm: state ? 0 : 2 }, color: 'text.primary', textDecoration: 'none' }}
            >
              <Box component="span" sx={{ display: 'block', fontWeight: 620, fontStretch: '90%' }}>
                {name}
              </Box>
              {!state && (
                <Box component="span" sx={{ display: { xs: 'none', sm: 'block' }, fontSize: 'size.note', color: 'text.secondary' }}>
                  {`${i + 1} · ${task}`}
                </Box>
              )}
            </Box>
            {state && (
              <Box
                component={Link}
                to={state.to}
                sx={{
                  display: { xs: 'none', sm: 'block' },
                  px: 3,
                  pb: 2,
                  fontSize: 'size.note',
                  textDecoration: 'none',
                  color: state.asks ? 'warning.main' : 'text.secondary',
                  fontWeight: state.asks ? 640 : 400,
                  '&:hover': { textDecoration: 'underline' },
                }}
              >
                {state.words}
              </Box>
            )}
          </Box>
        )
      })}
      <Box
        component={NavLink}
        to="/school"
        sx={{
          px: 3,
          py: 2,
          mt: { xs: 0, sm: 2 },
          color: 'text.primary',
          textDecoration: 'none',
          borderTop: { xs: 0, sm: 'hair' },
          borderColor: { xs: 'divider', sm: 'divider' },
          '&:hover': { backgroundColor: 'var(--verge)' },
          '&.active': chosenLook('left'),
        }}
      >
        <Box component="span" sx={{ display: 'block', fontWeight: 620, fontStretch: '90%' }}>
          {say`School`}
        </Box>
        <Box component="span" sx={{ display: { xs: 'none', sm: 'block' }, fontSize: 'size.note', color: 'text.secondary' }}>
          {say`people, cars`}
        </Box>
      </Box>
      <Box sx={{ flex: 1 }} />
      <Stack useFlexGap spacing={1} sx={{ p: 3, flexDirection: { xs: 'row', sm: 'column' }, flexWrap: 'wrap', columnGap: 3 }}>
        {newer && (
          <Button size="small" variant="contained" onClick={takeNewerVersion}>
            {say`Update to the new version`}
          </Button>
        )}
        <Button
          size="small"
          variant="text"
          color="secondary"
          sx={{ justifyContent: 'flex-start', p: 0, minWidth: 0 }}
          onClick={() => setDark(!dark)}
        >
          {dark ? say`Light` : say`Dark`}
        </Button>
        <Box component={Link} to="/guide" sx={{ fontSize: 'size.note', color: 'text.primary' }}>
          {say`Guide`}
        </Box>
        <Typography variant="text" color="text.secondary" sx={{ fontSize: 'size.note' }}>
          {session.data?.account?.name}
        </Typography>
        <Button
          size="small"
          variant="text"
          color="secondary"
          sx={{ justifyContent: 'flex-start', p: 0, minWidth: 0 }}
          onClick={() => signOut.mutate()}
        >
          {say`Sign out`}
        </Button>
        <Typography variant="text" color="text.secondary" sx={{ fontSize: 'size.note' }}>
          {`Version ${VERSION}`}
        </Typography>
      </Stack>
    </Stack>
  )
}

/** When these pages were loaded (ms since 1970). */
const STARTED = Date.now()

/** Takes the school's units and language over for this device; pages that show others are read anew. */
const useStaffOfSchool = (): void => {
  const settings = useQuery({ ...schoolSettingsQuery, refetchOnMount: 'always' })
  // What this device kept from an earlier visit may be older than the choice.
  const fresh = settings.dataUpdatedAt >= STARTED
  const staff = fresh ? settings.data?.schoolSettings.staff : undefined
  // A choice that is still being sent would be lost with the page.
  const writing = useIsMutating({ mutationKey: WRITE_SETTINGS }) > 0
  useEffect(() => {
    if (!staff || writing) return
    const changed = [keepStaffUnits(staff.units), keepStaffLanguage(staff.language)]
    if (changed.includes(true)) window.location.reload()
  }, [staff, writing])
}

const Stage = memo(() => {
  useStaffOfSchool()
  const { settings, loading, error, waiting, lost, forgetLost } = useDay()
  const { pathname } = useLocation()
  const worksWithoutPlan = [
    '/record',
    '/debrief/',
    '/school',
    '/guide',
    '/circuit/new',
    '/circuit/all',
    '/circuit/vehicles',
    '/day/all',
  ].some((path) => pathname.startsWith(path))
  return (
    <Box component="main" id="page" tabIndex={-1} sx={{ p: 4, outline: 0 }}>
      <ServerNote />
      {error && <ProblemNote error={error} />}
      {waiting && (
        <Alert severity="warning" icon={false} role="status" sx={{ mb: 3 }}>
          {say`Not saved yet: the server cannot be reached. It is tried again every few seconds; keep this page open until this line is gone.`}
        </Alert>
      )}
      <LostFields lost={lost} onSeen={forgetLost} />
      {settings && <Tour />}
      {worksWithoutPlan ? (
        <Outlet />
      ) : loading ? (
        <Typography role="status">{say`Loading …`}</Typography>
      ) : settings ? (
        <Outlet />
      ) : (
        <FirstSteps />
      )}
    </Box>
  )
})

/** Past the rail and the settings to the page itself; seen once it has the focus. */
const SkipLink = () => (
  <Box
    component="a"
    href="#page"
    sx={{
      position: 'absolute',
      left: 0,
      top: 0,
      zIndex: 10,
      p: 3,
      backgroundColor: 'background.paper',
      color: 'text.primary',
      transform: 'translateY(-200%)',
      '&:focus': { transform: 'none' },
    }}
  >
    {say`Skip to the page`}
  </Box>
)

/** Rail, context bar and the stage. */
export const Shell = () => (
  <DayProvider>
    <LapSelectionProvider>
      <SkipLink />
      <Stack direction={{ xs: 'column', sm: 'row' }}>
        <Rail />
        <Box sx={{ flex: 1, minWidth: 0, width: { xs: 1, sm: 'auto' } }}>
          <ContextBar />
          <Following>
            <Stage />
          </Following>
        </Box>
      </Stack>
    </LapSelectionProvider>
  </DayProvider>
)
