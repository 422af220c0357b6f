import { Box, Button, Stack, Typography } from '@mui/material'
import {
  formatLapTime,
  isKnown,
  measuresFor,
  type Plan,
  type RecallMark,
  type RecallMode,
  type RecallTarget,
  readerWords,
  stationBefore,
  type UnitSystem,
} from '@ochote/core'
import { useMemo } from 'react'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import type { BandSpan } from '../../shared/road-layers.ts'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'

/** A round that was driven: how each target was met, taps that belonged to nothing, the lap with eyes closed. */
export type Driven = { mode: RecallMode; marks: RecallMark[]; extra: number; lap_s: number | null }

/** Nearer than this is on the moment (s). */
const ON_THE_MOMENT_S = 0.05

/** How a target was met, in words: “0.3 s late, 11 m”. */
export const tapInWords = ({ off_s, off_m }: Pick<RecallMark, 'off_s' | 'off_m'>, words: StudentWords, units: UnitSystem): string => {
  const { memory } = words.phone
  if (off_s === null || off_m === null) return memory.missed
  if (Math.abs(off_s) < ON_THE_MOMENT_S) return memory.onTheMoment
  const measures = measuresFor(units, readerWords(words.code, units).numbers)
  return memory.off(measures.seconds(off_s), measures.metres(Math.abs(off_m)), off_s < 0)
}

/** A round on the band: from where it was to be done to where it was tapped. */
const spansOf = (plan: Plan, targets: readonly RecallTarget[], { marks, mode }: Driven, words: StudentWords): BandSpan[] =>
  marks.flatMap((mark) => {
    const target = targets.find((t) => t.cornerId === mark.cornerId && t.action === mark.action)
    if (!target || mark.off_s === null) return []
    const tapped_m = stationBefore(plan, target.station_m, -mark.off_s)
    const isEarly = mark.off_s < 0
    return [
      {
        id: `${mark.cornerId} ${mark.action}`,
        from_m: isEarly ? tapped_m : target.station_m,
        to_m: isEarly ? target.station_m : tapped_m,
        mark_m: target.station_m,
        label: words.phone.memory.actions[mark.action],
        tone: isKnown(mark, mode) ? ('said' as const) : ('lost' as const),
      },
    ]
  })

/** What a round came to: on the band, and corner by corner in words. */
export const MemoryResult = ({
  plan,
  targets,
  driven,
  due,
  waiting,
  words,
  units,
  onAgain,
}: {
  plan: Plan
  targets: readonly RecallTarget[]
  driven: Driven
  /** Corners that come back. */
  due: readonly string[]
  waiting: number
  words: StudentWords
  units: UnitSystem
  onAgain: () => void
}) => {
  const { memory } = words.phone
  const { marks, mode, extra, lap_s } = driven
  const layers = useMemo(() => ({ spans: spansOf(plan, targets, driven, words) }), [plan, targets, driven, words])
  const nameOf = (id: string): string => {
    const corner = plan.corners.find((c) => c.id === id)
    return corner ? cornerLabel(corner) : id
  }
  const ids = [...new Set(marks.map((m) => m.cornerId))]
  const known = marks.filter((m) => isKnown(m, mode)).length
  return (
    <Stack spacing={4} sx={{ p: 4, maxWidth: 900, mx: 'auto' }}>
      <Typography variant="title" component="h1">
        {memory.known(known, marks.length)}
      </Typography>
      {lap_s !== null && <Typography>{memory.lap(formatLapTime(lap_s, 1), formatLapTime(plan.profile.lapTime_s, 1))}</Typography>}
      <LapSelectionProvider>
        <LapBand plan={plan} layers={layers} height={150} compact label={memory.title} />
      </LapSelectionProvider>
      <Box component="ul" aria-label={memory.known(known, marks.length)} sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {ids.map((id) => {
          const own = marks.filter((m) => m.cornerId === id)
          const tapped = own.some((m) => m.off_s !== null)
          return (
            <Box key={id} component="li" sx={{ borderTop: 'hair', borderColor: 'divider', py: 2 }}>
              <Typography sx={{ fontWeight: 620 }}>{tapped ? nameOf(id) : `${nameOf(id)}: ${memory.missed}`}</Typography>
              {(tapped ? own : []).map((m) => (
                <Typography
                  key={m.action}
                  className="figures"
                  sx={{ borderLeft: 'note', borderColor: isKnown(m, mode) ? 'divider' : 'warning.main', pl: 3, mt: 1 }}
                >
                  {`${memory.actions[m.action]}: ${tapInWords(m, words, units)}`}
                </Typography>
              ))}
            </Box>
          )
        })}
      </Box>
      {extra > 0 && <Typography>{memory.extra(extra)}</Typography>}
      <Typography>{due.length === 0 ? memory.allKnown : memory.comesBack(due.map(nameOf).join(', '))}</Typography>
      <Typography color="text.secondary" role="status">
        {waiting > 0 ? memory.waiting(waiting) : memory.kept}
      </Typography>
      <Button variant="contained" onClick={onAgain}>
        {memory.again}
      </Button>
    </Stack>
  )
}
