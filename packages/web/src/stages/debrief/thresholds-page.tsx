import { Button, Stack, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import { type OwnThreshold, type OwnThresholds, ownThresholds, thresholdRange, thresholds } from '@ochote/core'
import { useState } from 'react'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { inside, say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

/** Description of each threshold, completed by its value. */
const measured: Record<OwnThreshold, string> = {
  brakeEarly_m: say`on the brake, or off the throttle, earlier than the reference by more than`,
  brakeEarly_s: say`and by more than this time at its speed`,
  brakeLate_m: say`on the brake, or off the throttle, later than the reference, at a speed that takes grace, by more than`,
  brakeLate_s: say`and by more than this time at its speed`,
  softPeak: say`hardest braking below this share of the reference’s`,
  build_s: say`from the first touch to the hardest braking more than`,
  overSlowed: say`slowest point slower than the reference’s by more than`,
  hold_s: say`brake released later than the reference by more than`,
  dump_s: say`brake goes from 60% to zero at turn-in in less than`,
  inTurn_s: say`still firmly on the brake after turn-in for more than`,
  noTrail_s: say`brake released before turn-in, where it should fade after it, by more than`,
  coast_s: say`neither brake nor throttle for more than`,
  setupNarrow_m: say`further from the outer edge at turn-in than the reference by more than`,
  turnIn_m: say`turn-in earlier or later than the reference’s by more than`,
  turnIn_s: say`and by more than this time at its speed`,
  apexPlace_m: say`apex earlier or later than the reference’s by more than`,
  apexPlace: say`and by more than this share of the corner’s length`,
  apexMissed_m: say`further from the inner edge at the apex than the reference by more than`,
  exitUnused_m: say`more road left at the exit than the reference leaves, at part throttle, by`,
  exitWide_m: say`less road left at the exit than`,
  tooMuchRoad_m: say`wider before the corner than the compact line by more than`,
  bite: say`wheel opened and turned in again by more than this share of its peak`,
  pinch: say`after the apex more steering than the reference by more than`,
  pinch_s: say`and that for more than`,
  throttleEarly_s: say`first throttle, then a dip, earlier than the reference’s by more than`,
  throttleLate_s: say`first throttle later than the reference’s by more than`,
  dip: say`throttle closed again by more than this share of its travel`,
  jab_s: say`throttle opened from 20 to 80% in less than`,
  fullLate_m: say`full throttle later than the reference’s, though the first touch came in time, by more than`,
  fullLate_s: say`and by more than this time at its speed`,
  short_s: say`less than full throttle, where the reference has full and at a cost, for more than`,
  shift_s: say`in another gear than the reference around its gear change for more than`,
  shiftSlow_s: say`pause between two downshifts of one zone longer than the reference’s, at a cost, by more than`,
  slowest_m: say`slowest point elsewhere than the reference’s, at a cost, by more than`,
  slowest_s: say`and by more than this time at its speed`,
  overPace: say`faster through the slowest point than the plan by more than`,
}

/** Thresholds that say a second thing about the mistake above them. */
const second: ReadonlySet<OwnThreshold> = new Set(['brakeEarly_s', 'brakeLate_s', 'turnIn_s', 'apexPlace', 'fullLate_s', 'slowest_s'])

/** A threshold as it is shown: its unit, and how many of that are one of its own. */
const unitOf = (name: OwnThreshold): { unit: string; times: number; digits: number } =>
  name.endsWith('_m')
    ? { unit: lengthUnit, times: lengthOf(1), digits: 2 }
    : name.endsWith('_s')
      ? { unit: 's', times: 1, digits: 2 }
      : { unit: '%', times: 100, digits: 1 }

/** A value in its unit; no more digits than it has. */
const shown = (name: OwnThreshold, value: number): string => {
  const { times, digits } = unitOf(name)
  return String(Number((value * times).toFixed(digits)))
}

/** The mistakes that a threshold is about. */
const calledIn = (name: OwnThreshold): string =>
  ownThresholds[name]
    .map((code) => mistakeName(code))
    .map((words, i) => (i === 0 ? words : inside(words)))
    .join(', ')

const names = Object.keys(ownThresholds) as OwnThreshold[]

/** Thresholds of this school: each with what it measures, its own value and the usual one. */
export const ThresholdsPage = () => {
  const { schoolSettings, save, error } = useSchoolSettings()
  const thresholds = schoolSettings.thresholds
  const changed = names.filter((name) => thresholds[name] !== undefined).length
  const set = (name: OwnThreshold, value: number | null): void => {
    const { [name]: _, ...rest } = thresholds
    save({ thresholds: value === null ? rest : { ...rest, [name]: value } })
  }
  return (
    <Stack spacing={3} sx={{ maxWidth: 1040 }}>
      <StageHead stage="Debrief">
        <Button size="small" variant="outlined" disabled={changed === 0} onClick={() => save({ thresholds: {} })}>
          {say`Reset all`}
        </Button>
      </StageHead>
      <ProblemNote error={error} />
      <Typography>
        {say`For logs and for suggestions while a car runs, of everybody in this school. The reference is the plan at the student’s pace and braking style, or the lap it is compared with. The log’s noise is added to each value. Lower values find more, including more that is chance.`}
      </Typography>
      <Typography color="text.secondary">
        {say`Logs that were judged already stay as they are; their debrief says so and judges them again when asked.`}
      </Typography>
      <RowTable aria-label={say`Thresholds`} sx={{ '& .MuiTableCell-root': { py: 1 } }}>
        <TableHead>
          <TableRow>
            <TableCell sx={{ width: 210 }}>{say`Mistake`}</TableCell>
            <TableCell>{say`Counts when`}</TableCell>
            <TableCell sx={{ width: 150 }}>{say`Here`}</TableCell>
            <TableCell sx={{ width: 170 }}>{say`Default`}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {names.map((name) => (
            <Threshold key={name} name={name} own={thresholds} onSet={(value) => set(name, value)} />
          ))}
        </TableBody>
      </RowTable>
    </Stack>
  )
}

const Threshold = ({ name, own, onSet }: { name: OwnThreshold; own: OwnThresholds; onSet: (value: number | null) => void }) => {
  const { unit, times } = unitOf(name)
  const [min, max] = thresholdRange(name).map((value) => shown(name, value))
  const [wrong, setWrong] = useState(false)
  const value = own[name]
  const called = calledIn(name)
  const goesOn = second.has(name)
  const take = (text: string): void => {
    const given = Number(text.replace(',', '.'))
    const fits = text.trim() !== '' && given >= Number(min) && given <= Number(max)
    setWrong(!fits)
    if (fits) onSet(given === Number(shown(name, thresholds[name])) ? null : given / times)
  }
  return (
    <TableRow>
      <TableCell sx={{ fontWeight: 600 }}>{goesOn ? '' : called}</TableCell>
      <TableCell>{measured[name]}</TableCell>
      <TableCell>
        <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
          <TextField
            key={value ?? 'usual'}
            defaultValue={shown(name, value ?? thresholds[name])}
            error={wrong}
            helperText={wrong ? say`${min} to ${max}` : ''}
            slotProps={{ htmlInput: { inputMode: 'decimal', 'aria-label': `${called}: ${measured[name]}, in ${unit}` } }}
            onBlur={(event) => take(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') take((event.target as HTMLInputElement).value)
            }}
            sx={{ width: 80, '& input': { fontWeight: value === undefined ? 400 : 700 } }}
          />
          <span>{unit}</span>
        </Stack>
      </TableCell>
      <TableCell className="figures">
        {`${shown(name, thresholds[name])}${unit === '%' ? unit : ` ${unit}`}`}
        {value !== undefined && (
          <Button size="small" variant="text" aria-label={say`${called}: reset`} onClick={() => onSet(null)}>
            {say`reset`}
          </Button>
        )}
      </TableCell>
    </TableRow>
  )
}
