import { DateField, LocalizationProvider, TimeField } from '@mui/x-date-pickers'
import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs'
import dayjs from 'dayjs'
import { useState } from 'react'

/** A time of day as hh:mm, told once the field is left. */
export const ClockField = ({
  label,
  value,
  width,
  onChange,
}: {
  label: string
  value: string
  width: number
  onChange: (clock: string) => void
}) => {
  const [now, setNow] = useState(value)
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <TimeField
        label={label}
        ampm={false}
        format="HH:mm"
        defaultValue={dayjs(`2000-01-01T${value}`)}
        onChange={(next) => next?.isValid() && setNow(next.format('HH:mm'))}
        onBlur={() => now !== value && onChange(now)}
        sx={{ width }}
      />
    </LocalizationProvider>
  )
}

/** A date as yyyy-mm-dd, told once the field is left. */
export const DayField = ({ label, value, onChange }: { label: string; value: string; onChange: (date: string) => void }) => {
  const [now, setNow] = useState(value)
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <DateField
        label={label}
        format="DD.MM.YYYY"
        defaultValue={dayjs(value)}
        onChange={(next) => next?.isValid() && next.year() > 1999 && setNow(next.format('YYYY-MM-DD'))}
        onBlur={() => now !== value && onChange(now)}
      />
    </LocalizationProvider>
  )
}
