import { Box, Typography } from '@mui/material'
import { ProblemNote } from './problem-note.tsx'

/** Rows of a frame: about what a list shows first. */
const FRAME_ROWS = 6

type Props = { what: string; frame?: 'rows' | 'lap'; error?: unknown }

/** What is being read or computed, in words, over the frame of what comes: rows of a list, or the road of a lap; the problem where it failed. */
export const Reading = ({ what, frame = 'rows', error }: Props) =>
  error ? (
    <ProblemNote error={error} />
  ) : (
    <Box>
      <Typography role="status" color="text.secondary" sx={{ mb: 2 }}>
        {what}
      </Typography>
      <Box aria-hidden>
        {frame === 'lap' && <Box sx={{ height: '12dvh', backgroundColor: 'var(--verge)', mb: 4 }} />}
        {Array.from({ length: FRAME_ROWS }, (_, row) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: empty rows that never move
          <Box key={row} sx={{ height: '4dvh', borderBottom: 'hair', borderColor: 'divider' }} />
        ))}
      </Box>
    </Box>
  )
