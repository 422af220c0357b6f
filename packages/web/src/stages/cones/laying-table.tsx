import { Stack, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material'
import { type Cone, type Corner, cornerOf, type LayingRow } from '@ochote/core'
import type { KeyboardEvent } from 'react'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames, coneShapeName } from '../../shared/marks/mark-words.ts'

const toApex = (past_m: number | null): string => {
  if (past_m === null) return '–'
  return Math.round(past_m) === 0 ? say`at it` : `${metres(past_m)} ${past_m < 0 ? say`before` : say`after`}`
}

/** Directions to a cone's place from a landmark. */
export const toReference = (reference: LayingRow['reference']): string => {
  if (!reference) return ''
  return Math.round(reference.past_m) === 0
    ? say`at: ${reference.name}`
    : `${metres(reference.past_m)} ${reference.past_m < 0 ? say`before` : say`past`}: ${reference.name}`
}

/** A small drawing of where a cone stands: the road as it bends, travel to the right, the cone on its side. */
const PlaceSketch = ({ cone, corner }: { cone: Cone; corner: Corner | undefined }) => {
  const bend = corner ? (corner.side === 'left' ? -7 : 7) : 0
  const path = `M2 15 Q24 15 46 ${15 + bend}`
  const at = cone.kind === 'brake' || cone.kind === 'lift' ? 0.15 : cone.kind === 'exit' ? 0.9 : cone.kind === 'apex' ? 0.6 : 0.38
  const y = 15 + bend * at * at
  return (
    <svg width="48" height="30" viewBox="0 0 48 30" aria-hidden="true">
      <path d={path} fill="none" stroke="var(--road)" strokeWidth="9" />
      <path d={path} fill="none" stroke="var(--roadEdge)" strokeWidth="0.8" strokeDasharray="3 3" />
      <circle cx={2 + 44 * at} cy={y + (cone.roadSide === 'left' ? -8 : 8)} r="3.2" fill="var(--ink)" />
    </svg>
  )
}

/** The laying sheet as a table, in driving order from the pits. */
export const LayingTable = ({
  rows,
  corners,
  selected,
  onSelect,
}: {
  rows: readonly LayingRow[]
  corners: readonly Corner[]
  selected?: string | null
  onSelect?: (row: LayingRow) => void
}) => (
  <Table size="small" stickyHeader aria-label={say`Laying sheet`} sx={{ '& .MuiTableCell-root': { px: 2, whiteSpace: 'nowrap' } }}>
    <TableHead>
      <TableRow>
        <TableCell align="right">{say`No.`}</TableCell>
        <TableCell>{say`Cone`}</TableCell>
        <TableCell>{say`Corner`}</TableCell>
        <TableCell>{say`Mark`}</TableCell>
        <TableCell>{say`Side`}</TableCell>
        <TableCell>{say`Place`}</TableCell>
        <TableCell align="right">{say`From last`}</TableCell>
        <TableCell align="right">{say`Apex`}</TableCell>
        <TableCell>{say`Reference`}</TableCell>
      </TableRow>
    </TableHead>
    <TableBody>
      {rows.map((row) => (
        <TableRow
          key={row.cone.id}
          hover
          selected={row.cone.groupId === selected}
          onClick={() => onSelect?.(row)}
          {...(onSelect
            ? {
                tabIndex: 0,
                onKeyDown: (event: KeyboardEvent) => {
                  if (event.key !== 'Enter' && event.key !== ' ') return
                  event.preventDefault()
                  onSelect(row)
                },
              }
            : {})}
          sx={{ cursor: onSelect ? 'pointer' : 'default' }}
        >
          <TableCell align="right" className="figures">
            {row.number}
          </TableCell>
          <TableCell>
            <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
              <ConeGlyph colour={row.cone.colour} shape={row.cone.shape} />
              <span>{`${staffWords.colours[row.cone.colour]} ${coneShapeName(row.cone.shape)}`}</span>
            </Stack>
          </TableCell>
          <TableCell>{row.cornerName || '–'}</TableCell>
          <TableCell>{coneNames[row.cone.kind]}</TableCell>
          <TableCell>{staffWords.sides[row.cone.roadSide]}</TableCell>
          <TableCell sx={{ '&.MuiTableCell-root': { py: 0 } }}>
            <PlaceSketch cone={row.cone} corner={cornerOf(corners, row.cone.cornerId)} />
          </TableCell>
          <TableCell align="right" className="figures">
            {metres(row.fromLast_m)}
          </TableCell>
          <TableCell align="right" className="figures">
            {toApex(row.fromApex_m)}
          </TableCell>
          <TableCell sx={{ '&.MuiTableCell-root': { whiteSpace: 'normal', fontSize: 'size.note', lineHeight: 1.15, minWidth: 108 } }}>
            {toReference(row.reference) || say`none near`}
          </TableCell>
        </TableRow>
      ))}
    </TableBody>
  </Table>
)
