import { Box, Button } from '@mui/material'
import { type ConeSet, isCured } from '@ochote/core'
import { useState } from 'react'
import { say } from '../../language/say.ts'
import { conflictInWords, droppedInWords, hiddenInWords, sameViewInWords, schemeProblemInWords, unplacedInWords } from './cone-words.ts'

/** Problems to look at before the truck leaves, gravest first; the rest opens on demand. */
export const ConeProblems = ({ set, nameOf }: { set: ConeSet; nameOf: (cornerId: string) => string }) => {
  const [all, setAll] = useState(false)
  const grave = [
    ...set.problems.map(schemeProblemInWords),
    ...set.unplaced.map((u) => unplacedInWords(u, nameOf)),
    ...set.conflicts.filter((c) => !isCured(c)).map((c) => conflictInWords(c, nameOf)),
    ...droppedInWords(set.dropped, nameOf),
    ...set.hidden.filter((h) => h.helps !== 'sighter').map((h) => hiddenInWords(h, nameOf)),
    ...set.views.filter((v) => v.sameShape).map((v) => sameViewInWords(v, nameOf)),
  ]
  const light = [
    ...set.conflicts.filter(isCured).map((c) => conflictInWords(c, nameOf)),
    ...set.hidden.filter((h) => h.helps === 'sighter').map((h) => hiddenInWords(h, nameOf)),
    ...set.views.filter((v) => !v.sameShape).map((v) => sameViewInWords(v, nameOf)),
  ]
  if (grave.length + light.length === 0) return null
  const shown = all ? [...grave, ...light] : [...grave, ...light].slice(0, Math.max(1, Math.min(2, grave.length)))
  const more = grave.length + light.length - shown.length
  return (
    <Box
      role="note"
      sx={{
        borderLeft: 'note',
        borderColor: grave.length > 0 ? 'warning.main' : 'divider',
        pl: 3,
        fontSize: 'size.text',
        lineHeight: 1.35,
      }}
    >
      {shown.map((line, i) => (
        <Box key={line}>
          {line}
          {(more > 0 || all) && i === shown.length - 1 && (
            <Button size="small" variant="text" onClick={() => setAll(!all)} sx={{ minHeight: 0, p: 0, ml: 3, minWidth: 0 }}>
              {all ? say`Fewer` : say`${more} more`}
            </Button>
          )}
        </Box>
      ))}
    </Box>
  )
}
