import { Box, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import {
  type Call,
  type CallEdit,
  type CallSheet,
  cornerName,
  type DroppedCall,
  type Intensity,
  intensityCaps,
  type Plan,
  stationAtTime,
} from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { quietUntilMeant } from '../../look/quiet-until-meant.ts'
import { callNames } from '../../shared/calls/call-words.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'

const reasonInWords = (dropped: DroppedCall, nameOf: (cornerId: string) => string, intensity: Intensity): string => {
  switch (dropped.reason) {
    case 'no-time':
      return dropped.against
        ? say`no time: “${inside(callNames[dropped.against.kind])}” at ${nameOf(dropped.against.cornerId)} matters more`
        : say`no time`
    case 'corner-cap':
      return intensity === 'quiet'
        ? say`quiet: nothing is called`
        : say`${intensity}: at most ${intensityCaps[intensity].perCorner} per corner`
    case 'lap-cap':
      return say`${intensity}: at most ${intensityCaps[intensity].perLap} in a lap`
    case 'silenced':
      return say`silenced by hand`
    case 'silent-corner':
      return say`this corner is silent`
  }
}

/** Name of a reason for all calls that it holds for. */
const reasonName = (dropped: DroppedCall, intensity: Intensity): string =>
  dropped.reason === 'no-time' ? say`No time, something else matters more` : capital(reasonInWords(dropped, () => '', intensity))
const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1)

type Props = {
  plan: Plan
  sheet: CallSheet
  selected: string | null
  /** True if the day can be changed. */
  kept: boolean
  onChoose: (key: string) => void
  onEdit: (key: string, edit: CallEdit) => void
}

/** Calls in the order in which they are said; each can be locked or silenced. */
export const CallSheetTable = ({ plan, sheet, selected, kept, onChoose, onEdit }: Props) => (
  <>
    <Table size="small" stickyHeader aria-label={say`Call sheet`} sx={{ '& .MuiTableCell-root': { px: 2, whiteSpace: 'nowrap' } }}>
      <TableHead>
        <TableRow>
          <TableCell>{say`Corner`}</TableCell>
          <TableCell>{say`For`}</TableCell>
          <TableCell>{say`Said`}</TableCell>
          <TableCell align="right">Start</TableCell>
          <TableCell align="right">{say`Lead`}</TableCell>
          <TableCell component="td" />
        </TableRow>
      </TableHead>
      <TableBody>
        {sheet.calls.map((call) => {
          const { key } = call
          return (
            <CallRow
              key={key}
              plan={plan}
              call={call}
              selected={key === selected}
              kept={kept}
              onChoose={() => onChoose(key)}
              onEdit={(edit) => onEdit(key, edit)}
            />
          )
        })}
      </TableBody>
    </Table>
    {sheet.calls.length === 0 && <Typography sx={{ p: 2 }}>{say`Quiet: no calls in the car; it waits for the debrief.`}</Typography>}
  </>
)

type RowProps = { plan: Plan; call: Call; selected: boolean; kept: boolean; onChoose: () => void; onEdit: (edit: CallEdit) => void }

const CallRow = ({ plan, call, selected, kept, onChoose, onEdit }: RowProps) => (
  <TableRow hover selected={selected} onClick={onChoose} sx={{ cursor: 'pointer', ...quietUntilMeant }}>
    <TableCell>{cornerName(plan.corners, call.cornerId)}</TableCell>
    <TableCell>{callNames[call.kind]}</TableCell>
    <TableCell sx={{ '&.MuiTableCell-root': { whiteSpace: 'normal', fontWeight: 600 } }}>{call.phrase}</TableCell>
    <TableCell align="right" className="figures">
      {metres(stationAtTime(plan, call.start_s))}
    </TableCell>
    <TableCell align="right" className="figures">{`${(call.mark_s - call.start_s).toFixed(1)} s`}</TableCell>
    <TableCell align="right">
      <Button
        size="small"
        variant="text"
        disabled={!kept}
        aria-pressed={call.locked}
        sx={{ px: 2, minWidth: 0 }}
        onClick={() => onEdit({ locked: !call.locked })}
      >
        {say`Lock`}
      </Button>
      <Button
        size="small"
        variant="text"
        disabled={!kept}
        sx={{ px: 2, minWidth: 0 }}
        onClick={() => onEdit({ silent: true, locked: false })}
      >
        {say`Silence`}
      </Button>
    </TableCell>
  </TableRow>
)

type LeftOutProps = {
  plan: Plan
  sheet: CallSheet
  intensity: Intensity
  cornerId: string | null
  silentCorners: readonly string[]
  kept: boolean
  onSilentCorners: (ids: string[]) => void
  onEdit: (key: string, edit: CallEdit) => void
}

/** Calls that are left out and why, with the selected corner to be silenced or turned on again. */
export const LeftOut = ({ plan, sheet, intensity, cornerId, silentCorners, kept, onSilentCorners, onEdit }: LeftOutProps) => {
  const nameOf = (id: string): string => cornerName(plan.corners, id)
  const isSilent = cornerId !== null && silentCorners.includes(cornerId)
  return (
    <>
      {cornerId && (
        <Button
          size="small"
          variant="outlined"
          disabled={!kept}
          aria-pressed={isSilent}
          onClick={() => onSilentCorners(isSilent ? silentCorners.filter((c) => c !== cornerId) : [...silentCorners, cornerId])}
          sx={{ mb: 2 }}
        >
          {isSilent ? say`Speak again at ${nameOf(cornerId)}` : say`Say nothing at ${nameOf(cornerId)}`}
        </Button>
      )}
      <Typography variant="head">{say`Left out`}</Typography>
      {[...new Set(sheet.dropped.map((d) => d.reason))].map((reason) => {
        const dropped = sheet.dropped.filter((d) => d.reason === reason)
        return (
          <Box key={reason} sx={{ py: 1, borderBottom: 'hair', borderColor: 'divider' }}>
            <Box sx={{ fontWeight: 600 }}>{`${reasonName(dropped[0], intensity)}: ${dropped.length}`}</Box>
            {[...new Set(dropped.map((d) => d.cornerId))].map((id) => (
              <Stack key={id} direction="row" useFlexGap spacing={2} sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
                <Box sx={{ color: 'text.secondary' }}>{cornerLabel({ id, name: nameOf(id) })}</Box>
                {dropped
                  .filter((d) => d.cornerId === id)
                  .map((d) => (
                    <Box key={d.key} title={reasonInWords(d, nameOf, intensity)}>
                      {inside(callNames[d.kind])}
                      {reason === 'silenced' && (
                        <Button size="small" variant="text" onClick={() => onEdit(d.key, { silent: false })}>
                          {say`Say it`}
                        </Button>
                      )}
                    </Box>
                  ))}
              </Stack>
            ))}
          </Box>
        )
      })}
    </>
  )
}
