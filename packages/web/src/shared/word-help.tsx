import { Box, Popover, Typography } from '@mui/material'
import { type MouseEvent, useId, useState } from 'react'
import { say } from '../language/say.ts'
import { type ExplainedWord, explained } from './word-help-words.ts'

const mark = {
  border: 0,
  background: 'none',
  font: 'inherit',
  fontSize: 'var(--note)',
  fontWeight: 700,
  lineHeight: 1,
  color: 'text.secondary',
  px: 1,
  py: 1,
  cursor: 'help',
  verticalAlign: 'baseline',
  '&:hover, &[aria-expanded="true"]': { color: 'primary.main' },
  '@media print': { display: 'none' },
}

/** A quiet mark beside a word that opens its explanation: what it is, and what to do with it. */
export const WordHelp = ({ word }: { word: ExplainedWord }) => {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const id = useId()
  const [name, meaning] = explained[word]
  const open = (event: MouseEvent<HTMLElement>): void => {
    // The mark may stand in a heading that sorts, or in a row that opens.
    event.preventDefault()
    event.stopPropagation()
    setAnchor(event.currentTarget)
  }
  return (
    <>
      <Box
        component="button"
        type="button"
        aria-label={say`What “${name}” means`}
        aria-expanded={anchor !== null}
        aria-controls={anchor ? id : undefined}
        onClick={open}
        sx={mark}
      >
        ?
      </Box>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={(event: { stopPropagation?: () => void }) => {
          event.stopPropagation?.()
          setAnchor(null)
        }}
        onClick={(event) => event.stopPropagation()}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { id, sx: { maxWidth: 340, p: 3, border: 'hair', borderColor: 'text.primary' } } }}
      >
        <Typography component="p" sx={{ fontWeight: 680 }}>
          {name}
        </Typography>
        <Typography variant="text">{meaning}</Typography>
      </Popover>
    </>
  )
}
