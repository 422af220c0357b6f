import { Box, Button, Stack, TextField } from '@mui/material'
import type { Advice, StuckRate } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { adviceText, correctionFor, countInWords } from '../../shared/language/staff-words.ts'

/** Ways to say the same correction: with a size, by how it feels, or in short. */
const waysOf = (advice: Advice): string[] => {
  const advised = adviceText(advice)
  return [advised.say, advised.cue, correctionFor(advice.code)]
}

type Props = {
  advice: Advice
  /** Words said about this corner and mistake in this run. */
  said: readonly { id: string; words: string }[]
  /** Success of this student's corrections, by wording. */
  rates: readonly StuckRate[]
  onSay: (words: string) => void
  onTakeBack: (id: string) => void
}

/** Keeps in which words a correction was said, so that the record can tell which words stick with this student. */
export const SaidIt = ({ advice, said, rates, onSay, onTakeBack }: Props) => {
  const [open, setOpen] = useState(false)
  const [own, setOwn] = useState('')
  const rateOf = (words: string): string => {
    const rate = rates.find((r) => r.code === advice.code && r.words === words)?.rate
    return rate && rate.of > 0 ? say`, stuck ${countInWords(rate)}` : ''
  }
  const last = said.at(-1)
  const tell = (words: string): void => {
    onSay(words)
    setOwn('')
    setOpen(false)
  }
  if (!open)
    return (
      <Stack direction="row" spacing={2} sx={{ mt: 1, alignItems: 'center' }} onClick={(e) => e.stopPropagation()}>
        <Button size="small" variant="outlined" aria-expanded={false} onClick={() => setOpen(true)}>
          {say`Said it`}
        </Button>
        {last && (
          <>
            <Box component="span" sx={{ fontSize: 'size.text', color: 'text.secondary' }}>{say`Said: “${last.words}”`}</Box>
            <Button
              size="small"
              sx={{ whiteSpace: 'nowrap', flexShrink: 0 }}
              aria-label={say`Undo: ${last.words}`}
              onClick={() => onTakeBack(last.id)}
            >
              {say`Undo`}
            </Button>
          </>
        )}
      </Stack>
    )
  return (
    <Stack
      spacing={1}
      sx={{ mt: 1, alignItems: 'flex-start' }}
      role="group"
      aria-label={say`In which words`}
      onClick={(e) => e.stopPropagation()}
    >
      {waysOf(advice).map((words) => (
        <Button
          key={words}
          size="small"
          variant="outlined"
          sx={{ textAlign: 'left', justifyContent: 'flex-start' }}
          onClick={() => tell(words)}
        >
          {`“${words}”${rateOf(words)}`}
        </Button>
      ))}
      <Stack
        component="form"
        direction="row"
        spacing={2}
        sx={{ alignSelf: 'stretch' }}
        onSubmit={(event) => {
          event.preventDefault()
          if (own.trim() !== '') tell(own.trim())
        }}
      >
        <TextField
          label={say`Own words`}
          value={own}
          onChange={(e) => setOwn(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <Button size="small" type="submit" disabled={own.trim() === ''}>
          {say`Save`}
        </Button>
        <Button size="small" onClick={() => setOpen(false)}>
          {say`Cancel`}
        </Button>
      </Stack>
    </Stack>
  )
}
