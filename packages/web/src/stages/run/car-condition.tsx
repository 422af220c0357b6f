import { Box, Button, Stack, Typography } from '@mui/material'
import type { Verdict } from '@ochote/core'
import { useState } from 'react'
import { inside, say } from '../../language/say.ts'
import {
  type Condition,
  conditionInWords,
  type ConditionPart as Part,
  conditionParts as parts,
  partWords,
  verdictWords,
} from '../../shared/condition-words.ts'

/** Condition of the car in three touches, for whoever takes it next. */
export const CarAfterRun = ({
  number,
  told,
  onTell,
}: {
  number: string
  told: Condition | null
  onTell: (condition: Condition) => void
}) => {
  const [chosen, setChosen] = useState<Partial<Condition>>({})
  if (told)
    return (
      <Typography role="status" aria-label={say`The car`} sx={{ fontSize: 'size.note' }}>
        {say`Car ${number}: ${conditionInWords(told) ?? say`good`}, kept for whoever takes it next.`}
      </Typography>
    )
  const choose = (part: Part, verdict: Verdict): void => {
    const next = { ...chosen, [part]: verdict }
    setChosen(next)
    const { brakes, tyres, other } = next
    if (brakes && tyres && other) onTell({ brakes, tyres, other })
  }
  // One part at a time: never more than three targets, big ones.
  const part = parts.find((p) => chosen[p] === undefined) ?? 'other'
  return (
    <Stack
      component="section"
      aria-label={say`The car after the run`}
      direction="row"
      useFlexGap
      spacing={3}
      sx={{ alignItems: 'center', flexWrap: 'wrap' }}
    >
      <Box sx={{ flexBasis: '100%', fontSize: 'size.note', fontWeight: 640 }}>{say`Car ${number}, ${inside(partWords[part])}?`}</Box>
      {(['good', 'watch', 'stop'] as const).map((verdict) => (
        <Button
          key={verdict}
          variant="outlined"
          aria-label={`${partWords[part]}: ${verdictWords[verdict]}`}
          onClick={() => choose(part, verdict)}
          sx={{ minHeight: 72, minWidth: 190, fontSize: 'size.note' }}
        >
          {verdictWords[verdict]}
        </Button>
      ))}
    </Stack>
  )
}
