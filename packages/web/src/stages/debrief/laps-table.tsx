import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material'
import type { Debrief, SkippedLapTold } from '@ochote/contract'
import { formatDifference, formatLapTime, kmh, mistakes } from '@ochote/core'

const skippedWords: Record<SkippedLapTold['reason'], (s: SkippedLapTold) => string> = {
  silent: (s) => `no data for ${s.gap_s.toFixed(1)} s from ${s.after_s.toFixed(1)} s on`,
  stop: () => 'the car stood',
  elsewhere: () => 'it left the circuit, or took another layout',
}

type Props = {
  debrief: Debrief
  lap: number
  onLap: (lap: number) => void
  byInstructor: ReadonlySet<number>
  /** Says who drove a lap; absent for whoever only reads. */
  onDriver?: (lap: number, driver: 'student' | 'instructor') => void
}

/** All laps of a log: time, roots, the slowest corner speed, what is missing, and who drove; laps left out are named with the reason. */
export const LapsTable = ({ debrief, lap, onLap, byInstructor, onDriver }: Props) => {
  const studentLaps = debrief.laps.filter((l) => !byInstructor.has(l.lap))
  const best = Math.min(...studentLaps.map((l) => l.time_s))
  const slowest = (of: number): number => Math.min(...debrief.review.passes.filter((p) => p.lap === of).map((p) => p.slowest_mps))
  const roots = (of: number) => debrief.findings.filter((f) => f.root && f.lap === of)
  return (
    <Box sx={{ maxHeight: 230, overflowY: 'auto' }} role="region" aria-label="Laps, scrolls" tabIndex={0}>
      <Table size="small" stickyHeader aria-label="Laps" sx={{ '& td': { py: 0.25 } }}>
        <TableHead>
          <TableRow>
            <TableCell>Lap</TableCell>
            <TableCell align="right">Gap</TableCell>
            <TableCell>Mistakes</TableCell>
            <TableCell align="right">Slowest</TableCell>
            <TableCell>Notes</TableCell>
            <TableCell>Driven by</TableCell>
          </TableRow>
        </TableHead>
        <TableBody role="group" aria-label="Laps">
          {debrief.laps.map((l) => {
            const found = roots(l.lap)
            const safety = found.filter((f) => mistakes[f.code].safety).length
            const instructor = byInstructor.has(l.lap)
            return (
              <TableRow key={l.lap} selected={l.lap === lap}>
                <TableCell>
                  <Button
                    size="small"
                    variant={l.lap === lap ? 'contained' : 'text'}
                    aria-pressed={l.lap === lap}
                    onClick={() => onLap(l.lap)}
                    className="figures"
                  >
                    {`Lap ${l.lap}: ${formatLapTime(l.time_s)}${l.time_s === best && !instructor ? ' quickest' : ''}`}
                  </Button>
                </TableCell>
                <TableCell align="right" className="figures">
                  {l.time_s === best ? '' : formatDifference(l.time_s - best)}
                </TableCell>
                <TableCell className="figures">{instructor ? '' : `${found.length}${safety > 0 ? `, ${safety} of safety` : ''}`}</TableCell>
                <TableCell align="right" className="figures">
                  {Number.isFinite(slowest(l.lap)) ? `${Math.round(kmh(slowest(l.lap)))} km/h` : ''}
                </TableCell>
                <TableCell>{l.gap_s > 0 && `${l.gap_s.toFixed(1)} s without data, not analysed`}</TableCell>
                <TableCell>
                  {onDriver ? (
                    <Button
                      size="small"
                      color={instructor ? 'primary' : 'secondary'}
                      sx={{ minHeight: 26, py: 0 }}
                      aria-label={`Lap ${l.lap} was driven by the ${instructor ? 'instructor' : 'student'}; change it`}
                      onClick={() => onDriver(l.lap, instructor ? 'student' : 'instructor')}
                    >
                      {instructor ? 'instructor' : 'student'}
                    </Button>
                  ) : instructor ? (
                    'instructor'
                  ) : (
                    'student'
                  )}
                </TableCell>
              </TableRow>
            )
          })}
          {debrief.skipped.map((s) => (
            <TableRow key={`${s.lap} ${s.start_s}`}>
              <TableCell className="figures" sx={{ pl: 3 }}>{`Lap ${s.lap || '?'}`}</TableCell>
              <TableCell colSpan={5} sx={{ color: 'warning.main' }}>{`left out: ${skippedWords[s.reason](s)}`}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  )
}
