import { Button, Stack } from '@mui/material'
import { say } from '../language/say.ts'

/** Above a page for paper, and not on the paper: print it, or go back. `back`: in words, to where. */
export const PrintButtons = ({ back, onBack }: { back: string; onBack: () => void }) => (
  <Stack direction="row" spacing={2} className="no-print">
    <Button variant="contained" onClick={() => window.print()}>
      {say`Print`}
    </Button>
    <Button variant="outlined" onClick={onBack}>
      {back}
    </Button>
  </Stack>
)
