import { Box, Typography } from '@mui/material'
import {
  type CornerMetrics,
  type CornerWarning,
  type CornerWorth,
  cornerOf,
  cornerRemarks,
  cornerWarnings,
  EMERGENCY_SHARE,
  isWithin,
  lookFrom,
  MIN_GRACE_S,
  MIN_SIGHT_S,
  markOf,
  type Plan,
  runOffFriction,
  type Shift,
  WARN_GRACE_S,
} from '@ochote/core'
import type { ReactNode } from 'react'
import { inside, say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { markNames } from '../marks/mark-words.ts'
import { WordHelp } from '../word-help.tsx'
import type { ExplainedWord } from '../word-help-words.ts'
import { cornerLabel } from './corner-words.ts'

export const purposeWords: Record<CornerWorth['purpose'], { name: string; explained: string }> = {
  exit: { name: say`Exit corner`, explained: say`a gain on the way in costs more on the way out` },
  entry: { name: say`Entry corner`, explained: say`braking later gains more than it costs through the corner` },
  'give-up': { name: say`Sacrifice corner`, explained: say`placed for the next one, which is worth more` },
}

export const warningWords: Record<CornerWarning, string> = {
  'little-grace': say`tight on braking`,
  'no-room-straight-on': say`no room to run straight on`,
  'mark-hidden': say`mark hidden`,
}

type RowProps = { label: string; help?: ExplainedWord; value: string; warn?: boolean; children: ReactNode }

const Row = ({ label, help, value, warn = false, children }: RowProps) => (
  <Box component="details" sx={{ borderBottom: 'hair', borderColor: 'divider', '& summary': { cursor: 'pointer', py: 1 } }}>
    <Box component="summary" sx={{ fontSize: 'size.text' }}>
      <Box component="span" sx={{ color: 'text.secondary', display: 'inline-block', minWidth: 92 }}>
        {label}
        {help && <WordHelp word={help} />}
      </Box>
      <Box component="span" className="figures" sx={{ fontWeight: 620, color: warn ? 'warning.main' : 'text.primary' }}>
        {value}
      </Box>
    </Box>
    <Typography variant="text" component="div" color="text.secondary" sx={{ pb: 2, pl: 4 }}>
      {children}
    </Typography>
  </Box>
)

/** What helps where brakes that come a second late do not stop in the run-off. */
const cureWords = ({ brakeEarlier_m, pace }: { brakeEarlier_m: number | null; pace: number | null }): string =>
  say`Fix: ${brakeEarlier_m === null ? say`no shift of the brake cone up to 100 m is enough` : say`brake cone ${metres(brakeEarlier_m)} earlier`}${pace === null ? say`; no pace down to 45% either.` : say`, or pace ${Math.round(100 * pace)}% here.`}`

const seconds = (value: number): string => `${value.toFixed(2)} s`

/** The use of a corner and the room it leaves, each number with its origin. */
export const CornerWhy = ({ plan, numbers, shifts }: { plan: Plan; numbers: CornerMetrics; shifts: readonly Shift[] }) => {
  const { worth, grace, straightOn, sight } = numbers
  const brake = markOf(plan.marks, numbers.cornerId, 'brake')
  const turnIn = markOf(plan.marks, numbers.cornerId, 'turn-in')
  const exit = markOf(plan.marks, numbers.cornerId, 'exit') ?? markOf(plan.marks, numbers.cornerId, 'apex')
  const warnings = cornerWarnings(numbers)
  const ofCorner = shiftsIn(plan, numbers.cornerId, shifts)
  const look = turnIn && lookFrom(plan, turnIn.station_m)
  const decided = straightOn?.cases.find((c) => c.late_s === 1)
  const driven = sight.filter((s) => ['brake', 'turn-in', 'apex', 'exit'].includes(s.kind))
  const worst = driven.reduce((min, s) => (s.time_s < min.time_s ? s : min), driven[0])
  return (
    <Box component="section" aria-label={say`Why`} sx={{ my: 2 }}>
      <Typography sx={{ fontWeight: 640 }}>
        {`${purposeWords[worth.purpose].name}: `}
        <Box component="span" sx={{ fontWeight: 400 }}>
          {purposeWords[worth.purpose].explained}
        </Box>
        {worth.purpose === 'give-up' && <WordHelp word="sacrifice" />}
      </Typography>
      <Row
        label={say`Price`}
        help="price"
        value={say`${worth.price_spmps.toFixed(3)} s per m/s of exit speed, no. ${worth.rank} of ${plan.corners.length}`}
      >
        {say`The lap is driven on from the ${exit?.kind === 'exit' ? say`exit` : say`apex`} at ${exit ? speedInWords(exit.speed_mps) : '–'}, once as planned and once 3.6 km/h slower, with all the drive that grip and engine give, until the speeds meet or the next brake point comes. The price is the difference of the two times.`}
      </Row>
      <Row
        label={say`Entry or exit`}
        help="entry-exit"
        value={brake ? say`${seconds(worth.entryGain_s)} to gain on entry, ${seconds(worth.exitRisk_s)} at risk on exit` : say`no braking`}
      >
        {brake
          ? say`Won: braking 5 m later swaps 5 m at the speed of release for 5 m at the speed of the brake point. At risk: the same turn on 5 m less of road, slower through the corner and out of it, at its price. The instructor may overrule this.`
          : say`No braking here, so nothing to gain on entry.`}
      </Row>
      <Row
        label={say`Grace`}
        help="grace"
        value={
          grace
            ? `${metres(grace.metres_m)}, ${seconds(grace.time_s)}${cornerRemarks(numbers).includes('tight-grace') ? say`, tight` : ''}`
            : say`no braking before the turn-in`
        }
        warn={warnings.includes('little-grace')}
      >
        {grace && turnIn && brake
          ? say`From the planned brake point at ${metres(brake.station_m)} (${speedInWords(brake.speed_mps)}) on, with the throttle kept, to the last place from which ${Math.round(100 * EMERGENCY_SHARE)}% of the full grip and brake limit still brings the speed down to ${speedInWords(turnIn.speed_mps)} at the turn-in, ${metres(turnIn.station_m)}. Below ${MIN_GRACE_S} s it is called tight, below ${WARN_GRACE_S} s it is a warning.`
          : say`Grace needs a brake point before the turn-in.`}
      </Row>
      <Row
        label={say`Straight on`}
        help="straight-on"
        value={
          !straightOn || !decided
            ? say`no braking before the turn-in`
            : decided.stops === null
              ? say`needs ${metres(decided.needs_m)} of grass, run-off unknown`
              : decided.stops
                ? say`still stops if braking is 1 s late`
                : say`needs ${metres(decided.needs_m)}, has ${metres(straightOn.runOff?.length_m ?? 0)}`
        }
        warn={warnings.includes('no-room-straight-on')}
      >
        {straightOn ? (
          <>
            {say`${metres(straightOn.toEdge_m)} of road straight on from the turn-in, then ${straightOn.runOff ? say`${metres(straightOn.runOff.length_m)} of ${straightOn.runOff.surface}, friction ${runOffFriction[straightOn.runOff.surface][plan.settings.surface === 'dry' ? 'dry' : 'wet'].toFixed(2)}` : say`run-off not recorded (grass assumed)`}. `}
            {straightOn.cases.map((c) => (
              <Box component="span" key={c.late_s} sx={{ display: 'block' }}>
                {say`Brakes ${c.late_s} s late: ${speedInWords(c.turnInSpeed_mps)} at the turn-in, ${speedInWords(c.edgeSpeed_mps)} at the edge, needs v²/2μg = ${metres(c.needs_m)} beyond it.`}
              </Box>
            ))}
          </>
        ) : (
          say`The check needs a brake point before the turn-in.`
        )}
      </Row>
      {straightOn?.mitigation && (
        <Typography role="note" sx={{ color: 'warning.main', fontWeight: 600, fontSize: 'size.text', py: 1 }}>
          {cureWords(straightOn.mitigation)}
        </Typography>
      )}
      {worst && (
        <Row
          label={say`Sight`}
          help="sight"
          value={
            worst.time_s >= 8
              ? say`all marks in sight 8 s ahead`
              : say`${inside(markNames[worst.kind])} visible ${worst.time_s.toFixed(1)} s ahead`
          }
          warn={warnings.includes('mark-hidden')}
        >
          {say`From eyes 1.1 m over the road to a cone of 0.45 m, over the heights and past verges noted as blind. At least ${MIN_SIGHT_S} s are wanted: ${driven.map((s) => `${inside(markNames[s.kind])} ${s.time_s >= 8 ? say`8 s or more` : `${s.time_s.toFixed(1)} s`}`).join(', ')}. A sighter cone before the mark, or a call, helps where it is hidden.`}
        </Row>
      )}
      <Row
        label={say`Gears`}
        value={
          ofCorner.length === 0
            ? say`no change of gear`
            : ofCorner.map((g) => say`${g.from} to ${g.to} at ${metres(g.station_m)}`).join(', ')
        }
      >
        {say`The lowest gear whose top speed is not exceeded; up at ${plan.vehicle.shiftEngineSpeed_rpm} rpm. A gear that would hold for less than 0.6 s is passed over. With straight braking, all changes are done before turn-in.`}
      </Row>
      {look && (
        <Row
          label={say`Eyes`}
          value={say`at turn-in, look at ${lookedAtInWords(plan, look, numbers.cornerId)}, ${look.ahead_s.toFixed(1)} s ahead`}
        >
          {say`The nearest brake, turn-in, apex or exit mark 3 to 6 s ahead at this pace; where there is none, the line 4 s ahead.${look.inSight ? '' : say` It is not in sight from there yet: look towards it, over the verge.`}`}
        </Row>
      )}
    </Box>
  )
}

/** What the eyes go to at the turn-in: the next mark, or the line where there is none. */
const lookedAtInWords = (plan: Plan, look: ReturnType<typeof lookFrom>, cornerId: string): string => {
  if (!look.mark) return say`the line at ${metres(look.station_m)}`
  const mark = say`the ${inside(markNames[look.mark.kind])}`
  if (look.mark.cornerId === cornerId) return mark
  return say`${mark} of ${cornerLabel(cornerOf(plan.corners, look.mark.cornerId) ?? plan.corners[0])}`
}

/** Changes of gear from a corner's first mark to its last. */
const shiftsIn = (plan: Plan, cornerId: string, shifts: readonly Shift[]): Shift[] => {
  const marks = plan.marks.filter((m) => m.cornerId === cornerId)
  const [first, last] = [marks[0], marks.at(-1)]
  return first && last ? shifts.filter((s) => isWithin(s.station_m, first.station_m, last.station_m, plan.circuit.length_m)) : []
}
