import { TextField } from '@mui/material'
import { say } from '../language/say.ts'

/** Lines of text as they are typed: one a row. */
export const LinesField = ({
  label,
  lines,
  note,
  onChange,
}: {
  label: string
  lines: readonly string[]
  note?: string
  onChange: (lines: string[]) => void
}) => (
  <TextField
    key={lines.join('\n')}
    label={label}
    multiline
    minRows={3}
    maxRows={10}
    defaultValue={lines.join('\n')}
    helperText={note ?? say`One line for each; an empty field takes the page away.`}
    onBlur={(e) => {
      const next = e.target.value
        .split('\n')
        .map((l) => l.trim().slice(0, 300))
        .filter(Boolean)
        .slice(0, 20)
      if (next.join('\n') !== lines.join('\n')) onChange(next)
    }}
  />
)
