import { Autocomplete, Box, Button, Stack, TextField, Typography } from '@mui/material'
import { type CircuitSummary, type StoredVenue, venueSchema } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { circuitsQuery, sessionQuery, venuesQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useCircuits } from '../../data/school/use-circuits.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { FlagsField } from '../../shared/flags-field.tsx'
import { LinesField } from '../../shared/lines-field.tsx'
import { LostFields } from '../../shared/lost-fields.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

const NONE = 'none'

/** All circuits: layouts by their venue, named, put away, deleted where unused; and what a venue asks for. */
export const AllCircuits = () => {
  const circuits = useQuery(circuitsQuery)
  const venues = useQuery(venuesQuery)
  const session = useQuery(sessionQuery)
  const { lookAt } = useDay()
  const navigate = useNavigate()
  const edit = useCircuits()
  const [openId, setOpenId] = useState<string | null>(null)
  const [newId, setNewId] = useState(() => uuid())
  const isLead = session.data?.account?.role === 'lead'
  const open = venues.data?.find((v) => v.id === openId) ?? venues.data?.[0]
  const groups: readonly { venue: StoredVenue | null; layouts: readonly CircuitSummary[] }[] = [
    ...(venues.data ?? []).map((venue) => ({ venue, layouts: circuits.data?.filter((c) => c.venueId === venue.id) ?? [] })),
    { venue: null, layouts: circuits.data?.filter((c) => !venues.data?.some((v) => v.id === c.venueId)) ?? [] },
  ]
  const addVenue = (): void => {
    const venue = { ...venueSchema.parse({ id: newId, name: say`Venue ${(venues.data?.length ?? 0) + 1}` }), version: 0 }
    void edit.venues.save(venue, venue).then(
      (stored) => {
        setOpenId(stored.id)
        setNewId(uuid())
      },
      () => {},
    )
  }
  return (
    <Stack spacing={4}>
      <StageHead
        stage="Circuit"
        facts={circuits.data && `${circuits.data.length} ${circuits.data.length === 1 ? say`layout` : say`layouts`}`}
      >
        {isLead && (
          <Button size="small" variant="outlined" disabled={edit.venues.pending} onClick={addVenue}>
            {say`Add a venue`}
          </Button>
        )}
        <Button size="small" variant="outlined" component={Link} to="/circuit/new">
          {say`New circuit`}
        </Button>
      </StageHead>
      <ProblemNote error={circuits.error ?? venues.error ?? edit.error} />
      <LostFields lost={edit.venues.lost} onSeen={edit.venues.forgetLost} />
      {circuits.isLoading && <Reading what={say`Reading the circuits …`} />}
      {circuits.data?.length === 0 && (
        <Typography>{say`No circuit yet. “New circuit” reads a file, averages driven laps, or lets you draw over a picture.`}</Typography>
      )}
      <Box sx={columns('minmax(0, 3fr) minmax(0, 2fr)')}>
        <Stack spacing={4}>
          {groups.map(({ venue, layouts }) =>
            layouts.length === 0 && !venue ? null : (
              <Box key={venue?.id ?? NONE} component="section" aria-label={venue?.name ?? say`Without a venue`}>
                {venue ? (
                  <Button
                    variant="text"
                    color="secondary"
                    onClick={() => setOpenId(venue.id)}
                    sx={{
                      justifyContent: 'flex-start',
                      px: 2,
                      width: 1,
                      fontSize: 'size.head',
                      fontWeight: 660,
                      ...(open?.id === venue.id ? { '&&': chosenLook('left') } : {}),
                    }}
                  >
                    {venue.name}
                  </Button>
                ) : (
                  <Typography variant="head" component="h2" sx={{ px: 2 }}>
                    {say`Without a venue`}
                  </Typography>
                )}
                {layouts.length === 0 && <Typography sx={{ pl: 2 }}>{say`No layout yet: choose this venue at a layout below.`}</Typography>}
                {layouts.map((circuit) => (
                  <LayoutRow
                    key={circuit.id}
                    circuit={circuit}
                    venues={venues.data ?? []}
                    mayChange={isLead}
                    edit={edit}
                    onLook={() => {
                      lookAt({ circuitId: circuit.id })
                      navigate('/circuit')
                    }}
                  />
                ))}
              </Box>
            ),
          )}
        </Stack>
        {open && <VenueForm key={open.id} venue={open} mayChange={isLead} edit={edit} />}
      </Box>
    </Stack>
  )
}

type Edit = ReturnType<typeof useCircuits>
type RowProps = { circuit: CircuitSummary; venues: readonly StoredVenue[]; mayChange: boolean; edit: Edit; onLook: () => void }

