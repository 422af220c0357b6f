import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import type { DayFlag } from '@ochote/core'
import { useState } from 'react'
import { say } from '../language/say.ts'
import { FlagSign } from './flag-sign.tsx'

/** Flags of a venue, and what each means there. */
export const FlagsField = ({ flags, onChange }: { flags: readonly DayFlag[]; onChange: (flags: DayFlag[]) => void }) => {
  const [draft, setDraft] = useState<DayFlag>({ name: '', meaning: '' })
  return (
    <Box role="group" aria-label={say`Flags`}>
      <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{say`Flags and what they mean here`}</Box>
      {flags.map((flag) => (
        <Stack key={flag.name} direction="row" spacing={2} sx={{ alignItems: 'center' }}>
          <FlagSign name={flag.name} height={14} />
          <Typography variant="text" sx={{ flex: 1 }}>{`${flag.name}: ${flag.meaning}`}</Typography>
          <Button
            size="small"
            variant="text"
            aria-label={say`Take away the flag ${flag.name}`}
            onClick={() => onChange(flags.filter((f) => f !== flag))}
          >
            {say`Take away`}
          </Button>
        </Stack>
      ))}
      {flags.length < 12 && (
        <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
          <TextField
            label={say`Flag`}
            value={draft.name}
            slotProps={{ htmlInput: { maxLength: 40 } }}
            sx={{ width: 110 }}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          <TextField
            label={say`What it means`}
            value={draft.meaning}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            sx={{ flex: '1 1 140px' }}
            onChange={(e) => setDraft({ ...draft, meaning: e.target.value })}
          />
          <Button
            size="small"
            variant="outlined"
            disabled={draft.name.trim() === '' || flags.some((f) => f.name === draft.name.trim())}
            onClick={() => {
              onChange([...flags, { name: draft.name.trim(), meaning: draft.meaning.trim() }])
              setDraft({ name: '', meaning: '' })
            }}
          >
            {say`Add the flag`}
          </Button>
        </Stack>
      )}
    </Box>
  )
}
