import { Box, Button, Stack, Typography } from '@mui/material'
import {
  type Cone,
  type ConeEdits,
  type CornerMetrics,
  cornerOf,
  editDifference,
  type Mark,
  MIN_GRACE_S,
  markOf,
  type Plan,
} from '@ochote/core'
import { say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { FromSeatLink } from '../../shared/seat/from-seat-link.tsx'
import { movesInWords } from './cone-words.ts'

const signed = (value: number, digits: number): string => `${value < -1e-9 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`

/** Moves one group of cones by hand: metres along and across, locked where it stands; the computed place stays as a ghost. */
export const ConeEditor = ({
  plan,
  cones,
  groupId,
  hands,
  numbers,
  canChange,
  onChange,
  onClose,
}: {
  plan: Plan
  cones: readonly Cone[]
  groupId: string
  hands: ConeEdits
  numbers: CornerMetrics | undefined
  canChange: boolean
  onChange: (hands: { nudges: ConeEdits['nudges']; locks: ConeEdits['locks'] }) => void
  onClose: () => void
}) => {
  const cone = cones.filter((c) => c.groupId === groupId).at(-1)
  if (!cone) return null
  const mark = markOf(plan.marks, cone.cornerId, cone.kind as Mark['kind'])
  const difference = editDifference(cone, mark?.speed_mps ?? 1, plan.circuit.length_m)
  const nudge = hands.nudges[groupId] ?? { along_m: 0, across_m: 0 }
  const locked = hands.locks[groupId] !== undefined
  const grace_s = numbers?.grace && difference.grace_s !== null ? numbers.grace.time_s + difference.grace_s : null
  const move = (along_m: number, across_m: number): void =>
    onChange({
      nudges: { ...hands.nudges, [groupId]: { along_m: nudge.along_m + along_m, across_m: Math.max(0, nudge.across_m + across_m) } },
      locks: hands.locks,
    })
  const without = <T,>(record: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(record).filter(([key]) => key !== groupId))
  const toggleLock = (): void =>
    onChange({
      nudges: hands.nudges,
      locks: locked ? without(hands.locks) : { ...hands.locks, [groupId]: { station_m: cone.station_m, offset_m: cone.offset_m } },
    })
  const name = cornerOf(plan.corners, cone.cornerId)?.name
  const step = (label: string, along_m: number, across_m: number) => (
    <Button
      size="small"
      variant="outlined"
      disabled={!canChange || locked}
      onClick={() => move(along_m, across_m)}
      sx={{ minWidth: 0, px: 2 }}
    >
      {label}
    </Button>
  )
  return (
    <Box component="section" aria-label={say`Moved by hand`} sx={{ borderTop: 'chosen', borderColor: 'text.primary', py: 2 }}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center', mb: 1 }}>
        <ConeGlyph colour={cone.colour} shape={cone.shape} />
        <Typography sx={{ fontWeight: 640 }}>{`${coneNames[cone.kind]}${name ? say` at ${name}` : ''}`}</Typography>
        <Box sx={{ flex: 1 }} />
        <FromSeatLink cornerId={cone.cornerId} station_m={cone.station_m} />
        <Button size="small" variant="text" onClick={onClose}>
          {say`Close`}
        </Button>
      </Stack>
      {cone.moved.length > 0 && (
        <Typography variant="text" color="text.secondary" sx={{ mb: 1 }}>
          {movesInWords(cone.moved)}
        </Typography>
      )}
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        {step(say`5 m earlier`, -5, 0)}
        {step(say`1 m earlier`, -1, 0)}
        {step(say`1 m later`, 1, 0)}
        {step(say`5 m later`, 5, 0)}
        {step(say`0.5 m out`, 0, 0.5)}
        {step(say`0.5 m in`, 0, -0.5)}
        <Button size="small" variant={locked ? 'contained' : 'outlined'} disabled={!canChange} onClick={toggleLock}>
          {locked ? say`Unlock` : say`Lock here`}
        </Button>
        <Button
          size="small"
          variant="text"
          disabled={!canChange || (!locked && !hands.nudges[groupId])}
          onClick={() => onChange({ nudges: without(hands.nudges), locks: without(hands.locks) })}
        >
          {say`Back to the computed place`}
        </Button>
      </Stack>
      <Typography sx={{ ...figures, mt: 2 }} role="status" aria-label={say`Difference to the computed place`}>
        {say`${signed(lengthOf(difference.along_m), 1)} ${lengthUnit} along, ${signed(lengthOf(difference.across_m), 1)} ${lengthUnit} out`}
        {difference.grace_s !== null ? say`, ${signed(difference.grace_s, 2)} s of grace` : ''}
        {grace_s === null ? '' : say` (${grace_s.toFixed(2)} s left)`}
      </Typography>
      {grace_s !== null && grace_s < MIN_GRACE_S && difference.along_m > 0.05 && (
        <Typography variant="text" sx={{ color: 'warning.main', fontWeight: 600 }}>
          {say`Later than the plan advises: less than ${MIN_GRACE_S} s of grace are left here.`}
        </Typography>
      )}
      {!canChange && (
        <Typography variant="text" color="text.secondary">
          {say`What is moved by hand is kept with a day, on its own layout: make a day, or look at its layout again.`}
        </Typography>
      )}
    </Box>
  )
}
