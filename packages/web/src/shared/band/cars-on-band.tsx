import { type CarNow, type LiveDay, useLiveValue } from '../../data/live/live-store.ts'
import { Label } from '../marks/car-label.tsx'

/** The running cars over the lap band; those close together step aside. */
export const CarsOnBand = ({
  live,
  initials,
  x,
  y,
  seen,
}: {
  live: LiveDay
  initials: ReadonlyMap<string, string> | undefined
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
          <Label car={car} big={false} initials={initials?.get(car.runId ?? '')} />
        </g>
      ))}
    </g>
  )
}
