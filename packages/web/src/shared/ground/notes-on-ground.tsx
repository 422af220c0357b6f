import { type Plan, placeAt } from '@ochote/core'
import { type } from '../../look/scale.ts'
import type { BandNote } from '../road-layers.ts'

/** Flags with their words beside the road where something is. */
export const NotesOnGround = ({ plan, notes, pixel }: { plan: Plan; notes: readonly BandNote[]; pixel: number }) =>
  notes.map((note) => {
    const { x_m, y_m } = placeAt(plan.circuit, note.station_m, 0)
    const colour = note.tone === 'danger' ? 'var(--danger)' : 'var(--ink)'
    return (
      <g key={`${note.station_m} ${note.label}`} transform={`translate(${x_m.toFixed(2)} ${(-y_m).toFixed(2)}) scale(${pixel})`}>
        <path d="M0 0 V-24 L16 -18 L0 -12" fill={colour} stroke={colour} strokeWidth="2" />
        <text
          x="19"
          y="-14"
          fontSize={type.desk.note[0]}
          fontWeight={700}
          fill={colour}
          stroke="var(--ground)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {note.label}
        </text>
      </g>
    )
  })
