import { Box, Table, type TableProps } from '@mui/material'
import { say } from '../language/say.ts'

/** A table of rows; where its columns need more room than there is it scrolls in a frame of its own, not the page. */
export const RowTable = ({ 'aria-label': label, maxHeight, ...props }: TableProps & { 'aria-label': string; maxHeight?: string }) => (
  <Box
    role="region"
    aria-label={say`${label}, scrolls`}
    tabIndex={0}
    sx={{ overflow: 'auto', maxWidth: 1, ...(maxHeight ? { maxHeight } : {}) }}
  >
    <Table size="small" aria-label={label} stickyHeader={maxHeight !== undefined} {...props} />
  </Box>
)
