import { Box, Button, Stack, Typography } from '@mui/material'
import type { CarCondition } from '@ochote/contract'
import type { Verdict } from '@ochote/core'
import { useState } from 'react'

const parts = ['brakes', 'tyres', 'other'] as const
type Part = (typeof parts)[number]
type Condition = Pick<CarCondition, Part>

const partWords: Record<Part, string> = { brakes: 'Brakes', tyres: 'Tyres', other: 'Anything else' }
const verdictWords: Record<Verdict, string> = { good: 'good', watch: 'keep an eye on', stop: 'do not drive' }

/** Last known condition of a car, in words; null where there is nothing to say. */
export const conditionInWords = (condition: Condition): string | null => {
  const faults = parts
    .filter((part) => condition[part] !== 'good')
    .map((part) => `${partWords[part].toLowerCase()}: ${verdictWords[condition[part]]}`)
  return faults.length === 0 ? null : faults.join('; ')
}

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
      <Typography role="status" aria-label="The car" sx={{ fontSize: 'size.note' }}>
        {`Car ${number}: ${conditionInWords(told) ?? 'good'}, kept for whoever takes it next.`}
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
      aria-label="The car after the run"
      direction="row"
      useFlexGap
      spacing={3}
      sx={{ alignItems: 'center', flexWrap: 'wrap' }}
    >
      <Box sx={{ flexBasis: '100%', fontSize: 'size.note', fontWeight: 640 }}>{`Car ${number}, ${partWords[part].toLowerCase()}?`}</Box>
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
