import { Box } from '@mui/material'
import type { ComponentType } from 'react'
import { DayProvider } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { Reading } from '../../shared/reading.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { type TrackDay, useTrackDay } from './use-track-day.ts'

const Waiting = ({ of: Screen }: { of: ComponentType<{ track: TrackDay }> }) => {
  const { track, error } = useTrackDay()
  if (track) return <Screen track={track} />
  return (
    <Box component="main" sx={{ p: 5 }}>
      <Reading what={say`Reading the day …`} frame="lap" error={error} />
    </Box>
  )
}

/** A screen of its own, outside the shell, for the running day. */
export const onTrack = (Screen: ComponentType<{ track: TrackDay }>) => () => (
  <DayProvider>
    <LapSelectionProvider>
      <Waiting of={Screen} />
    </LapSelectionProvider>
  </DayProvider>
)

/** The same within the shell, which knows the day already. */
export const inShell = (Screen: ComponentType<{ track: TrackDay }>) => () => <Waiting of={Screen} />