const LayoutRow = ({ circuit, venues, mayChange, edit, onLook }: RowProps) => {
  const { id: circuitId, name, venueId, version } = circuit
  return (
    <Stack
      direction="row"
      useFlexGap
      spacing={3}
      component="article"
      aria-label={name}
      sx={{ alignItems: 'flex-end', flexWrap: 'wrap', borderTop: 'hair', borderColor: 'divider', py: 2, pl: 2 }}
    >
      <TextField
        key={name}
        label="Name"
        defaultValue={name}
        disabled={!mayChange}
        slotProps={{ htmlInput: { maxLength: 80 } }}
        onBlur={(e) => {
          const next = e.target.value.trim()
          if (next === '') e.target.value = name
          else if (next !== name) edit.rename.mutate({ circuitId, name: next, venueId, version })
        }}
        sx={{ flex: '1 1 150px' }}
      />
      <PickField
        label={say`Venue`}
        value={venueId ?? NONE}
        options={[[NONE, 'none'] as const, ...venues.map((v) => [v.id, v.name] as const)]}
        onPick={(next) => edit.rename.mutate({ circuitId, name, venueId: next === NONE ? null : next, version })}
        width={150}
        disabled={!mayChange}
      />
      <Typography className="figures" sx={{ pb: 1 }}>
        {say`${metres(circuit.length_m)}, ${circuit.corners} corners${circuit.archivedAt ? say` · put away` : ''}`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
        <Button size="small" variant="outlined" onClick={onLook}>
          {say`Look at it`}
        </Button>
        {mayChange && (
          <>
            <Button size="small" variant="text" onClick={() => edit.archive.mutate({ circuitId, archived: circuit.archivedAt === null })}>
              {circuit.archivedAt === null ? say`Put away` : say`Take back`}
            </Button>
            <AskFirst
              label={say`Delete`}
              question={say`${name} is gone then, with its notes. One that a day or a run uses stays.`}
              yes={say`Delete it`}
              pending={edit.remove.isPending}
              onYes={() => edit.remove.mutate(circuitId)}
            />
          </>
        )}
      </Stack>
    </Stack>
  )
}

const zones = ['UTC', ...Intl.supportedValuesOf('timeZone')]

/** Rules, flags, pits, marshal posts, whom to call: what a venue asks for on every day that is held there. */
const VenueForm = ({ venue, mayChange, edit }: { venue: StoredVenue; mayChange: boolean; edit: Edit }) => {
  const put = (change: Partial<StoredVenue>): void => edit.venues.put(venue, { ...venue, ...change })
  return (
    <Box component="fieldset" disabled={!mayChange} aria-label={say`Venue ${venue.name}`} sx={{ border: 0, m: 0, p: 0, minWidth: 0 }}>
      <Stack spacing={3}>
        <TextField
          key={venue.name}
          label={say`Name of the venue`}
          defaultValue={venue.name}
          slotProps={{ htmlInput: { maxLength: 80 } }}
          onBlur={(e) => {
            const next = e.target.value.trim()
            if (next === '') e.target.value = venue.name
            else if (next !== venue.name) put({ name: next })
          }}
        />
        <Autocomplete
          options={zones}
          value={venue.timeZone === '' ? null : venue.timeZone}
          onChange={(_, zone) => put({ timeZone: zone ?? '' })}
          renderInput={(params) => <TextField {...params} label={say`Time zone`} helperText={say`Empty: as on the device`} />}
        />
        <LinesField
          label={say`Rules of the venue`}
          lines={venue.rules}
          note={say`One line for each; new days begin with them.`}
          onChange={(rules) => put({ rules })}
        />
        <FlagsField flags={venue.flags} onChange={(flags) => put({ flags })} />
        <LinesField
          label={say`Pits`}
          lines={venue.pits}
          note={say`One line for each: entry, exit, speed, where to stop.`}
          onChange={(pits) => put({ pits: pits.slice(0, 12) })}
        />
        <LinesField
          label={say`Marshal posts`}
          lines={venue.posts.map((p) => (p.where ? `${p.name}: ${p.where}` : p.name))}
          note={say`One line for each, as “Post 3: inside of the hairpin”.`}
          onChange={(lines) =>
            put({ posts: lines.map(pairOf).map(([name, where]) => ({ name: name.slice(0, 40), where: where.slice(0, 120) })) })
          }
        />
        <TextField
          key={venue.emergency}
          label={say`In an emergency`}
          multiline
          minRows={2}
          defaultValue={venue.emergency}
          slotProps={{ htmlInput: { maxLength: 1000 } }}
          onBlur={(e) => e.target.value !== venue.emergency && put({ emergency: e.target.value })}
        />
        <LinesField
          label={say`Telephone numbers`}
          lines={venue.phones.map((p) => `${p.name}: ${p.number}`)}
          note={say`One line for each, as “Ambulance: 555 0100”.`}
          onChange={(lines) =>
            put({
              phones: lines
                .map(pairOf)
                .filter(([, number]) => number !== '')
                .map(([name, number]) => ({ name: name.slice(0, 60), number: number.slice(0, 40) })),
            })
          }
        />
        {mayChange && (
          <Box>
            <AskFirst
              label={say`Remove the venue`}
              question={say`${venue.name} with its rules and numbers is gone then; its layouts and days stay.`}
              yes={say`Remove it`}
              pending={edit.removeVenue.isPending}
              onYes={() => edit.removeVenue.mutate(venue.id)}
            />
          </Box>
        )}
      </Stack>
    </Box>
  )
}

/** A line as “name: rest”. */
const pairOf = (line: string): [string, string] => {
  const at = line.indexOf(':')
  return at < 0 ? [line.trim(), ''] : [line.slice(0, at).trim(), line.slice(at + 1).trim()]
}
