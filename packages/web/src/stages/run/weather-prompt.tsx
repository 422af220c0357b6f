import { Alert, Button } from '@mui/material'
import type { DayEvent, PlanChoice, Surface } from '@ochote/core'
import { useDay } from '../../data/day/day-context.tsx'
import { inside, say } from '../../language/say.ts'
import { brakingWords, lineWords } from '../../shared/plan/line-words.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { wallClock } from './run-words.ts'
import type { TrackDay } from './use-track-day.ts'

type Weather = Extract<DayEvent, { kind: 'weather' }>

/** The surface that goes with what the weather station tells. */
const surfaceOf: Record<Weather['rain'], Surface> = { dry: 'dry', drizzle: 'damp', rain: 'wet', 'heavy-rain': 'standing' }
const rainWords: Record<Weather['rain'], string> = {
  dry: say`no rain`,
  drizzle: say`drizzle`,
  rain: say`rain`,
  'heavy-rain': say`heavy rain`,
}

/** The weather as it was told last, where it leaves another surface than this. */
const otherWeather = (events: readonly { kind: string }[], surface: Surface): Weather | null => {
  const weather = events.findLast((e): e is Weather => e.kind === 'weather')
  return weather && surfaceOf[weather.rain] !== surface ? weather : null
}

/** Advice for weather that the plan's surface does not fit, in a few words for the car; null where it fits. */
export const weatherInWords = (events: readonly { kind: string }[], surface: Surface): string | null => {
  const weather = otherWeather(events, surface)
  return weather && say`${rainWords[weather.rain]}${weather.simulated ? say` (simulated)` : ''}: this plan is for ${surfaceInside(surface)}`
}

/** Says in a car that the day was planned anew since the run began; null where it was not. */
export const newPlanInWords = (run: PlanChoice, day: PlanChoice | undefined): string | null => {
  if (!day) return null
  const told = [
    ...(run.surface === day.surface ? [] : [say`surface ${surfaceInside(day.surface)}, not ${surfaceInside(run.surface)}`]),
    ...(run.circuitId === day.circuitId ? [] : [say`another layout`]),
    ...(run.school === day.school
      ? []
      : [say`braking ${inside(brakingWords[day.school].name)}, not ${inside(brakingWords[run.school].name)}`]),
    ...(run.method === day.method ? [] : [say`the ${inside(lineWords[day.method ?? 'smoothest'].name)} line`]),
    ...(run.schemeId === day.schemeId ? [] : [say`other cones`]),
  ]
  return told.length === 0 ? null : say`The day’s plan has changed: ${told.join(', ')}`
}

/** Says that the plan on screen is for another surface than the one outside, and switches to the one that fits. */
export const WeatherPrompt = ({ track }: { track: TrackDay }) => {
  const { day, changeSettings } = useDay()
  const settings = day?.plan.settings
  const weather = settings && otherWeather(track.events, settings.surface)
  if (!weather || !settings) return null
  const surface = surfaceOf[weather.rain]
  return (
    <Alert
      severity="warning"
      action={
        <Button color="secondary" variant="outlined" onClick={() => changeSettings({ surface })}>
          {say`Switch to the ${surfaceInside(surface)} plan`}
        </Button>
      }
    >
      {say`${weather.simulated ? say`Simulated weather station` : say`Weather station`}, ${wallClock(weather.at, false)}: ${rainWords[weather.rain]}, ${Math.round(weather.air_C)} °C. The plan is for ${surfaceInside(settings.surface)}: marks, cones and calls are out of date. Look at the road before you decide.`}
    </Alert>
  )
}
