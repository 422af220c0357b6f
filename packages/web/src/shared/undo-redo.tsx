import { Button } from '@mui/material'

/** The two buttons that take a change back and do it again. */
export const UndoRedo = ({ undo, redo }: { undo: (() => void) | null; redo: (() => void) | null }) => (
  <>
    <Button variant="outlined" size="small" disabled={!undo} onClick={() => undo?.()}>
      Undo
    </Button>
    <Button variant="outlined" size="small" disabled={!redo} onClick={() => redo?.()}>
      Redo
    </Button>
  </>
)
