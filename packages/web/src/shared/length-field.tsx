import { TextField, type TextFieldProps } from '@mui/material'
import { useState } from 'react'
import { lengthFrom, lengthOf, lengthUnit } from '../language/staff-units.ts'

type Props = Omit<TextFieldProps, 'value' | 'onChange' | 'type'> & {
  label: string
  /** Length (m); null where nothing is entered. */
  value_m: number | null
  onChange: (value_m: number | null) => void
}

const shown = (value_m: number | null): string => (value_m === null ? '' : String(Number(lengthOf(value_m).toFixed(2))))

/** The length (m) that a text gives in the staff's units; null for an empty one, not a number where it is none. */
const read = (text: string): number | null => (text.trim() === '' ? null : lengthFrom(Number(text.trim().replace(',', '.'))))

/** A length, entered in the units of the staff. What is being typed stays as it is typed. */
export const LengthField = ({ label, value_m, onChange, ...props }: Props) => {
  const [typed, setTyped] = useState(() => shown(value_m))
  const text = Object.is(read(typed), value_m) ? typed : shown(value_m)
  return (
    <TextField
      {...props}
      label={`${label} (${lengthUnit})`}
      inputMode="decimal"
      value={Number.isNaN(value_m) ? typed : text}
      onChange={(e) => {
        setTyped(e.target.value)
        onChange(read(e.target.value))
      }}
    />
  )
}
