import { Alert, Box, Stack, Typography } from '@mui/material'
import { type CoreError, countLoad, type DaySetup, FULL_LOAD } from '@ochote/core'
import { useMemo } from 'react'
import { say } from '../../language/say.ts'
import { faultInWords } from './plan-faults.tsx'
import { easeInWords, loadNames, nameOfFormat } from './plan-words.ts'
import type { Names } from './use-day-setup.ts'

/** What is wrong with the day, and how full it is: counted at once, before anything is searched. */
export const Fits = ({ setup, wrong, names }: { setup: DaySetup; wrong: readonly CoreError[]; names: Names }) => {
  const load = useMemo(() => (wrong.length === 0 ? countLoad(setup) : null), [setup, wrong])
  const nameOf = (formatId: string): string => nameOfFormat(setup, formatId)
  if (wrong.length > 0)
    return (
      <Alert severity="warning" icon={false} role="note">
        {wrong.slice(0, 6).map((error) => (
          <div key={`${error.code} ${error.place}`}>{faultInWords(error, names)}</div>
        ))}
      </Alert>
    )
  if (!load || load.loads.length === 0) return <Typography>{say`Nobody gets anything yet: say above how often.`}</Typography>
  const full = load.fullest > FULL_LOAD
  return (
    <Box role="status" aria-label={say`How full the day is`}>
      <Stack direction="row" useFlexGap spacing={5} className="figures" sx={{ flexWrap: 'wrap' }}>
        {load.loads.map(({ what, share }) => (
          <Box key={what} component="span" sx={share > FULL_LOAD ? { color: 'warning.main', fontWeight: 640 } : {}}>
            {Number.isFinite(share) ? say`${loadNames[what]} ${Math.round(100 * share)}%` : say`${loadNames[what]}: none`}
          </Box>
        ))}
      </Stack>
      {full && (
        <Typography sx={{ color: 'warning.main', fontWeight: 640 }}>
          {say`This is more than fits, as a rule: expect that something is left out.`}
          {load.eases.length > 0 &&
            say` What would help most: ${load.eases
              .slice(0, 3)
              .map((e) => easeInWords(e, nameOf))
              .join('; ')}.`}
        </Typography>
      )}
    </Box>
  )
}
