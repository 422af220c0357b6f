import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { api, type StoredVehicle, vehicleSchema } from '@ochote/contract'
import {
  CoreError,
  checkVehicle,
  describeError,
  type Gearbox,
  gearboxes,
  gearboxOf,
  type Vehicle,
  type VehicleKind,
  vehicleKinds,
  vehicleRanges,
  vehicleSummary,
  vehicleTemplates,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 as uuid } from 'uuid'
import { call } from '../../data/api/api-client.ts'
import { queryClient, vehiclesQuery } from '../../data/api/queries.ts'
import { pushHistory, redoHistory, startHistory, undoHistory } from '../../data/history/history.ts'
import type { LostField } from '../../data/merge/merge-fields.ts'
import { writeMerged } from '../../data/merge/write-merged.ts'
import { say } from '../../language/say.ts'
import { speedOf, speedUnit, staffUnits } from '../../language/staff-units.ts'
import { chosenLook } from '../../look/chosen.ts'
import { columns } from '../../look/columns.ts'
import { AskFirst } from '../../shared/ask-first.tsx'
import { vehicleInWords } from '../../shared/language/staff-words.ts'
import { LostFields } from '../../shared/lost-fields.tsx'
import { gearboxWords } from '../../shared/plan/setting-words.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { VehicleImport } from './vehicle-import.tsx'

/** The saved vehicle, and the one before it (null for a new vehicle). */
type Change = { before: Vehicle | null; after: Vehicle }

/** A unit in which a stored value is shown: its sign, and how many of it are one of the stored unit. */
type Unit = { sign: string; times: number }
type Field = { key: keyof Vehicle; label: string; unit?: Unit }

/** The unit of the staff's system. */
const inUnits = (metric: Unit, imperial: Unit): Unit => (staffUnits === 'metric' ? metric : imperial)
const FEET = 1 / 0.3048
const mass = inUnits({ sign: 'kg', times: 1 }, { sign: 'lb', times: 1 / 0.45359237 })
const power = inUnits({ sign: 'kW', times: 1e-3 }, { sign: 'hp', times: 1 / 745.699872 })
const force = inUnits({ sign: 'N', times: 1 }, { sign: 'lbf', times: 1 / 4.4482216153 })
const deceleration = inUnits({ sign: 'm/s²', times: 1 }, { sign: 'ft/s²', times: FEET })
const area = inUnits({ sign: 'm²', times: 1 }, { sign: 'ft²', times: FEET ** 2 })
const length = inUnits({ sign: 'm', times: 1 }, { sign: 'ft', times: FEET })

const kindNames: Record<VehicleKind, string> = {
  car: say`car`,
  'single-seater': say`single-seater`,
  kart: say`kart`,
  motorcycle: say`motorcycle`,
}

/** Fields as an instructor reads them. */
const fields: readonly Field[] = [
  { key: 'mass_kg', label: say`Mass with driver`, unit: mass },
  { key: 'power_W', label: say`Power at the wheels`, unit: power },
  { key: 'maxDriveForce_N', label: say`Largest drive force`, unit: force },
  { key: 'maxBrake_mps2', label: say`Brake limit`, unit: deceleration },
  { key: 'muX', label: say`Longitudinal grip, μ` },
  { key: 'muY', label: say`Lateral grip, μ` },
  { key: 'dragArea_m2', label: say`Drag area CdA`, unit: area },
  { key: 'liftArea_m2', label: say`Downforce area ClA`, unit: area },
  { key: 'rolling', label: say`Rolling coefficient` },
  { key: 'driveShare', label: say`Share of grip for drive` },
  { key: 'width_m', label: say`Width`, unit: length },
  { key: 'shiftEngineSpeed_rpm', label: say`Shift at (rpm)` },
  { key: 'margin_m', label: say`Margin to the edges`, unit: length },
]
const motorcycleFields: readonly Field[] = [
  { key: 'wheelbase_m', label: say`Wheelbase`, unit: length },
  { key: 'cgHeight_m', label: say`Centre of gravity height`, unit: length },
  { key: 'cgToRear_m', label: say`CG to rear axle`, unit: length },
]

