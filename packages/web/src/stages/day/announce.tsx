import { Box, Button, Stack, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { differsFromTold, whoIsChanged } from '@ochote/core'
import dayjs from 'dayjs'
import { say } from '../../language/say.ts'

/** The day with what it says now announced to everybody; what they knew until then is kept, so that each can be told what changed. */
export const withAnnounced = (plan: DayPlan, at: string): DayPlan => ({
  ...plan,
  announced: { at, slots: plan.slots, before: plan.announced?.slots ?? null },
  planning: { ...plan.planning, told: plan.planning.sessions },
})

/** The day as people follow it before anything was announced: at every change. */
const withNothingAnnounced = (plan: DayPlan): DayPlan => ({ ...plan, announced: null, planning: { ...plan.planning, told: null } })

type Props = {
  plan: DayPlan
  nameOf: (studentId: string) => string
  onChange: (next: (plan: DayPlan) => DayPlan) => void
}

/** Names of the first few, and how many more there are. */
const few = (names: readonly string[]): string =>
  names.length > 6 ? say`${names.slice(0, 6).join(', ')} and ${names.length - 6} more` : names.join(', ')

/** What people know of the day, whose times differ from that now, and the button that tells all of them at once. */
export const Announce = ({ plan, nameOf, onChange }: Props) => {
  if (plan.slots.length === 0) return null
  const { announced } = plan
  const changed = announced ? whoIsChanged(announced.slots, plan.slots) : []
  const differs = differsFromTold(plan)
  const words = !announced
    ? say`Nothing is announced yet: students’ pages and the board follow every change at once.`
    : !differs
      ? say`Announced at ${dayjs(announced.at).format('HH:mm')}; nothing has changed since.`
      : changed.length > 0
        ? say`Proposed, not announced: other times than at ${dayjs(announced.at).format('HH:mm')} for ${few(changed.map(nameOf))}.`
        : say`Proposed, not announced: what all do together differs from what was announced at ${dayjs(announced.at).format('HH:mm')}.`
  return (
    <Stack
      component="section"
      aria-label={say`Announcing`}
      direction="row"
      useFlexGap
      spacing={3}
      className="no-print"
      sx={{ alignItems: 'center', flexWrap: 'wrap' }}
    >
      <Box role="status" sx={differs ? { color: 'warning.main', fontWeight: 640 } : {}}>
        <Typography>{words}</Typography>
      </Box>
      {(!announced || differs) && (
        <Button
          size="small"
          variant={differs ? 'contained' : 'outlined'}
          onClick={() => onChange((now) => withAnnounced(now, new Date().toISOString()))}
        >
          {announced ? say`Announce the changes to all` : say`Announce it to all`}
        </Button>
      )}
      {announced && (
        <Button size="small" variant="text" onClick={() => onChange(withNothingAnnounced)}>
          {say`Let them follow every change`}
        </Button>
      )}
    </Stack>
  )
}
