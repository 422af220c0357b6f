import { Box, Button, Stack, Typography } from '@mui/material'
import type { DayPlan } from '@ochote/contract'
import { carForDay } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { carsQuery, studentsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { conditionInWords } from '../../shared/condition-words.ts'

/** Cars of the day, chosen from all there are; how each came back last. */
export const DayCars = ({ plan, onChange }: { plan: DayPlan; onChange: (change: Partial<DayPlan>) => void }) => {
  const cars = useQuery(carsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const students = useQuery(studentsQuery)
  const nameOf = (id: string): string => vehicles.data?.find((v) => v.id === id)?.name ?? id
  const others = cars.data?.filter((c) => c.archivedAt === null && !plan.cars.some((here) => here.id === c.id)) ?? []
  const add = (chosen: typeof others): void =>
    onChange({
      cars: [...plan.cars, ...chosen.map((c) => carForDay(c, students.data?.find((s) => s.id === c.studentId)?.name ?? ''))],
    })
  const takeOff = (carId: string): void =>
    onChange({
      cars: plan.cars.filter((c) => c.id !== carId),
      slots: plan.slots.map((slot) => (slot.carId === carId ? { ...slot, carId: undefined } : slot)),
    })
  return (
    <Stack spacing={2} component="section" aria-label={say`Cars of the day`}>
      <Typography variant="head" component="h2">{say`Cars (${plan.cars.length})`}</Typography>
      {plan.cars.map((car) => {
        const condition = cars.data?.find((c) => c.id === car.id)?.condition
        const words = condition && conditionInWords(condition)
        return (
          <Box
            key={car.id}
            sx={{ display: 'grid', gridTemplateColumns: '3ch minmax(0, 1fr) max-content', columnGap: 2, alignItems: 'center' }}
          >
            <Box component="span" className="figures" sx={{ fontWeight: 650, textAlign: 'right' }}>
              {car.number}
            </Box>
            <span>{`${nameOf(car.vehicleId)}${car.owner === '' ? '' : `, ${car.owner}`}`}</span>
            <Button size="small" variant="text" aria-label={say`Take car ${car.number} off this day`} onClick={() => takeOff(car.id)}>
              {say`Take off`}
            </Button>
            {words && <Box sx={{ gridColumn: '2 / -1', color: 'warning.main', fontSize: 'size.text' }}>{words}</Box>}
          </Box>
        )
      })}
      {others.length > 0 && (
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap' }}>
          {others.slice(0, 12).map((car) => (
            <Button key={car.id} size="small" variant="outlined" onClick={() => add([car])}>
              {say`Add ${car.number}, ${nameOf(car.vehicleId)}`}
            </Button>
          ))}
          {others.length > 1 && (
            <Button size="small" variant="outlined" onClick={() => add(others)}>
              {say`Add all ${others.length}`}
            </Button>
          )}
        </Stack>
      )}
      <Typography variant="text">
        <Link to="/school/cars">{cars.data?.length ? say`More cars` : say`No cars yet: add them first`}</Link>
      </Typography>
    </Stack>
  )
}
