import { Box, Button, Checkbox, FormControlLabel, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { api, type CircuitPreview } from '@ochote/contract'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { v7 as uuid } from 'uuid'
import { ApiProblem, call } from '../../data/api/api-client.ts'
import { circuitsQuery, queryClient } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { columns } from '../../look/columns.ts'
import { FileChoice } from '../../shared/file-choice.tsx'
import { LengthField } from '../../shared/length-field.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { CircuitSketch } from './circuit-sketch.tsx'
import { doubtInWords } from './doubt-words.ts'
import { DrawCircuit } from './draw-circuit.tsx'
import { degreesInWords, startWords } from './imported-words.ts'

const sources = {
  survey: {
    name: say`A surveyed line`,
    file: say`Choose a circuit file`,
    accept: '.csv,.txt,.geojson,.json,.gpx,.kml',
    what: say`CSV, GeoJSON, GPX or KML with the middle of the road; one lap in a GPX file is enough.`,
  },
  laps: {
    name: say`Driven laps`,
    file: say`Choose a log with laps`,
    accept: '.csv,.txt,.gpx,.kml,.nmea,.json',
    what: say`Any log with positions and at least one whole lap; several laps are averaged.`,
  },
  drawing: {
    name: say`A drawing`,
    file: '',
    accept: '',
    what: say`A picture of the place, a known distance in it, and clicks along the road.`,
  },
} as const
type Source = keyof typeof sources

/** How the file is read; each change reads it again. */
type How = {
  from: 'survey' | 'laps'
  width_m: number | null
  track: string
  reverse: boolean
  open: boolean
  swapped: boolean
  start_m: number | null
}
const plainly: Omit<How, 'from'> = { width_m: null, track: '', reverse: false, open: false, swapped: false, start_m: null }

const flag = (on: boolean): 'true' | undefined => (on ? 'true' : undefined)
const queryOf = (name: string, how: How) => ({
  name: name.trim(),
  from: how.from,
  width_m: how.width_m ?? undefined,
  track: how.track === '' ? undefined : how.track,
  reverse: flag(how.reverse),
  open: flag(how.open),
  swapped: flag(how.swapped),
  start_m: how.start_m ?? undefined,
})
const widthFits = (width_m: number | null): boolean => width_m === null || (width_m >= 1 && width_m <= 60)

/** A name to begin with, out of a file’s. */
const nameOfFile = (file: string): string => {
  const words = file
    .replace(/\.[^.]+$/, '')
    .replace(/[_-]+/g, ' ')
    .trim()
    .slice(0, 80)
  return words.charAt(0).toUpperCase() + words.slice(1)
}

/** No re-survey: a circuit of its own. */
const OWN = 'own'

/** A new circuit: read from a file or drawn, looked at with all that is doubtful in it, and only then kept. The day stays as it is. */
export const NewCircuit = () => {
  const { day, lookAt } = useDay()
  const navigate = useNavigate()
  const circuits = useQuery(circuitsQuery)
  const [source, setSource] = useState<Source>('survey')
  const [file, setFile] = useState<File | null>(null)
  const [name, setName] = useState('')
  const [how, setHow] = useState<How>({ from: 'survey', ...plainly })
  const [keeps, setKeeps] = useState(OWN)
  const [id] = useState(() => uuid())
  const called = name.trim() || nameOfFile(file?.name ?? '')
  const look = useMutation({
    mutationFn: ({ chosen, as }: { chosen: File; as: How }) =>
      call(api.lookAtCircuit, { query: queryOf(nameOfFile(chosen.name), as), file: chosen }),
  })
  const { mutate: lookNow } = look
  useEffect(() => {
    if (file && widthFits(how.width_m)) lookNow({ chosen: file, as: how })
  }, [file, how, lookNow])
  const keep = useMutation({
    mutationFn: (chosen: File) =>
      call(api.importCircuit, { query: { id, ...queryOf(called, how), keeps: keeps === OWN ? undefined : keeps }, file: chosen }),
    onSuccess: async (circuit) => {
      await queryClient.invalidateQueries({ queryKey: circuitsQuery.queryKey })
      lookAt({ circuitId: circuit.id })
      navigate('/circuit')
    },
  })
  const choose = (chosen: File | null, from: 'survey' | 'laps'): void => {
    look.reset()
    setHow({ from, ...plainly })
    setFile(chosen)
  }
  const change = (next: Partial<How>): void => setHow({ ...how, ...next })
  const several = look.error instanceof ApiProblem && look.error.problem.code === 'circuit-several-tracks'
  const preview = look.data && file && !look.error ? look.data : null
  const others = circuits.data?.filter((c) => c.archivedAt === null) ?? []
  return (
    <Stack spacing={4}>
      <StageHead stage="Circuit" facts={say`A new circuit`} />
      <ToggleButtonGroup
        size="small"
        exclusive
        value={source}
        aria-label={say`Where the circuit comes from`}
        onChange={(_, next: Source | null) => {
          if (!next) return
          setSource(next)
          choose(null, next === 'laps' ? 'laps' : 'survey')
        }}
      >
        {(Object.keys(sources) as Source[]).map((key) => (
          <ToggleButton key={key} value={key}>
            {sources[key].name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography color="text.secondary">{sources[source].what}</Typography>
      {source === 'drawing' ? (
        <DrawCircuit
          onDrawn={(drawn, drawnName) => {
            setName(drawnName)
            choose(drawn, 'survey')
          }}
        />
      ) : (
        <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
          <FileChoice
            key={source}
            label={sources[source].file}
            accept={sources[source].accept}
            file={file}
            onChoose={(chosen) => choose(chosen, source === 'laps' ? 'laps' : 'survey')}
          />
          {(several || how.track !== '') && (
            <TextField
              label={say`Which track (name or number)`}
              value={how.track}
              onChange={(e) => change({ track: e.target.value })}
              sx={{ width: 210 }}
            />
          )}
        </Stack>
      )}
      {look.isPending && <Reading what={say`Reading the road …`} />}
      <ProblemNote error={look.error ?? keep.error} />
      {file && look.error instanceof ApiProblem && source === 'survey' && (
        <Stack direction="row" useFlexGap spacing={4} sx={{ flexWrap: 'wrap' }}>
          <How how={how} onChange={change} />
        </Stack>
      )}
      {preview && (
        <Box sx={columns('minmax(0, 3fr) minmax(0, 2fr)')}>
          <Stack spacing={1}>
            <CircuitSketch
              preview={preview}
              onStart={preview.open ? null : (start_m) => change({ start_m: ((how.start_m ?? 0) + start_m) % preview.length_m })}
            />
            {!preview.open && (
              <Typography variant="text" color="text.secondary">
                {say`Drag the red start line along the road, or press ← →. Numbers of corners follow it.`}
              </Typography>
            )}
          </Stack>
          <Stack spacing={3} component="section" aria-label={say`What was read`}>
            <Facts preview={preview} />
            <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
              <TextField
                label="Name"
                value={name}
                placeholder={called}
                slotProps={{ htmlInput: { maxLength: 80 }, inputLabel: { shrink: true } }}
                onChange={(e) => setName(e.target.value)}
              />
              <LengthField
                label={preview.width_m.assumed || how.width_m !== null ? say`Half width` : say`Half width where missing`}
                value_m={how.width_m}
                error={!widthFits(how.width_m)}
                helperText={widthFits(how.width_m) ? '' : say`From ${metres(1)} to ${metres(60)}`}
                onChange={(width_m) => change({ width_m })}
                sx={{ width: 180 }}
              />
              {others.length > 0 && (
                <PickField
                  label={say`Surveyed again`}
                  value={keeps}
                  options={[
                    [OWN, say`no, a circuit of its own`] as const,
                    ...others.map((c) => [c.id, say`${c.name}: keep its notes`] as const),
                  ]}
                  onPick={setKeeps}
                  width={220}
                />
              )}
            </Stack>
            <How how={how} onChange={change} />
            <Doubts preview={preview} />
            <Box>
              <Button
                variant="contained"
                disabled={keep.isPending || called === '' || !widthFits(how.width_m)}
                onClick={() => file && keep.mutate(file)}
              >
                {keep.isPending ? say`Keeping …` : say`Keep this circuit`}
              </Button>
            </Box>
            <Typography variant="text" color="text.secondary">
              {day
                ? say`The day stays on its own circuit; once this one is kept, the bar above asks whether the day is to be planned with it.`
                : say`Nothing is kept before you press this.`}{' '}
              <Link to="/circuit/all">{say`All circuits`}</Link>
            </Typography>
          </Stack>
        </Box>
      )}
    </Stack>
  )
}

const How = ({ how, onChange }: { how: How; onChange: (next: Partial<How>) => void }) => {
  const tick = (label: string, key: 'reverse' | 'open' | 'swapped') => (
    <FormControlLabel
      control={<Checkbox size="small" checked={how[key]} onChange={(_, on) => onChange({ [key]: on, start_m: null })} />}
      label={label}
    />
  )
  return (
    <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }} role="group" aria-label={say`How to read it`}>
      {tick(say`Driven in the other direction`, 'reverse')}
      {how.from === 'survey' && tick(say`Point to point, not a lap`, 'open')}
      {how.from === 'survey' && tick(say`Latitude and longitude are swapped`, 'swapped')}
    </Stack>
  )
}

const Facts = ({ preview }: { preview: CircuitPreview }) => {
  const { width_m, place, startFound } = preview
  const wide = width_m.max - width_m.min < 0.5 ? metres(width_m.min) : say`${Math.round(width_m.min)} to ${metres(width_m.max)}`
  const rows: readonly (readonly [string, string])[] = [
    [say`Length`, `${metres(preview.length_m)}${preview.open ? say`, point to point` : ''}`],
    [say`Corners`, String(preview.corners.length)],
    [say`Width`, `${wide}${width_m.assumed ? say`, assumed` : say`, from the file or entered here`}`],
    [
      say`Heights`,
      preview.climb_m < 0.5 ? say`flat, or not known` : say`${metres(preview.climb_m)} between the lowest and the highest place`,
    ],
    ...(place
      ? [
          [
            say`Place`,
            `${degreesInWords(place.lat_deg, ['north', say`south`])}, ${degreesInWords(place.lon_deg, ['east', say`west`])}`,
          ] as const,
        ]
      : []),
    ...(place ? [] : [[say`North`, say`not known from this file; set it under “Correct the survey” once it is kept`] as const]),
    ...(startFound ? [[say`Start line`, startWords[startFound]] as const] : []),
    ...(preview.ground > 0 ? [[say`On the ground`, say`${preview.ground} items come along`] as const] : []),
  ]
  return (
    <Box
      component="dl"
      role="status"
      aria-label={say`What was read`}
      sx={{ m: 0, display: 'grid', gridTemplateColumns: 'max-content minmax(0, 1fr)', columnGap: 4, rowGap: 1 }}
    >
      {rows.map(([what, value]) => (
        <Box key={what} sx={{ display: 'contents' }}>
          <Box component="dt" sx={{ color: 'text.secondary' }}>
            {what}
          </Box>
          <Box component="dd" className="figures" sx={{ m: 0 }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  )
}

const Doubts = ({ preview: { doubts } }: { preview: CircuitPreview }) =>
  doubts.length === 0 ? (
    <Typography variant="text">{say`Nothing doubtful was found in it. Walk it all the same.`}</Typography>
  ) : (
    <Box component="section" aria-label={say`To look at`} sx={{ borderLeft: 'note', borderColor: 'warning.main', pl: 3 }}>
      <Typography variant="head" component="h2">
        {say`To look at`}
      </Typography>
      <Box component="ul" sx={{ m: 0, pl: 4 }}>
        {doubts.map((doubt) => {
          const { what, remedy } = doubtInWords(doubt)
          return (
            <li key={`${doubt.kind} ${doubt.at_m}`}>
              <Box component="span" sx={{ fontWeight: 640 }}>
                {what}.
              </Box>{' '}
              {remedy}
            </li>
          )
        })}
      </Box>
    </Box>
  )
