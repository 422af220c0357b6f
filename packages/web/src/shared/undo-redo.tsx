import { Button } from '@mui/material'
import { say } from '../language/say.ts'

/** The two buttons that take a change back and do it again. */
export const UndoRedo = ({ undo, redo }: { undo: (() => void) | null; redo: (() => void) | null }) => (
  <>
    <Button variant="outlined" size="small" disabled={!undo} onClick={() => undo?.()}>
      {say`Undo`}
    </Button>
    <Button variant="outlined" size="small" disabled={!redo} onClick={() => redo?.()}>
      {say`Redo`}
    </Button>
  </>
)
