import { Box, Button, Stack, TextField } from '@mui/material'
import { type Advice, adviceText, correctionFor, countInWords, type StuckRate } from '@ochote/core'
import { useState } from 'react'

/** Ways to say the same correction: with a size, by how it feels, or in short. */
const waysOf = (advice: Advice): string[] => {
  const { say, cue } = adviceText(advice)
  return [say, cue, correctionFor(advice.code)]
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
    return rate && rate.of > 0 ? `, stuck ${countInWords(rate)}` : ''
  }
  const last = said.at(-1)
  const say = (words: string): void => {
    onSay(words)
    setOwn('')
    setOpen(false)
  }
  if (!open)
    return (
      <Stack direction="row" spacing={2} sx={{ mt: 1, alignItems: 'center' }} onClick={(e) => e.stopPropagation()}>
        <Button size="small" variant="outlined" aria-expanded={false} onClick={() => setOpen(true)}>
          Said it
        </Button>
        {last && (
          <>
            <Box component="span" sx={{ fontSize: 'size.text', color: 'text.secondary' }}>{`Said: “${last.words}”`}</Box>
            <Button
              size="small"
              sx={{ whiteSpace: 'nowrap', flexShrink: 0 }}
              aria-label={`Undo: ${last.words}`}
              onClick={() => onTakeBack(last.id)}
            >
              Undo
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
      aria-label="In which words"
      onClick={(e) => e.stopPropagation()}
    >
      {waysOf(advice).map((words) => (
        <Button
          key={words}
          size="small"
          variant="outlined"
          sx={{ textAlign: 'left', justifyContent: 'flex-start' }}
          onClick={() => say(words)}
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
          if (own.trim() !== '') say(own.trim())
        }}
      >
        <TextField
          label="Own words"
          value={own}
          onChange={(e) => setOwn(e.target.value)}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <Button size="small" type="submit" disabled={own.trim() === ''}>
          Save
        </Button>
        <Button size="small" onClick={() => setOpen(false)}>
          Cancel
        </Button>
      </Stack>
    </Stack>
  )
}
