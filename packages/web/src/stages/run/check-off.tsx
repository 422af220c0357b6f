import { Box, Button, Stack } from '@mui/material'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { wallClock } from './run-words.ts'

/** Looked over before rolling: one touch when all is well, else a touch on each line that is not. */
export const CheckOff = ({
  lines,
  checked,
  onCheck,
}: {
  lines: readonly string[]
  checked: { at: string; open: readonly string[] } | null
  onCheck: (open: readonly string[]) => void
}) => {
  const [open, setOpen] = useState<readonly string[]>([])
  if (lines.length === 0) return null
  if (checked)
    return (
      <Box
        role="status"
        aria-label={say`Checked`}
        sx={{ fontSize: 'size.note', color: checked.open.length > 0 ? 'warning.main' : 'text.primary', fontWeight: 600 }}
      >
        {checked.open.length === 0
          ? say`Checked at ${wallClock(checked.at, false)}: all OK`
          : say`Not well at ${wallClock(checked.at, false)}: ${checked.open.join(', ')}`}
      </Box>
    )
  return (
    <Stack component="section" aria-label={say`Before rolling`} spacing={3}>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, gap: 3 }}>
        {lines.map((line) => {
          const wrong = open.includes(line)
          return (
            <Button
              key={line}
              variant="outlined"
              color={wrong ? 'warning' : 'secondary'}
              aria-pressed={wrong}
              onClick={() => setOpen(wrong ? open.filter((l) => l !== line) : [...open, line])}
              sx={{ justifyContent: 'flex-start', textAlign: 'left' }}
            >
              {wrong ? say`${line}: not OK` : line}
            </Button>
          )
        })}
      </Box>
      <Button variant="outlined" sx={{ alignSelf: 'flex-start', border: 'strong' }} onClick={() => onCheck(open)}>
        {open.length === 0 ? say`All OK` : say`Log ${open.length} not OK`}
      </Button>
    </Stack>
  )
}