const shown = (vehicle: Vehicle, { key, unit }: Field): string => {
  const value = vehicle[key]
  return typeof value === 'number' ? String(Number((value * (unit?.times ?? 1)).toPrecision(6))) : ''
}

const rangeOf = ({ key, unit }: Field): string => {
  const scaled = (value: number): number => Number((value * (unit?.times ?? 1)).toPrecision(4))
  const range = vehicleRanges[key as keyof typeof vehicleRanges] as readonly [number, number] | undefined
  return range ? say`${scaled(range[0])} to ${scaled(range[1])}` : ''
}

const problemOf = (vehicle: Vehicle): { field: string; text: string } | null => {
  try {
    checkVehicle(vehicle)
  } catch (error) {
    if (!(error instanceof CoreError)) throw error
    const words = describeError(error)
    return { field: error.place, text: `${words.message} ${words.remedy}` }
  }
  return vehicle.name.trim() === '' ? { field: 'name', text: say`The vehicle needs a name.` } : null
}

const removed = async (vehicleId: string): Promise<readonly LostField[]> => {
  await call(api.removeVehicle, { params: { vehicleId } })
  return []
}

/** Writes a vehicle that was `base` before; what somebody else changed meanwhile comes along. */
const written = async (base: Vehicle | null, vehicle: Vehicle): Promise<readonly LostField[]> => {
  const list = queryClient.getQueryData<readonly StoredVehicle[]>(vehiclesQuery.queryKey)
  const { lost } = await writeMerged({
    base: vehicleSchema.parse(base ?? vehicle),
    mine: vehicleSchema.parse(vehicle),
    version: list?.find((v) => v.id === vehicle.id)?.version ?? 0,
    write: (body, version) => call(api.putVehicle, { params: { vehicleId: vehicle.id }, body: { ...body, version } }),
    read: async () => {
      const theirs = (await call(api.vehicles)).find((v) => v.id === vehicle.id)
      return theirs ? { doc: vehicleSchema.parse(theirs), version: theirs.version } : { doc: vehicleSchema.parse(vehicle), version: 0 }
    },
  })
  return lost
}

