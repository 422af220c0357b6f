import { type Plan, placeAt } from '@ochote/core'
import { type CarNow, type LiveDay, useLiveValue } from '../../data/live-store.ts'

/** How a car is told apart: by its number, and by what asks for attention. */
const Label = ({ car, big }: { car: CarNow; big: boolean }) => (
  <>
    <circle
      r={big ? 13 : 11}
      fill={car.inPits ? 'var(--verge)' : 'var(--ground)'}
      stroke={car.trouble ? 'var(--warn)' : 'var(--ink)'}
      strokeWidth="2.5"
      strokeDasharray={car.trouble ? '4 3' : undefined}
    />
    <text textAnchor="middle" dominantBaseline="central" fontSize="12" fontWeight="720" fill="var(--ink)" className="figures">
      {car.carNumber}
    </text>
  </>
)

/** The running cars on a ground view, in its own metres; only they are drawn anew as they move. */
export const CarsOnGround = ({ live, plan, pixel }: { live: LiveDay; plan: Plan; pixel: number }) => {
  const cars = useLiveValue(live, (l) => l.cars())
  return (
    <g pointerEvents="none">
      {[...cars.values()].map((car) => {
        const { x_m, y_m } = placeAt(plan.circuit, car.station_m, car.offset_m)
        return (
          <g
            key={car.carNumber}
            data-car={car.carNumber}
            data-stamped={car.stampedAt}
            transform={`translate(${x_m.toFixed(2)} ${(-y_m).toFixed(2)}) scale(${pixel})`}
          >
            <Label car={car} big />
          </g>
        )
      })}
    </g>
  )
}

/** The running cars over the lap band; those close together step aside. */
export const CarsOnBand = ({
  live,
  x,
  y,
  seen,
}: {
  live: LiveDay
  x: (s_m: number) => number
  y: number
  seen: (s_m: number) => boolean
}) => {
  const cars = useLiveValue(live, (l) => l.cars())
  const drawn: { car: CarNow; at: number; lane: number }[] = []
  for (const car of [...cars.values()].sort((a, b) => a.station_m - b.station_m)) {
    if (!seen(car.station_m) || car.inPits) continue
    const at = x(car.station_m)
    const near = drawn.filter((d) => Math.abs(d.at - at) < 24)
    drawn.push({ car, at, lane: near.length % 3 })
  }
  return (
    <g pointerEvents="none">
      {drawn.map(({ car, at, lane }) => (
        <g key={car.carNumber} transform={`translate(${at.toFixed(1)} ${y + (lane === 0 ? 0 : lane === 1 ? -22 : 22)})`}>
          <Label car={car} big={false} />
        </g>
      ))}
    </g>
  )
}
