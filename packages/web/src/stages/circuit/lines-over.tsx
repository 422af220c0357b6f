import { MenuItem, Stack, TextField, Typography } from '@mui/material'
import { formatDifference, type LineMethod, lineMethods, type Plan } from '@ochote/core'
import { say } from '../../language/say.ts'
import { overlayDash } from '../../shared/marks/dashes.ts'
import { lineWords } from '../../shared/plan/line-words.ts'

type Props = { plan: Plan; plans: readonly Plan[]; chosen: LineMethod[]; onChoose: (methods: LineMethod[]) => void }

/** Lines by other methods laid over the road, each with what its lap gains or loses. */
export const LinesOver = ({ plan, plans, chosen, onChoose }: Props) => (
  <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
    <TextField
      select
      aria-label={say`Compare lines`}
      value={chosen}
      onChange={(e) => onChoose(e.target.value as unknown as LineMethod[])}
      sx={{ width: 150, '& .MuiSelect-select': { py: 1, fontWeight: 600, fontSize: 'size.text' } }}
      slotProps={{
        select: {
          multiple: true,
          displayEmpty: true,
          renderValue: () => (chosen.length === 0 ? say`Other lines` : say`${chosen.length} over it`),
        },
        htmlInput: { 'aria-label': say`Compare lines` },
      }}
    >
      {lineMethods
        .filter((m) => m !== (plan.settings.method ?? 'smoothest'))
        .map((m) => (
          <MenuItem key={m} value={m}>
            {lineWords[m].name}
          </MenuItem>
        ))}
    </TextField>
    {plans.map((p, i) => (
      <Typography key={p.settings.method} variant="text" className="figures" sx={{ whiteSpace: 'nowrap' }}>
        <svg width="22" height="8" aria-hidden="true">
          <line x1="0" x2="22" y1="4" y2="4" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray={overlayDash(i)} />
        </svg>
        {` ${lineWords[p.settings.method ?? 'smoothest'].name} ${formatDifference(p.profile.lapTime_s - plan.profile.lapTime_s)}`}
      </Typography>
    ))}
  </Stack>
)
