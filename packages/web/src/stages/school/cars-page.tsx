import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { type StoredCar, schoolCarSchema } from '@ochote/contract'
import { type Aid, gearboxes, levels } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useState } from 'react'
import { Link } from 'react-router'
import { v7 as uuid } from 'uuid'
import { carHistoryQuery, carsQuery, studentsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useCars } from '../../data/school/use-cars.ts'
import { say } from '../../language/say.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { ChooseSome } from '../../shared/choose-some.tsx'
import { conditionInWords } from '../../shared/condition-words.ts'
import { levelName } from '../../shared/language/staff-words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { gearboxWords } from '../../shared/plan/setting-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { StageHead } from '../../shared/stage-head.tsx'

const SCHOOL = 'school'

/** The lowest number that no car has. */
const freeNumber = (cars: readonly StoredCar[]): string => {
  const taken = new Set(cars.map((c) => c.number))
  for (let k = 1; ; k++) if (!taken.has(String(k))) return String(k)
}

/** Cars of the school and of students, and how each came back from its runs. */
export const CarsPage = () => {
  const cars = useQuery(carsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const { docs, error } = useCars()
  const [openId, setOpenId] = useState<string | null>(null)
  const [newId, setNewId] = useState(() => uuid())
  const all = cars.data ?? []
  const here = all.filter((c) => c.archivedAt === null)
  const away = all.filter((c) => c.archivedAt !== null)
  const open = all.find((c) => c.id === openId) ?? here[0]
  const vehicleName = (id: string): string => vehicles.data?.find((v) => v.id === id)?.name ?? id
  const add = (): void => {
    const [first] = vehicles.data ?? []
    if (!first) return
    const car = {
      ...schoolCarSchema.parse({ id: newId, number: freeNumber(all), vehicleId: first.id }),
      version: 0,
      archivedAt: null,
      condition: null,
    }
    void docs.save(car, car).then((stored) => {
      setOpenId(stored.id)
      setNewId(uuid())
    })
  }
  return (
    <Stack spacing={4}>
      <StageHead
        stage="School"
        facts={
          cars.data
            ? `${here.length} ${here.length === 1 ? say`car` : say`cars`}${away.length > 0 ? say`, ${away.length} put away` : ''}`
            : undefined
        }
      >
        <Button
          size="small"
          variant={all.length === 0 ? 'contained' : 'outlined'}
          disabled={!vehicles.data?.length || docs.pending}
          onClick={add}
        >
          {say`Add a car`}
        </Button>
      </StageHead>
      <ProblemNote error={cars.error ?? error} />
      <LostFields lost={docs.lost} onSeen={docs.forgetLost} />
      {cars.isLoading && <Reading what={say`Reading the cars …`} />}
      {vehicles.data?.length === 0 && (
        <Typography>
          {say`A car is one of a vehicle. `}
          <Link to="/circuit/vehicles">{say`Add a vehicle first.`}</Link>
        </Typography>
      )}
      {cars.data && all.length === 0 && vehicles.data && vehicles.data.length > 0 && (
        <Typography>{say`No cars yet. Add each car that drives: of the school, or of a student.`}</Typography>
      )}
      <Box sx={columns('minmax(0, 2fr) minmax(0, 3fr)')}>
        <Stack component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
          {[...here, ...away].map((car) => (
            <CarRow
              key={car.id}
              car={car}
              vehicle={vehicleName(car.vehicleId)}
              chosen={open?.id === car.id}
              onChoose={() => setOpenId(car.id)}
            />
          ))}
        </Stack>
        {open && <OneCar key={open.id} car={open} onGone={() => setOpenId(null)} />}
      </Box>
    </Stack>
  )
}

const CarRow = ({ car, vehicle, chosen, onChoose }: { car: StoredCar; vehicle: string; chosen: boolean; onChoose: () => void }) => {
  const students = useQuery(studentsQuery)
  const owner = students.data?.find((s) => s.id === car.studentId)?.name
  const condition = car.condition && conditionInWords(car.condition)
  return (
    <Box component="li" sx={{ borderTop: 'hair', borderColor: 'divider', py: 1, pl: 2, ...(chosen ? chosenLook('left') : {}) }}>
      <Button variant="text" color="secondary" onClick={onChoose} sx={{ justifyContent: 'flex-start', textAlign: 'left', px: 0, width: 1 }}>
        <Box component="span" className="figures" sx={{ width: '4ch', fontWeight: 680 }}>
          {car.number}
        </Box>
        {`${vehicle}${owner ? say`, ${owner}’s own` : ''}${car.archivedAt ? say` · put away` : ''}`}
      </Button>
      {condition && (
        <Typography variant="text" sx={{ color: 'warning.main', pl: 5 }}>
          {condition}
        </Typography>
      )}
    </Box>
  )
}

const OneCar = ({ car, onGone }: { car: StoredCar; onGone: () => void }) => {
  const vehicles = useQuery(vehiclesQuery)
  const students = useQuery(studentsQuery)
  const { docs, remove, error } = useCars()
  const put = (next: Partial<StoredCar>): void => docs.put(car, { ...car, ...next })
  const active = students.data?.filter((s) => s.archivedAt === null || s.id === car.studentId) ?? []
  return (
    <Stack spacing={3} component="section" aria-label={say`Car ${car.number}`}>
      <ProblemNote error={error} />
      <LostFields lost={docs.lost} onSeen={docs.forgetLost} />
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
        <NumberField key={car.number} number={car.number} onChange={(number) => put({ number })} />
        <PickField
          label={say`Vehicle`}
          value={car.vehicleId}
          options={vehicles.data?.map((v) => [v.id, v.name] as const) ?? [[car.vehicleId, car.vehicleId]]}
          onPick={(vehicleId) => put({ vehicleId })}
          width={200}
        />
        <PickField
          label={say`Gearbox`}
          value={car.gearbox}
          options={gearboxes.map((g) => [g, gearboxWords[g]] as const)}
          onPick={(gearbox) => put({ gearbox })}
          width={120}
        />
        <PickField
          label={say`Whose`}
          value={car.studentId ?? SCHOOL}
          options={[[SCHOOL, say`the school’s`] as const, ...active.map((s) => [s.id, s.name] as const)]}
          onPick={(owner) => put({ studentId: owner === SCHOOL ? null : owner })}
          width={180}
        />
      </Stack>
      <ChooseSome
        label={say`Who may drive it`}
        none={car.studentId === null ? say`everybody` : say`its owner alone`}
        options={levels.map((l) => [l, levelName(l)] as const)}
        chosen={car.mayDrive.levels}
        onChoose={(chosen) => put({ mayDrive: { ...car.mayDrive, levels: chosen } })}
      />
      <Aids aids={car.aids} onChange={(aids) => put({ aids })} />
      <TextField
        key={car.note}
        label={say`Note`}
        defaultValue={car.note}
        multiline
        slotProps={{ htmlInput: { maxLength: 300 } }}
        onBlur={(e) => e.target.value !== car.note && put({ note: e.target.value })}
      />
      <History carId={car.id} />
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          onClick={() => put({ archivedAt: car.archivedAt === null ? new Date().toISOString() : null })}
        >
          {car.archivedAt === null ? say`Put away` : say`Take back`}
        </Button>
        <AskFirst
          label={say`Remove`}
          question={say`Car ${car.number} is gone then. A car that was driven stays for the record.`}
          yes={say`Remove it`}
          pending={remove.isPending}
          onYes={() => remove.mutate(car.id, { onSuccess: onGone })}
        />
      </Stack>
    </Stack>
  )
}

const NumberField = ({ number, onChange }: { number: string; onChange: (number: string) => void }) => {
  const [text, setText] = useState(number)
  const fits = text.trim() !== ''
  return (
    <TextField
      label={say`Number`}
      value={text}
      error={!fits}
      helperText={fits ? '' : say`Give a number`}
      slotProps={{ htmlInput: { maxLength: 6 } }}
      sx={{ width: 90 }}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => (fits ? text.trim() !== number && onChange(text.trim()) : setText(number))}
    />
  )
}

