import { Box, Stack, Typography } from '@mui/material'
import {
  intensities,
  type LapStep,
  paceCeiling,
  paceSteps,
  readySteps,
  type StepProgramme,
  type Surface,
  stepProgrammes,
} from '@ochote/core'
import { say } from '../../language/say.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { paceName, talkWords } from './run-words.ts'

const programmeNames: Record<StepProgramme, string> = {
  gift: say`Gift drive: pushed harder each lap`,
  'first-timer': say`First-timer: ever fewer words`,
  regular: say`Regular: guided, then quiet`,
}

/** The laps between the out lap and the way in, as they are asked for. */
type AskedLaps = { sighting: number; warmUp: number; coached: number; timed: number; coolDown: number }

/** A pace with its name where it has one. */
const paceInWords = (pace: number): string => {
  const name = paceName(pace)
  const share = `${Math.round(100 * pace)} %`
  return name === pace.toFixed(2) ? share : `${name} ${share}`
}

/** A programme as one line: “sighting · every action 60 % · … · cool-down”. */
const programmeInWords = ({ sighting, warmUp, coolDown }: AskedLaps, steps: readonly LapStep[], pace: number): string =>
  [
    ...(sighting > 0 ? [say`sighting`] : []),
    ...(warmUp > 0 ? [say`warm-up`] : []),
    ...steps.map((step) => `${talkWords[step.talk]} ${Math.round(100 * (step.pace ?? pace))} %`),
    ...(coolDown > 0 ? [say`cool-down`] : []),
  ].join(' · ')

type Props = {
  laps: AskedLaps
  /** Pace of the plan, and the surface, which sets the fastest one. */
  pace: number
  surface: Surface
  steps: readonly LapStep[] | null
  onSteps: (steps: LapStep[] | null) => void
}

/** How each coached and timed lap is driven: a ready-made programme, and any lap of it changed by hand. */
export const LapByLap = ({ laps, pace, surface, steps, onSteps }: Props) => {
  const count = laps.coached + laps.timed
  const put = (at: number, change: Partial<LapStep>): void => {
    if (steps) onSteps(steps.map((step, k) => (k === at ? { ...step, ...change } : step)))
  }
  const paces = [...new Set([...paceSteps, ...(steps ?? []).flatMap((s) => s.pace ?? [])])]
    .filter((p) => p <= paceCeiling(surface) + 1e-9)
    .sort((a, b) => a - b)
  return (
    <Stack spacing={2} component="section" aria-label={say`Lap by lap`}>
      <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography sx={{ width: 200, flex: 'none' }}>{say`Programme`}</Typography>
        <PickField
          label={say`Programme`}
          hideLabel
          value={steps ? 'own' : 'none'}
          options={[
            ['none', say`one pace, the student’s talk`] as const,
            ...(steps ? [['own', say`lap by lap, below`] as const] : []),
            ...stepProgrammes.map((kind) => [kind, programmeNames[kind]] as const),
          ]}
          onPick={(kind) => {
            if (kind === 'none') onSteps(null)
            else if (kind !== 'own') onSteps(readySteps(kind, count, pace))
          }}
          width={330}
        />
      </Stack>
      {steps && (
        <Box component="details">
          <Box component="summary" sx={{ cursor: 'pointer', minHeight: 'var(--row)', display: 'list-item' }}>
            {programmeInWords(laps, steps, pace)}
          </Box>
          <Stack spacing={1} sx={{ pt: 2 }}>
            {steps.map((step, k) => {
              const name = say`Lap ${k + 1}`
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: a lap is its number
                <Stack key={k} direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
                  <Box sx={{ width: 70, fontWeight: 600 }}>{name}</Box>
                  <PickField
                    label={say`Pace of ${name}`}
                    hideLabel
                    value={step.pace === null ? 'plan' : String(step.pace)}
                    options={[
                      ['plan', say`the plan’s, ${paceInWords(pace)}`] as const,
                      ...paces.map((p) => [String(p), paceInWords(p)] as const),
                    ]}
                    onPick={(p) => put(k, { pace: p === 'plan' ? null : Number(p) })}
                    width={190}
                  />
                  <PickField
                    label={say`Talk on ${name}`}
                    hideLabel
                    value={step.talk}
                    options={intensities.map((i) => [i, talkWords[i]] as const)}
                    onPick={(talk) => put(k, { talk })}
                    width={150}
                  />
                </Stack>
              )
            })}
          </Stack>
        </Box>
      )}
    </Stack>
  )
}

/** Steps for another number of laps: those that there are, and the last one again for the rest. */
export const stepsFor = (steps: readonly LapStep[] | null, count: number): LapStep[] | null =>
  steps && Array.from({ length: count }, (_, k) => steps[Math.min(k, steps.length - 1)])
