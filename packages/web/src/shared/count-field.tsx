import { TextField } from '@mui/material'
import { useState } from 'react'
import { say } from '../language/say.ts'

/** A whole number from a field; null where it is none or out of range. */
const whole = (text: string, min: number, max: number): number | null => {
  const value = Number(text)
  return text.trim() !== '' && Number.isInteger(value) && value >= min && value <= max ? value : null
}

/** A whole number in a table, told once the field is left; the column or row beside it names it. */
export const CountField = ({
  label,
  value,
  min,
  max,
  onChange,
}: {
  label: string
  value: number
  min: number
  max: number
  onChange: (value: number) => void
}) => {
  const [text, setText] = useState(String(value))
  const read = whole(text, min, max)
  return (
    <TextField
      value={text}
      error={read === null}
      helperText={read === null ? say`${min} to ${max}` : ''}
      slotProps={{ htmlInput: { inputMode: 'numeric', 'aria-label': label, className: 'figures' } }}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => read !== null && read !== value && onChange(read)}
      sx={{ width: 64 }}
    />
  )
}