/** Driving aids, how they are set on track, and what brings them back. */
const Aids = ({ aids, onChange }: { aids: readonly Aid[]; onChange: (aids: Aid[]) => void }) => {
  const [draft, setDraft] = useState<Aid>({ name: '', set: '', resets: '' })
  const field = (label: string, key: keyof Aid) => (
    <TextField
      label={label}
      value={draft[key]}
      slotProps={{ htmlInput: { maxLength: 40 } }}
      sx={{ flex: '1 1 120px' }}
      onChange={(e) => setDraft({ ...draft, [key]: e.target.value })}
    />
  )
  return (
    <Box role="group" aria-label={say`Driving aids`}>
      <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{say`Driving aids`}</Box>
      {aids.map((aid, k) => (
        <Stack key={`${aid.name} ${aid.set}`} direction="row" spacing={2} sx={{ alignItems: 'center' }}>
          <Typography variant="text">{`${aid.name}: ${aid.set || say`as it is`}${aid.resets ? say`; comes back ${aid.resets}` : ''}`}</Typography>
          <Button
            size="small"
            variant="text"
            aria-label={say`Take away ${aid.name}`}
            onClick={() => onChange(aids.filter((_, i) => i !== k))}
          >
            {say`Take away`}
          </Button>
        </Stack>
      ))}
      <Stack direction="row" useFlexGap spacing={2} sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }}>
        {field(say`Aid`, 'name')}
        {field(say`Set on track`, 'set')}
        {field(say`Comes back`, 'resets')}
        <Button
          size="small"
          variant="outlined"
          disabled={draft.name.trim() === '' || aids.length >= 12}
          onClick={() => {
            onChange([...aids, draft])
            setDraft({ name: '', set: '', resets: '' })
          }}
        >
          {say`Add it`}
        </Button>
      </Stack>
    </Box>
  )
}

/** How the car came back from its runs, newest first. */
const History = ({ carId }: { carId: string }) => {
  const history = useQuery(carHistoryQuery(carId))
  return (
    <Box role="group" aria-label={say`History of its condition`}>
      <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>{say`After its runs`}</Box>
      <ProblemNote error={history.error} />
      {history.data?.length === 0 && (
        <Typography variant="text">{say`Nothing was said of this car yet; after a run it is asked in three touches.`}</Typography>
      )}
      {history.data?.slice(0, 20).map((said) => {
        const words = conditionInWords(said)
        return (
          <Typography key={said.runId + said.at} variant="text" sx={words ? { color: 'warning.main' } : {}}>
            {`${dayjs(said.at).format(say`D MMM YYYY, HH:mm`)}: ${words ?? say`good`} (${[say`after ${said.studentName}`, said.by ? say`told by ${said.by}` : ''].filter(Boolean).join(', ')})`}
          </Typography>
        )
      })}
    </Box>
  )
}
