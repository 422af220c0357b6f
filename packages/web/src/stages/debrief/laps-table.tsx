import { Box, Button, NativeSelect, Stack, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material'
import type { Debrief, SkippedLapTold } from '@ochote/contract'
import {
  countedLaps,
  formatDifference,
  formatLapTime,
  isDrivenKind,
  kmh,
  type LapKind,
  lapKinds,
  mistakes,
  type RunEvent,
  runStateOf,
  type SetAsideReason,
  type SlowLapRemark,
  slowLapRemarks,
} from '@ochote/core'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { asideWords, lapKindNames } from '../../shared/lap-words.ts'

const skippedWords: Record<SkippedLapTold['reason'], (s: SkippedLapTold) => string> = {
  silent: (s) => say`no data for ${s.gap_s.toFixed(1)} s from ${s.after_s.toFixed(1)} s on`,
  stop: () => say`the car stood`,
  elsewhere: () => say`it left the circuit, or took another layout`,
}

type Props = {
  debrief: Debrief
  lap: number
  onLap: (lap: number) => void
  /** The run's events, which say what each lap is for and whether it counts. */
  events: readonly RunEvent[]
  /** Says something of a lap; absent for whoever only reads. */
  tell?: (told: LapTold) => void
  /** Holds the whole log against a lap of it; absent for whoever only reads. */
  onJudgeAgainst?: (lap: number) => void
}

/** What a person says of a lap. */
type LapTold =
  | { kind: 'lap-driver'; lap: number; driver: 'student' | 'instructor' }
  | { kind: 'set-aside'; lap: number; reason: SetAsideReason | null }
  | { kind: 'lap-kind'; lap: number; lapKind: LapKind; only: true }

/** Remarks on a slow lap, in words. */
const slowLapInWords = (remark: SlowLapRemark): string =>
  remark.remark === 'over-cap'
    ? say`over the cap: ${speedInWords(remark.speed_mps)} at ${metres(remark.station_m)}, allowed ${Math.round(kmh(remark.cap_mps))}`
    : say`brakes used: ${remark.brake_g.toFixed(1)} g at ${metres(remark.station_m)}, ${remark.braked_s.toFixed(1)} s of hard braking in all`

/** All laps of a log: what each is for, time, roots, the slowest corner speed, what is missing, whether it is judged, and who drove; laps left out are named with the reason. */
export const LapsTable = ({ debrief, lap, onLap, events, tell, onJudgeAgainst }: Props) => {
  const standing = countedLaps(events)
  const { programme } = runStateOf(events)
  const counted = debrief.laps.filter(standing.counts)
  const best = Math.min(...counted.map((l) => l.time_s))
  const slowest = (of: number): number => Math.min(...debrief.review.passes.filter((p) => p.lap === of).map((p) => p.slowest_mps))
  const roots = (of: number) => debrief.findings.filter((f) => f.root && f.lap === of && standing.counts(f))
  const slowRemarks = (of: number): string[] => {
    const use = debrief.review.lapUse.find((u) => u.lap === of)
    return use ? slowLapRemarks(standing.of(of).kind, use, programme?.slowCap_mps ?? null).map(slowLapInWords) : []
  }
  return (
    <Box sx={{ maxHeight: 260, overflow: 'auto' }} role="region" aria-label={say`Laps, scrolls`} tabIndex={0}>
      <Table
        size="small"
        stickyHeader
        aria-label={say`Laps`}
        sx={{ '& td, & th': { whiteSpace: 'nowrap' }, '& td:last-of-type, & th:last-of-type': { width: 1 } }}
      >
        <TableHead>
          <TableRow>
            <TableCell>{say`Lap`}</TableCell>
            <TableCell>{say`For`}</TableCell>
            <TableCell align="right">{say`Gap`}</TableCell>
            <TableCell>{say`Mistakes`}</TableCell>
            <TableCell align="right">{say`Slowest`}</TableCell>
            <TableCell>{say`Notes`}</TableCell>
            <TableCell>{say`Judged`}</TableCell>
            <TableCell>{say`Driven by`}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody role="group" aria-label={say`Laps`}>
          {debrief.laps.map((l) => {
            const found = roots(l.lap)
            const safety = found.filter((f) => mistakes[f.code].safety).length
            const { kind, aside, counts } = standing.of(l.lap)
            const instructor = aside === 'instructor'
            const notes = [...(l.gap_s > 0 ? [say`${l.gap_s.toFixed(1)} s without data, not analysed`] : []), ...slowRemarks(l.lap)]
            return (
              <TableRow key={l.lap} selected={l.lap === lap}>
                <TableCell>
                  <Button size="small" variant="text" aria-pressed={l.lap === lap} onClick={() => onLap(l.lap)} className="figures">
                    {say`Lap ${l.lap}: ${formatLapTime(l.time_s)}${l.time_s === best && counts ? say` quickest` : ''}`}
                  </Button>
                </TableCell>
                <TableCell>
                  <KindOfLap lap={l.lap} kind={kind} tell={tell} />
                </TableCell>
                <TableCell align="right" className="figures">
                  {!Number.isFinite(best) || l.time_s === best ? '' : formatDifference(l.time_s - best)}
                </TableCell>
                <TableCell className="figures">{!counts ? '' : `${found.length}${safety > 0 ? say`, ${safety} of safety` : ''}`}</TableCell>
                <TableCell align="right" className="figures">
                  {Number.isFinite(slowest(l.lap)) ? speedInWords(slowest(l.lap)) : ''}
                </TableCell>
                <TableCell sx={notes.length > 0 ? { color: 'warning.main' } : {}}>{notes.join(' · ')}</TableCell>
                <TableCell>
                  <Judged lap={l.lap} kind={kind} aside={aside} tell={tell} />
                </TableCell>
                <TableCell>
                  {tell ? (
                    <Button
                      size="small"
                      color={instructor ? 'primary' : 'secondary'}
                      aria-label={say`Lap ${l.lap} was driven by the ${instructor ? say`instructor` : say`student`}; change it`}
                      onClick={() => tell({ kind: 'lap-driver', lap: l.lap, driver: instructor ? 'student' : 'instructor' })}
                    >
                      {instructor ? say`instructor` : say`student`}
                    </Button>
                  ) : instructor ? (
                    'instructor'
                  ) : (
                    'student'
                  )}
                  {instructor && onJudgeAgainst && (
                    <Button size="small" sx={{ ml: 1 }} onClick={() => onJudgeAgainst(l.lap)}>
                      {say`judge against it`}
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            )
          })}
          {debrief.skipped.map((s) => (
            <TableRow key={`${s.lap} ${s.start_s}`}>
              <TableCell className="figures" sx={{ pl: 5 }}>{say`Lap ${s.lap || '?'}`}</TableCell>
              <TableCell colSpan={7} sx={{ color: 'warning.main' }}>{say`left out: ${skippedWords[s.reason](s)}`}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  )
}

/** What a lap is for; a person may name it. */
const KindOfLap = ({ lap, kind, tell }: { lap: number; kind: LapKind; tell: Props['tell'] }) =>
  tell ? (
    <NativeSelect
      variant="standard"
      disableUnderline
      value={kind}
      inputProps={{ 'aria-label': say`What lap ${lap} is for` }}
      onChange={(e) => tell({ kind: 'lap-kind', lap, lapKind: e.target.value as LapKind, only: true })}
      sx={{ fontSize: 'size.text', minWidth: '13ch' }}
    >
      {lapKinds.map((k) => (
        <option key={k} value={k}>
          {lapKindNames[k]}
        </option>
      ))}
    </NativeSelect>
  ) : (
    lapKindNames[kind]
  )

/** Reasons that are chosen here; that an instructor drove is said beside it. */
const chosenReasons = ['spoilt', 'traffic', 'flag'] as const satisfies readonly SetAsideReason[]

/** Whether a lap is judged: set aside by one touch, with its reason, and back by another. */
const Judged = ({ lap, kind, aside, tell }: { lap: number; kind: LapKind; aside: SetAsideReason | null; tell: Props['tell'] }) => {
  if (!isDrivenKind(kind) || aside === 'instructor') return 'no'
  if (!tell) return aside ? say`no: ${asideWords[aside]}` : say`yes`
  const button = (words: string, label: string, reason: SetAsideReason | null) => (
    <Button
      size="small"
      color={aside ? 'primary' : 'secondary'}
      aria-label={label}
      onClick={() => tell({ kind: 'set-aside', lap, reason })}
    >
      {words}
    </Button>
  )
  if (!aside) return button(say`set aside`, say`Set lap ${lap} aside`, 'spoilt')
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
      <NativeSelect
        variant="standard"
        disableUnderline
        value={aside}
        inputProps={{ 'aria-label': say`Why lap ${lap} is set aside` }}
        onChange={(e) => tell({ kind: 'set-aside', lap, reason: e.target.value as SetAsideReason })}
        sx={{ fontSize: 'size.text', minWidth: '13ch' }}
      >
        {chosenReasons.map((reason) => (
          <option key={reason} value={reason}>
            {asideWords[reason]}
          </option>
        ))}
      </NativeSelect>
      {button(say`count it`, say`Count lap ${lap} again`, null)}
    </Stack>
  )
}