/** All vehicles with what they can do by the model; each can be changed, new ones begin with a plain one of their kind. */
export const VehiclesPage = () => {
  const vehicles = useQuery(vehiclesQuery)
  const [draft, setDraft] = useState<Vehicle | null>(null)
  const [savedId, setSavedId] = useState<string | null>(null)
  const [changes, setChanges] = useState(() => startHistory<readonly Change[]>([]))
  const [lost, setLost] = useState<readonly LostField[]>([])
  const save = useMutation({
    scope: { id: 'vehicles' },
    mutationFn: (change: { base: Vehicle | null; vehicle: Vehicle } | { removed: string }) =>
      'removed' in change ? removed(change.removed) : written(change.base, change.vehicle),
    onSuccess: (fields, saved) => {
      setDraft(null)
      setLost(fields)
      if ('vehicle' in saved) setSavedId(saved.vehicle.id)
      return queryClient.invalidateQueries({ queryKey: vehiclesQuery.queryKey })
    },
  })
  const keep = (vehicle: Vehicle): void => {
    const before = vehicles.data?.find((v) => v.id === vehicle.id) ?? null
    setChanges(pushHistory(changes, [...changes.now, { before, after: vehicle }]))
    save.mutate({ base: before, vehicle })
  }
  // What was saved stays open; the first one is shown until another is chosen.
  const opened = draft ?? vehicles.data?.find((v) => v.id === savedId) ?? vehicles.data?.[0] ?? null
  const undone = changes.now.at(-1)
  const redone = changes.future[0]?.at(-1)
  const undo = (): void => {
    if (!undone) return
    setChanges(undoHistory(changes))
    save.mutate(undone.before ? { base: undone.after, vehicle: undone.before } : { removed: undone.after.id })
  }
  const redo = (): void => {
    if (!redone) return
    setChanges(redoHistory(changes))
    save.mutate({ base: redone.before, vehicle: redone.after })
  }
  return (
    <Stack spacing={4}>
      <StageHead stage="Circuit">
        <Button variant="outlined" size="small" disabled={!undone} onClick={undo}>
          {undone ? say`Undo ${undone.after.name}` : say`Undo`}
        </Button>
        <Button variant="outlined" size="small" disabled={!redone} onClick={redo}>
          {redone ? say`Redo ${redone.after.name}` : say`Redo`}
        </Button>
      </StageHead>
      <ProblemNote error={vehicles.error ?? (draft ? null : save.error)} />
      <LostFields lost={lost} onSeen={() => setLost([])} />
      {vehicles.data?.length === 0 && !draft && (
        <Typography>{say`No vehicle yet. Start from a typical one of its kind; look at what it can do by the model, then save it.`}</Typography>
      )}
      <Box sx={columns('minmax(0, 1fr) minmax(0, 1fr)')}>
        <Stack spacing={0}>
          {vehicles.data?.map((vehicle) => (
            <Box
              key={vehicle.id}
              sx={{
                borderTop: 'hair',
                borderColor: 'divider',
                py: 2,
                pl: 3,
                ...(opened?.id === vehicle.id ? chosenLook('left') : {}),
              }}
            >
              <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
                <Typography sx={{ fontWeight: 640 }}>{vehicle.name}</Typography>
                <Typography variant="text" color="text.secondary">
                  {kindNames[vehicle.kind]}
                </Typography>
                <Box sx={{ flex: 1 }} />
                <Button size="small" variant="text" onClick={() => setDraft(vehicle)} aria-label={say`Change ${vehicle.name}`}>
                  {say`Change`}
                </Button>
              </Stack>
              <Typography variant="text" className="figures">
                {vehicleInWords(vehicleSummary(vehicle))}
              </Typography>
            </Box>
          ))}
          <Stack spacing={2} sx={{ borderTop: 'hair', borderColor: 'divider', pt: 4 }}>
            <Typography variant="head">{say`New vehicle`}</Typography>
            {vehicleKinds.map((kind: VehicleKind) => (
              <Stack key={kind} direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
                <Button
                  variant="outlined"
                  size="small"
                  sx={{ width: 210 }}
                  onClick={() => setDraft({ ...vehicleTemplates[kind], id: uuid(), name: say`Typical ${kindNames[kind]}` })}
                >
                  {say`Start from a typical ${kindNames[kind]}`}
                </Button>
                <Typography variant="text" className="figures" color="text.secondary" sx={{ flex: '1 1 240px' }}>
                  {vehicleInWords(vehicleSummary({ ...vehicleTemplates[kind], id: kind }))}
                </Typography>
              </Stack>
            ))}
            <VehicleImport />
          </Stack>
        </Stack>
        {opened && (
          <VehicleForm
            key={opened.id}
            vehicle={opened}
            error={save.error}
            onChange={setDraft}
            onSave={() => keep(opened)}
            onClose={() => setDraft(null)}
            onCopy={() => setDraft({ ...opened, id: uuid(), name: say`${opened.name}, copy`.slice(0, 80) })}
            onRemove={vehicles.data?.some((v) => v.id === opened.id) ? () => save.mutate({ removed: opened.id }) : null}
          />
        )}
      </Box>
    </Stack>
  )
}

type FormProps = {
  vehicle: Vehicle
  error: Error | null
  onChange: (vehicle: Vehicle) => void
  onSave: () => void
  onClose: () => void
  onCopy: () => void
  /** Null for a vehicle that is not kept yet. */
  onRemove: (() => void) | null
}

