import { Box, Stack } from '@mui/material'
import { cornerName, type DayEvent, distanceAhead, type FlagUp, flagsUp, markOf, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { FlagSign } from '../../shared/flag-sign.tsx'

/** A flag as one car, or the first of a row, meets it: how far ahead of it its corner lies (m); null where it is for everywhere, or the car's place is not known. */
export type FlagAhead = { flag: FlagUp; ahead_m: number | null }

/** A flag nearer behind than this is where the car is now (m). */
const HERE_M = 60
/** A flag further ahead than this share of the lap lies behind. */
const AHEAD_SHARE = 0.75

/** Flags that concern a run, or a row of them, the one that comes next first; those for everywhere, and for one car alone, before all others. */
export const flagsFor = (
  events: readonly DayEvent[],
  runIds: readonly string[],
  plan: Pick<Plan, 'circuit' | 'corners' | 'marks'>,
  station_m: number | null,
): FlagAhead[] => {
  const { length_m } = plan.circuit
  return flagsUp(events)
    .filter((flag) => !flag.runId || runIds.includes(flag.runId))
    .map((flag): FlagAhead => {
      const corner = plan.corners.find((c) => c.id === flag.cornerId)
      if (!corner || station_m === null) return { flag, ahead_m: null }
      const apex_m = markOf(plan.marks, corner.id, 'apex')?.station_m ?? corner.peak_m
      return { flag, ahead_m: distanceAhead(station_m, apex_m, length_m) }
    })
    .sort((a, b) => (a.ahead_m ?? -1) - (b.ahead_m ?? -1))
}

const placeInWords = ({ flag, ahead_m }: FlagAhead, plan: Pick<Plan, 'circuit' | 'corners'>): string => {
  const own = flag.runId ? say`this car` : null
  if (!flag.cornerId) return own ?? say`everywhere`
  const name = cornerName(plan.corners, flag.cornerId)
  const { length_m } = plan.circuit
  const where =
    ahead_m === null
      ? say`at ${name}`
      : length_m - ahead_m < HERE_M
        ? say`here, ${name}`
        : ahead_m > AHEAD_SHARE * length_m
          ? say`behind you, ${name}`
          : say`${name}, in ${metres(10 * Math.round(ahead_m / 10))}`
  return own ? `${own} · ${where}` : where
}

/** Flags that are shown just now, large, until they are taken down. Takes no room where there is none. */
export const FlagsInCar = ({
  flags,
  plan,
  meanings,
}: {
  flags: readonly FlagAhead[]
  plan: Pick<Plan, 'circuit' | 'corners'>
  meanings: ReadonlyMap<string, string>
}) => {
  const [first, ...others] = flags
  if (!first) return null
  return (
    <Stack
      role="alert"
      aria-label={say`Flag`}
      direction="row"
      spacing={4}
      sx={{ alignItems: 'center', px: 4, py: 2, border: 'strong', borderColor: 'error.main', backgroundColor: 'var(--sheet)' }}
    >
      <FlagSign name={first.flag.flag} height={64} />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ fontSize: 'size.head', fontWeight: 760, fontStretch: '84%', lineHeight: 1.05 }}>
          {`${first.flag.flag}: ${placeInWords(first, plan)}`}
        </Box>
        <Box sx={{ fontSize: 'size.note' }}>
          {[meanings.get(first.flag.flag), ...others.map((o) => `${o.flag.flag}: ${placeInWords(o, plan)}`)].filter(Boolean).join(' · ')}
        </Box>
      </Box>
    </Stack>
  )
}

/** What each flag of a day means. */
export const meaningsOf = (flags: readonly { name: string; meaning: string }[] | undefined): ReadonlyMap<string, string> =>
  new Map(flags?.map((f) => [f.name, f.meaning]))
