import { Button, Popover, Stack, TextField, Typography } from '@mui/material'
import { DateCalendar, LocalizationProvider, PickerDay, type PickerDayProps } from '@mui/x-date-pickers'
import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs'
import dayjs from 'dayjs'
import { say, staffLanguage } from '../language/say.ts'
import 'dayjs/locale/en-gb'
import { useState } from 'react'

const clock = /^([01]?\d|2[0-3])[:.]?([0-5]\d)$/

/** A time of day as hh:mm, told once the field is left; “915” and “9.15” are 09:15. */
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
  const [text, setText] = useState(value)
  const read = clock.exec(text.trim())
  const leave = (): void => {
    if (!read) {
      setText(value)
      return
    }
    const next = `${read[1].padStart(2, '0')}:${read[2]}`
    setText(next)
    if (next !== value) onChange(next)
  }
  return (
    <TextField
      label={label}
      value={text}
      error={!read}
      inputMode="numeric"
      slotProps={{ htmlInput: { title: say`A time as hh:mm`, className: 'figures' } }}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      sx={{ width }}
    />
  )
}

const MarkedDay = ({ marked, ...props }: PickerDayProps & { marked?: ReadonlySet<string> }) => {
  const has = !props.isDayFillerCell && marked?.has(props.day.format('YYYY-MM-DD'))
  return <PickerDay {...props} sx={{ borderRadius: 0, ...(has ? { fontWeight: 760, textDecoration: 'underline' } : {}) }} />
}

/** The days of a month, Monday first; dates with something on them are underlined. */
export const MonthOfDays = ({ date, marked, onDate }: { date: string; marked?: ReadonlySet<string>; onDate: (date: string) => void }) => (
  <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale={staffLanguage === 'en' ? 'en-gb' : staffLanguage}>
    <DateCalendar
      value={dayjs(date)}
      onChange={(next) => next && onDate(next.format('YYYY-MM-DD'))}
      slots={{ day: MarkedDay }}
      slotProps={{ day: { marked } as Partial<PickerDayProps> }}
      sx={{ m: 0, maxWidth: 1, '& .MuiPickersArrowSwitcher-root': { gap: 2 }, '& .MuiPickersArrowSwitcher-button': { m: 0 } }}
    />
  </LocalizationProvider>
)

/** A date as yyyy-mm-dd, chosen in a calendar that opens at it. */
export const DayField = ({ label, value, onChange }: { label: string; value: string; onChange: (date: string) => void }) => {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <Stack role="group" aria-label={label}>
      <Typography component="span" sx={{ fontSize: 'size.note', color: 'text.secondary' }}>
        {label}
      </Typography>
      <Button
        variant="outlined"
        color="secondary"
        aria-haspopup="dialog"
        aria-expanded={anchor !== null}
        sx={{ justifyContent: 'flex-start' }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {dayjs(value).format(say`dddd D MMMM YYYY`)}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <MonthOfDays
          date={value}
          onDate={(next) => {
            setAnchor(null)
            if (next !== value) onChange(next)
          }}
        />
      </Popover>
    </Stack>
  )
}
