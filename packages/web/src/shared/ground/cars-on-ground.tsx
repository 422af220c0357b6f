import { type Plan, placeAt } from '@ochote/core'
import { type LiveDay, useLiveValue } from '../../data/live/live-store.ts'
import { Label } from '../marks/car-label.tsx'

type Props = { live: LiveDay; initials: ReadonlyMap<string, string> | undefined; plan: Plan; pixel: number }

/** The running cars on a ground view, in its own metres; only they are drawn anew as they move. */
export const CarsOnGround = ({ live, initials, plan, pixel }: Props) => {
  const cars = useLiveValue(live, (l) => l.cars())
  return (
    <g pointerEvents="none">
      {[...cars.values()].map((car) => {
        const { x_m, y_m } = placeAt(plan.circuit, car.station_m, car.offset_m)
        return (
          <g
            key={car.carNumber}
            data-car={car.carNumber}
            data-stamped={car.receivedAt}
            transform={`translate(${x_m.toFixed(2)} ${(-y_m).toFixed(2)}) scale(${pixel})`}
          >
            <Label car={car} big initials={initials?.get(car.runId ?? '')} />
          </g>
        )
      })}
    </g>
  )
}
