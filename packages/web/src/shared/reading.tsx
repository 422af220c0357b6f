import { Box, Typography } from '@mui/material'

/** Rows of a frame: about what a list shows first. */
const FRAME_ROWS = 6

/** What is being read or computed, in words, over the frame of what comes: rows of a list, or the road of a lap. */
export const Reading = ({ what, frame = 'rows' }: { what: string; frame?: 'rows' | 'lap' }) => (
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
