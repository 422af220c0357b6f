import { Checkbox, FormControlLabel, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { cornerName, type Fading, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { RowTable } from '../../shared/row-table.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { toReference } from './laying-table.tsx'

const stays: Record<Exclude<Fading['why'], 'reference'>, string> = {
  'no-reference': say`stays: no landmark near enough`,
  safety: say`stays for everybody`,
}

/** Which cones go at which level, and which lasting reference takes over. */
export const FadingTable = ({
  plan,
  fadings,
  fade,
  canChange,
  onFade,
}: {
  plan: Plan
  fadings: readonly Fading[]
  fade: boolean
  canChange: boolean
  onFade: (fade: boolean) => void
}) => (
  <Stack spacing={2}>
    <FormControlLabel
      control={<Checkbox checked={fade} disabled={!canChange} onChange={(e) => onFade(e.target.checked)} />}
      label={say`Leave out cones that even your newest student no longer needs`}
    />
    {fadings.every((f) => f.why !== 'reference') && (
      <Typography variant="text">
        {say`No landmark is near any cone, so none can go. Note seams, patches, posts and kerb ends in the Circuit stage, under Ground and hazards.`}
      </Typography>
    )}
    <RowTable aria-label={say`Fading out`} sx={{ '& .MuiTableCell-root': { px: 2, py: 0 } }}>
      <TableHead>
        <TableRow>
          <TableCell>{say`Corner`}</TableCell>
          <TableCell>{say`Cone`}</TableCell>
          <TableCell>
            {say`Goes from level`}
            <WordHelp word="fading" />
          </TableCell>
          <TableCell>
            {say`Landmark that replaces it`}
            <WordHelp word="landmark" />
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {[...fadings.filter((f) => f.goesAt !== null), ...fadings.filter((f) => f.goesAt === null)].map((f) => (
          <TableRow key={f.groupId}>
            <TableCell>{cornerName(plan.corners, f.cornerId, '–')}</TableCell>
            <TableCell>{coneNames[f.kind]}</TableCell>
            <TableCell>{f.goesAt ? levelName(f.goesAt) : f.why === 'reference' ? '' : stays[f.why]}</TableCell>
            <TableCell>{toReference(f.reference)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </RowTable>
  </Stack>
)
