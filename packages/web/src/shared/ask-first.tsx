import { Button, type ButtonProps, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { say } from '../language/say.ts'

/** A button for what cannot be taken back: the first press asks in its place, the second one does it. */
export const AskFirst = ({
  label,
  question,
  yes,
  onYes,
  disabled = false,
  pending = false,
  ...button
}: {
  label: string
  /** What will happen, in a sentence. */
  question: string
  /** The word that does it, a verb. */
  yes: string
  onYes: () => void
  disabled?: boolean
  pending?: boolean
} & Pick<ButtonProps, 'size' | 'variant' | 'color'>) => {
  const [asking, setAsking] = useState(false)
  if (!asking)
    return (
      <Button size="small" variant="text" {...button} disabled={disabled} onClick={() => setAsking(true)}>
        {label}
      </Button>
    )
  return (
    <Stack direction="row" useFlexGap spacing={2} role="group" aria-label={label} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <Typography role="alert" variant="text">
        {question}
      </Typography>
      <Button
        size="small"
        variant="contained"
        color="error"
        disabled={pending}
        onClick={() => {
          setAsking(false)
          onYes()
        }}
      >
        {yes}
      </Button>
      <Button size="small" variant="outlined" color="secondary" onClick={() => setAsking(false)}>
        {say`No`}
      </Button>
    </Stack>
  )
}
