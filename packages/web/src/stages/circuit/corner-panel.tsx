import { Button } from '@mui/material'
import type { CircuitNotes } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import type { useNumbers } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { CornerWhy } from '../../shared/corner-card/why.tsx'
import { FromSeatLink } from '../../shared/seat/from-seat-link.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { CornerEditing } from './corner-edit.tsx'
import { CornerTable } from './corner-table.tsx'
import { PinsHere } from './pins-here.tsx'

/** A corner that is added at the cursor reaches this far to either side of it (m). */
const NEW_CORNER_HALF_M = 20

type Props = {
  plan: Plan
  numbers: ReturnType<typeof useNumbers>
  notes: CircuitNotes | undefined
  onChange: (notes: CircuitNotes) => void
}

/** The corner that is chosen with all about it, or else the table of all corners. */
export const CornerPanel = ({ plan, numbers, notes, onChange }: Props) => {
  const { cornerId, station_m } = useLapSelection()
  if (cornerId && plan.corners.some((corner) => corner.id === cornerId)) {
    const ofCorner = numbers?.corners.find((n) => n.cornerId === cornerId)
    const first = plan.marks.find((mark) => mark.cornerId === cornerId)
    return (
      <CornerCard
        plan={plan}
        cornerId={cornerId}
        lead={ofCorner && <CornerWhy plan={plan} numbers={ofCorner} shifts={numbers?.shifts ?? []} />}
      >
        {first && <FromSeatLink cornerId={cornerId} station_m={station_m ?? first.station_m} />}
        {notes && <PinsHere plan={plan} cornerId={cornerId} pins={notes.pins} onChange={(pins) => onChange({ ...notes, pins })} />}
        {notes && <CornerEditing plan={plan} cornerId={cornerId} station_m={station_m} notes={notes} onChange={onChange} />}
      </CornerCard>
    )
  }
  const addCorner = (at: CircuitNotes, middle_m: number): void => {
    const start_m = Math.max(0, middle_m - NEW_CORNER_HALF_M)
    const end_m = Math.min(plan.circuit.length_m, middle_m + NEW_CORNER_HALF_M)
    onChange({ ...at, cornerEdits: [...at.cornerEdits, { kind: 'add', start_m, end_m }] })
  }
  return (
    <>
      <CornerTable plan={plan} numbers={numbers?.corners} />
      {station_m !== null && notes && (
        <Button size="small" variant="text" onClick={() => addCorner(notes, station_m)}>
          {say`Add a corner at the cursor`}
        </Button>
      )}
    </>
  )
}
