import { Box, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import { type CarOnDay, type DayPlanning, type DayRules, usualCar } from '@ochote/core'
import { say } from '../../language/say.ts'
import { CountField } from '../../shared/count-field.tsx'
import { Folded } from '../../shared/folded.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { RowTable } from '../../shared/row-table.tsx'

type Props = {
  planning: DayPlanning
  /** Cars of the day with their numbers. */
  cars: readonly (readonly [string, string])[]
  onChange: (change: Partial<DayPlanning>) => void
}

/** Laps of a tank where somebody begins to enter it. */
const USUAL_TANK = 30

const CarRow = ({ number, car, onChange }: { number: string; car: CarOnDay; onChange: (change: Partial<CarOnDay>) => void }) => (
  <TableRow>
    <TableCell sx={{ fontWeight: 600 }}>{number}</TableCell>
    <TableCell>
      <CountField
        key={car.cooling_min}
        label={say`Minutes that car ${number} stands after a run`}
        value={car.cooling_min}
        min={0}
        max={120}
        onChange={(cooling_min) => onChange({ cooling_min })}
      />
    </TableCell>
    <TableCell>
      <Stack direction="row" spacing={2}>
        <PickField
          label={say`Fuel of car ${number}`}
          hideLabel
          value={car.fuel_laps === null ? 'day' : 'laps'}
          options={[
            ['day', say`lasts the day`],
            ['laps', say`laps of a tank`],
          ]}
          onPick={(fuel) => onChange({ fuel_laps: fuel === 'day' ? null : USUAL_TANK })}
          width={150}
        />
        {car.fuel_laps !== null && (
          <CountField
            key={car.fuel_laps}
            label={say`Laps of a tank of car ${number}`}
            value={car.fuel_laps}
            min={1}
            max={1000}
            onChange={(fuel_laps) => onChange({ fuel_laps })}
          />
        )}
      </Stack>
    </TableCell>
    <TableCell>
      {car.fuel_laps !== null && (
        <CountField
          key={car.refuel_min}
          label={say`Minutes to fill car ${number}`}
          value={car.refuel_min}
          min={0}
          max={120}
          onChange={(refuel_min) => onChange({ refuel_min })}
        />
      )}
    </TableCell>
  </TableRow>
)

const atOnceOptions = [['any', say`enough for all`] as const, ...Array.from({ length: 41 }, (_, k) => [String(k), String(k)] as const)]

/** How many of a thing can be in use at once. */
const AtOnce = ({ label, value, onChange }: { label: string; value: number | null; onChange: (value: number | null) => void }) => (
  <PickField
    label={label}
    value={value === null ? 'any' : String(value)}
    options={atOnceOptions}
    onPick={(v) => onChange(v === 'any' ? null : Number(v))}
    width={150}
  />
)

/** Helmets to lend, by the sizes that somebody borrows. */
const Helmets = ({ planning, onChange }: Omit<Props, 'cars'>) => {
  const borrowed = Object.values(planning.people).flatMap((p) => p.helmet ?? [])
  const sizes = [...new Set([...borrowed, ...Object.keys(planning.rules.helmets ?? {})])]
  if (sizes.length === 0) return null
  const put = (size: string, count: number | null): void => {
    const { [size]: _, ...rest } = planning.rules.helmets ?? {}
    const helmets: DayRules['helmets'] = count === null ? rest : { ...rest, [size]: count }
    onChange({ rules: { ...planning.rules, helmets: Object.keys(helmets).length > 0 ? helmets : null } })
  }
  return sizes.map((size) => (
    <AtOnce
      key={size}
      label={say`Helmets ${size} (${borrowed.filter((b) => b === size).length} borrow one)`}
      value={planning.rules.helmets?.[size] ?? null}
      onChange={(count) => put(size, count)}
    />
  ))
}

/** What the day is run with: how long a car stands and how far a tank goes, radios, loggers and helmets. */
export const PlanMeans = ({ planning, cars, onChange }: Props) => {
  const { rules } = planning
  const putCar = (id: string, change: Partial<CarOnDay>): void =>
    onChange({ cars: { ...planning.cars, [id]: { ...(planning.cars[id] ?? usualCar), ...change } } })
  return (
    <Folded name={say`Cars, radios, loggers, helmets`}>
      <Stack spacing={3}>
        {cars.length > 0 && (
          <RowTable aria-label={say`Cars of the day`} sx={{ '& .MuiTableCell-root': { px: 2, py: 2 } }}>
            <TableHead>
              <TableRow>
                {[say`Car`, say`Stands after a run (min)`, say`Fuel`, say`Filling (min)`].map((name) => (
                  <TableCell key={name}>{name}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {cars.map(([id, number]) => (
                <CarRow key={id} number={number} car={planning.cars[id] ?? usualCar} onChange={(change) => putCar(id, change)} />
              ))}
            </TableBody>
          </RowTable>
        )}
        <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
          <AtOnce label={say`Radios`} value={rules.radios} onChange={(radios) => onChange({ rules: { ...rules, radios } })} />
          <AtOnce label={say`Loggers`} value={rules.loggers} onChange={(loggers) => onChange({ rules: { ...rules, loggers } })} />
          <Helmets planning={planning} onChange={onChange} />
        </Stack>
        <Box>
          <Typography variant="text" color="text.secondary">
            {say`Each car with a student on the track needs a radio, each that is driven at a pace a logger. Who borrows a helmet is entered under “What differs”.`}
          </Typography>
        </Box>
      </Stack>
    </Folded>
  )
}
