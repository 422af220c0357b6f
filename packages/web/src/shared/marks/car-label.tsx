import type { CarNow } from '../../data/live/live-store.ts'

/** Label of a car: its number, or the driver's initials where two runs share a number; and what asks for attention. */
export const Label = ({ car, big, initials }: { car: CarNow; big: boolean; initials: string | undefined }) => (
  <>
    <circle
      r={big ? 13 : 11}
      fill={car.inPits ? 'var(--verge)' : 'var(--ground)'}
      stroke={car.fault ? 'var(--warn)' : 'var(--ink)'}
      strokeWidth="2.5"
      strokeDasharray={car.fault ? '4 3' : undefined}
    />
    <text textAnchor="middle" dominantBaseline="central" className="type-note figures" fontWeight="720" fill="var(--ink)">
      {initials ?? car.carNumber}
    </text>
  </>
)