const VehicleForm = ({ vehicle, error, onChange, onSave, onClose, onCopy, onRemove }: FormProps) => {
  const problem = problemOf(vehicle)
  const [gears, setGears] = useState(vehicle.gears.map((v) => Math.round(speedOf(v))).join(' '))
  const all = vehicle.kind === 'motorcycle' ? [...fields, ...motorcycleFields] : fields
  return (
    <Stack spacing={3} component="section" aria-label={say`Vehicle form`}>
      <Typography role="status" className="figures" sx={{ fontWeight: 600, color: problem ? 'error.main' : 'text.primary' }}>
        {problem ? problem.text : vehicleInWords(vehicleSummary(vehicle))}
      </Typography>
      <ProblemNote error={error} />
      <Stack direction="row" useFlexGap spacing={2} sx={{ flexWrap: 'wrap' }}>
        <Button variant="contained" disabled={problem !== null} onClick={onSave}>
          {say`Save`}
        </Button>
        <Button variant="outlined" onClick={onClose}>
          {say`Cancel`}
        </Button>
        {onRemove && (
          <>
            <Button variant="outlined" onClick={onCopy}>
              {say`Copy`}
            </Button>
            <AskFirst
              label={say`Remove`}
              question={say`${vehicle.name} is gone then. One that a day, a car or a run uses stays.`}
              yes={say`Remove it`}
              onYes={onRemove}
            />
          </>
        )}
      </Stack>
      <TextField label="Name" value={vehicle.name} onChange={(e) => onChange({ ...vehicle, name: e.target.value.slice(0, 80) })} />
      <TextField
        select
        label={say`Kind`}
        value={vehicle.kind}
        onChange={(e) => onChange({ ...vehicle, kind: e.target.value as VehicleKind })}
      >
        {vehicleKinds.map((k) => (
          <MenuItem key={k} value={k}>
            {kindNames[k]}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={say`Gearbox`}
        value={gearboxOf(vehicle)}
        disabled={vehicle.gears.length < 2}
        helperText={say`Gears are called where somebody changes them by hand.`}
        onChange={(e) => onChange({ ...vehicle, gearbox: e.target.value as Gearbox })}
      >
        {gearboxes.map((g) => (
          <MenuItem key={g} value={g}>
            {gearboxWords[g]}
          </MenuItem>
        ))}
      </TextField>
      {vehicle.kind === 'car' && (
        <TextField
          select
          label={say`Driver sits`}
          value={vehicle.driverSits ?? 'left'}
          helperText={say`The road is drawn from this seat, and from the other one for whoever rides along.`}
          onChange={(e) => onChange({ ...vehicle, driverSits: e.target.value as 'left' | 'right' })}
        >
          <MenuItem value="left">{say`left`}</MenuItem>
          <MenuItem value="right">{say`right`}</MenuItem>
        </TextField>
      )}
      <Box sx={columns('1fr 1fr')}>
        {all.map((field) => (
          <TextField
            key={field.key}
            label={field.unit ? `${field.label} (${field.unit.sign})` : field.label}
            type="number"
            defaultValue={shown(vehicle, field)}
            error={problem?.field === field.key}
            helperText={problem?.field === field.key ? rangeOf(field) : undefined}
            slotProps={{ htmlInput: { step: 'any' } }}
            onChange={(e) =>
              onChange({ ...vehicle, [field.key]: e.target.value === '' ? undefined : Number(e.target.value) / (field.unit?.times ?? 1) })
            }
          />
        ))}
      </Box>
      <TextField
        label={say`Top speed in each gear (${speedUnit}, first gear first)`}
        value={gears}
        error={problem?.field.startsWith('gear') ?? false}
        onChange={(e) => {
          setGears(e.target.value)
          const numbers = e.target.value
            .split(/[\s,;]+/)
            .filter((t) => t !== '')
            .map((t) => Number(t) / speedOf(1))
          onChange({ ...vehicle, gears: numbers })
        }}
      />
    </Stack>
  )
}
