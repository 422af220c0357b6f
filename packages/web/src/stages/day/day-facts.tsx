import { Box, Checkbox, FormControlLabel, Stack, TextField, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { circuitsQuery, sessionQuery, venuesQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { FlagsField } from '../../shared/flags-field.tsx'
import { LinesField } from '../../shared/lines-field.tsx'
import { DayField } from '../../shared/time-fields.tsx'

type Props = { plan: DayPlan; onChange: (change: Partial<DayPlan>) => void }

const TextLine = ({
  label,
  value,
  max,
  required = false,
  onChange,
}: {
  label: string
  value: string
  max: number
  required?: boolean
  onChange: (text: string) => void
}) => {
  const [text, setText] = useState(value)
  const missing = required && text.trim() === ''
  return (
    <TextField
      label={label}
      value={text}
      error={missing}
      helperText={missing ? say`It needs one` : ''}
      slotProps={{ htmlInput: { maxLength: max } }}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => {
        if (missing) setText(value)
        else if (text.trim() !== value) onChange(text.trim())
      }}
    />
  )
}

/** Title, date, venue, weather, rules and flags of a day. */
export const DayFacts = ({ plan, onChange }: Props) => {
  const circuits = useQuery(circuitsQuery)
  const venues = useQuery(venuesQuery)
  const session = useQuery(sessionQuery)
  const circuit = circuits.data?.find((c) => c.id === plan.settings.circuitId)
  const venue = venues.data?.find((v) => v.id === circuit?.venueId)
  return (
    <Stack spacing={3} component="section" aria-label={say`The day itself`}>
      <TextLine
        key={`title ${plan.title}`}
        label={say`Title`}
        value={plan.title}
        max={80}
        required
        onChange={(title) => onChange({ title })}
      />
      <DayField key={`date ${plan.date}`} label={say`Date`} value={plan.date} onChange={(date) => onChange({ date })} />
      <TextLine key={`venue ${plan.venue}`} label={say`Venue`} value={plan.venue} max={80} onChange={(v) => onChange({ venue: v })} />
      <TextLine
        key={`weather ${plan.weather}`}
        label={say`Weather`}
        value={plan.weather}
        max={200}
        onChange={(weather) => onChange({ weather })}
      />
      <LinesField
        label={say`Rules of the day`}
        lines={plan.rules}
        note={say`One line for each; briefing and prints show them.`}
        onChange={(rules) => onChange({ rules })}
      />
      <FlagsField flags={plan.flags} onChange={(flags) => onChange({ flags })} />
      {session.data?.simulated && !session.data.demo && (
        <FormControlLabel
          control={<Checkbox size="small" checked={plan.practice} onChange={(_, practice) => onChange({ practice })} />}
          label={say`A practice day: whatever is started on it from now on counts in no record`}
        />
      )}
      {venue && (venue.emergency !== '' || venue.phones.length > 0) && (
        <Box>
          <Typography variant="head" component="h3">{say`In an emergency at ${venue.name}`}</Typography>
          <Typography variant="text" sx={{ whiteSpace: 'pre-line' }}>
            {venue.emergency}
          </Typography>
          {venue.phones.map((phone) => (
            <Typography key={`${phone.name} ${phone.number}`} className="figures">{`${phone.name}: ${phone.number}`}</Typography>
          ))}
        </Box>
      )}
    </Stack>
  )
}
