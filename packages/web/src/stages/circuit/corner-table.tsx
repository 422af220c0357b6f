import { Button, Table, TableBody, TableCell, TableHead, TableRow, TableSortLabel } from '@mui/material'
import { type Corner, type CornerMetrics, cornerWarnings, markOf, type Plan, writeRows } from '@ochote/core'
import { memo, useState } from 'react'
import { inside, say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { purposeWords, warningWords } from '../../shared/corner-card/why.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { WordHelp } from '../../shared/word-help.tsx'

type Row = { corner: Corner; slowest_mps: number; numbers: CornerMetrics | undefined }

const columns = [
  { id: 'corner', name: say`Corner`, right: false, value: (r: Row) => r.corner.peak_m },
  { id: 'radius', name: 'Radius', right: true, value: (r: Row) => r.corner.radius_m },
  { id: 'slowest', name: say`Slowest`, right: true, value: (r: Row) => r.slowest_mps },
  { id: 'price', name: say`Price per m/s`, help: 'price', right: true, value: (r: Row) => -(r.numbers?.worth.price_spmps ?? 0) },
  { id: 'grace', name: say`Grace`, help: 'grace', right: true, value: (r: Row) => r.numbers?.grace?.time_s ?? 99 },
  { id: 'for', name: say`Type`, help: 'entry-exit', right: false, value: (r: Row) => r.numbers?.worth.purpose ?? '' },
] as const

const rowsOf = (plan: Plan, numbers: readonly CornerMetrics[] | undefined): Row[] =>
  plan.corners.map((corner) => ({
    corner,
    slowest_mps: markOf(plan.marks, corner.id, 'slowest')?.speed_mps ?? 0,
    numbers: numbers?.find((n) => n.cornerId === corner.id),
  }))

/** The table of corners as CSV. */
export const cornersCsv = (plan: Plan, numbers: readonly CornerMetrics[] | undefined): string =>
  writeRows(
    ['corner', 'name', 'side', 'shape', 'radius_m', 'slowest_kmh', 'price_s_per_mps', 'rank', 'purpose', 'grace_m', 'grace_s', 'warnings'],
    rowsOf(plan, numbers).map(({ corner, slowest_mps, numbers: n }) => [
      corner.id,
      corner.name,
      corner.side,
      corner.shape,
      corner.radius_m.toFixed(1),
      (slowest_mps * 3.6).toFixed(1),
      n?.worth.price_spmps.toFixed(4) ?? '',
      n?.worth.rank ?? '',
      n?.worth.purpose ?? '',
      n?.grace?.metres_m.toFixed(1) ?? '',
      n?.grace?.time_s.toFixed(2) ?? '',
      n ? cornerWarnings(n).join(' ') : '',
    ]),
  )

/** All corners with what they are for; sorts by any column. */
export const CornerTable = memo(({ plan, numbers }: { plan: Plan; numbers: readonly CornerMetrics[] | undefined }) => {
  const { selectCorner, moveTo } = useLapSelection()
  const [sort, setSort] = useState<{ id: (typeof columns)[number]['id']; down: boolean }>({ id: 'corner', down: false })
  const by = columns.find((c) => c.id === sort.id) ?? columns[0]
  const sorted = rowsOf(plan, numbers).sort((a, b) => {
    const [x, y] = [by.value(a), by.value(b)]
    return (x < y ? -1 : x > y ? 1 : 0) * (sort.down ? -1 : 1)
  })
  return (
    <Table
      size="small"
      stickyHeader
      aria-label={say`Corners`}
      sx={{ '& .MuiTableCell-root': { px: 2, lineHeight: 1.2 }, '& td': { py: 1 }, '& td:last-of-type': { py: 0 } }}
    >
      <TableHead>
        <TableRow>
          {columns.map((c) => (
            <TableCell
              key={c.id}
              align={c.right ? 'right' : 'left'}
              sortDirection={sort.id === c.id ? (sort.down ? 'desc' : 'asc') : false}
            >
              <TableSortLabel
                active={sort.id === c.id}
                direction={sort.down ? 'desc' : 'asc'}
                onClick={() => setSort({ id: c.id, down: sort.id === c.id && !sort.down })}
              >
                {c.name}
              </TableSortLabel>
              {'help' in c && <WordHelp word={c.help} />}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {sorted.map(({ corner, slowest_mps, numbers: own }) => {
          const warnings = own ? cornerWarnings(own) : []
          return (
            <TableRow key={corner.id} hover>
              <TableCell>
                <Button
                  variant="text"
                  color="secondary"
                  size="small"
                  sx={{ p: 0, fontWeight: 600, justifyContent: 'flex-start', textAlign: 'left', whiteSpace: 'nowrap' }}
                  onClick={() => {
                    selectCorner(corner.id)
                    moveTo(corner.peak_m)
                  }}
                >
                  {cornerLabel(corner)}
                </Button>
              </TableCell>
              <TableCell align="right" className="figures">
                {metres(corner.radius_m)}
              </TableCell>
              <TableCell align="right" className="figures">
                {speedInWords(slowest_mps)}
              </TableCell>
              <TableCell align="right" className="figures">
                {own ? `${own.worth.price_spmps.toFixed(3)} s` : '…'}
              </TableCell>
              <TableCell align="right" className="figures" sx={{ color: warnings.includes('little-grace') ? 'warning.main' : undefined }}>
                {own ? (own.grace ? `${own.grace.time_s.toFixed(2)} s` : '–') : '…'}
              </TableCell>
              <TableCell>
                {own ? inside(purposeWords[own.worth.purpose].name.replace(' corner', '')) : '…'}
                {warnings
                  .filter((w) => w !== 'little-grace')
                  .map((w) => (
                    <span key={w} style={{ color: 'var(--warn)', fontWeight: 600 }}>{` · ${warningWords[w]}`}</span>
                  ))}
              </TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </Table>
  )
})
