import { Stack, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material'
import { type LayingRow, writeRows } from '@ochote/core'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { markNames } from '../../shared/marks/mark-words.ts'

const toApex = (metres: number | null): string => {
  if (metres === null) return '–'
  const whole = Math.abs(Math.round(metres))
  return whole === 0 ? 'at it' : `${whole} m ${metres < 0 ? 'before' : 'after'}`
}

/** How to find a cone's place from a thing that is always there. */
const toReference = (reference: LayingRow['reference']): string => {
  if (!reference) return ''
  const whole = Math.abs(Math.round(reference.past_m))
  return whole === 0 ? `at: ${reference.name}` : `${whole} m ${reference.past_m < 0 ? 'before' : 'past'}: ${reference.name}`
}

/** The laying sheet as a table, in driving order from the start line. */
export const LayingTable = ({
  rows,
  selected,
  onSelect,
}: {
  rows: readonly LayingRow[]
  selected?: string | null
  onSelect?: (row: LayingRow) => void
}) => (
  <Table size="small" stickyHeader aria-label="Laying sheet" sx={{ '& .MuiTableCell-root': { px: 0.75, whiteSpace: 'nowrap' } }}>
    <TableHead>
      <TableRow>
        <TableCell align="right">No.</TableCell>
        <TableCell>Cone</TableCell>
        <TableCell>Corner</TableCell>
        <TableCell>Mark</TableCell>
        <TableCell>Side</TableCell>
        <TableCell align="right">From last</TableCell>
        <TableCell align="right">From line</TableCell>
        <TableCell align="right">Apex</TableCell>
        <TableCell>Reference</TableCell>
      </TableRow>
    </TableHead>
    <TableBody>
      {rows.map((row) => (
        <TableRow
          key={row.coneId}
          hover
          selected={row.cornerId === selected}
          onClick={() => onSelect?.(row)}
          sx={{ cursor: onSelect ? 'pointer' : 'default' }}
        >
          <TableCell align="right" className="figures">
            {row.number}
          </TableCell>
          <TableCell>
            <Stack direction="row" spacing={0.75} sx={{ alignItems: 'center' }}>
              <ConeGlyph colour={row.colour} shape={row.shape} />
              <span>{`${row.colour} ${row.shape}`}</span>
            </Stack>
          </TableCell>
          <TableCell>{row.cornerName}</TableCell>
          <TableCell>{markNames[row.kind]}</TableCell>
          <TableCell>{row.roadSide}</TableCell>
          <TableCell align="right" className="figures">{`${Math.round(row.fromLast_m)} m`}</TableCell>
          <TableCell align="right" className="figures">{`${Math.round(row.station_m)} m`}</TableCell>
          <TableCell align="right" className="figures">
            {toApex(row.fromApex_m)}
          </TableCell>
          <TableCell
            sx={{ '&.MuiTableCell-root': { whiteSpace: 'normal', fontSize: '0.74rem', lineHeight: 1.15, py: 0.2, minWidth: 116 } }}
          >
            {toReference(row.reference)}
          </TableCell>
        </TableRow>
      ))}
    </TableBody>
  </Table>
)

/** The laying sheet as CSV; metres to the decimetre, places to about a decimetre. */
export const layingCsv = (rows: readonly LayingRow[]): string =>
  writeRows(
    [
      'number',
      'cone',
      'shape',
      'corner',
      'mark',
      'side',
      'station_m',
      'from_last_m',
      'from_apex_m',
      'lat_deg',
      'lon_deg',
      'reference',
      'past_reference_m',
    ],
    rows.map((r) => [
      r.number,
      r.colour,
      r.shape,
      r.cornerName,
      r.kind,
      r.roadSide,
      r.station_m.toFixed(1),
      r.fromLast_m.toFixed(1),
      r.fromApex_m?.toFixed(1) ?? '',
      r.lat_deg?.toFixed(7) ?? '',
      r.lon_deg?.toFixed(7) ?? '',
      r.reference?.name ?? '',
      r.reference?.past_m.toFixed(1) ?? '',
    ]),
  )
