import { Button, Stack, TextField } from '@mui/material'
import type { CircuitNotes } from '@ochote/contract'
import { type CornerEdit, isWithin, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'

type Props = { plan: Plan; cornerId: string; station_m: number | null; notes: CircuitNotes; onChange: (notes: CircuitNotes) => void }

/** A corner's name and limits, changed by hand; each change can be taken back. */
export const CornerEditing = ({ plan, cornerId, station_m, notes, onChange }: Props) => {
  const k = plan.corners.findIndex((c) => c.id === cornerId)
  const corner = plan.corners[k]
  if (!corner) return null
  const { length_m } = plan.circuit
  const nameNow = notes.cornerNames[cornerId] ?? ''
  const next = plan.corners[(k + 1) % plan.corners.length]
  const edit = (change: CornerEdit): void => onChange({ ...notes, cornerEdits: [...notes.cornerEdits, change] })
  const at_m = corner.peak_m
  const inside = station_m !== null && isWithin(station_m, corner.start_m, corner.end_m, length_m)
  const action = (label: string, change: CornerEdit | null) => (
    <Button key={label} variant="outlined" size="small" disabled={change === null} onClick={() => change && edit(change)}>
      {label}
    </Button>
  )
  return (
    <Stack spacing={2} sx={{ mt: 2 }}>
      <TextField
        key={`${cornerId}${nameNow}`}
        label={say`Name of this corner`}
        defaultValue={nameNow}
        sx={{ width: 240 }}
        slotProps={{ htmlInput: { maxLength: 40 } }}
        onBlur={(e) => {
          const name = e.target.value.trim()
          if (name !== nameNow) onChange({ ...notes, cornerNames: { ...notes.cornerNames, [cornerId]: name || cornerId } })
        }}
        onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLInputElement).blur()}
      />
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        {action(say`Split at the cursor`, inside ? { kind: 'split', at_m: station_m } : null)}
        {action(say`Join with the next`, plan.corners.length > 1 ? { kind: 'merge', at_m, to_m: next.peak_m } : null)}
        {action(
          say`Begin at the cursor`,
          station_m !== null && station_m !== corner.end_m ? { kind: 'move', at_m, start_m: station_m, end_m: corner.end_m } : null,
        )}
        {action(
          say`End at the cursor`,
          station_m !== null && station_m !== corner.start_m ? { kind: 'move', at_m, start_m: corner.start_m, end_m: station_m } : null,
        )}
        {action(say`Leave out`, { kind: 'remove', at_m })}
      </Stack>
    </Stack>
  )
}
