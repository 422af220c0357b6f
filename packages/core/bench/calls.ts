import {
  buildCircuit,
  intensities,
  makeVenue,
  missRates,
  phraseBooks,
  planCalls,
  planLine,
  planOnLine,
  type Seen,
  seededRandom,
} from '../src/index.ts'
import { car } from './car.ts'
import { ringRoad } from './ring-road.ts'

const PACES = [0.45, 0.55, 0.6, 0.7, 0.75, 0.85]
const STUDENTS = 20

const venue = makeVenue(buildCircuit(ringRoad(6.4)))
const settings = { surface: 'dry', school: 'straight' } as const
const line = planLine(venue, car, { ...settings, pace: 0.6 })
const plans = PACES.map((pace) => planOnLine(venue, car, { ...settings, pace }, line))
const random = seededRandom(5)
/** Made-up records: twelve mistakes each, somewhere on the lap. */
const students = Array.from({ length: STUDENTS }, () =>
  missRates(
    Array.from(
      { length: 12 },
      (_, k): Seen => ({
        cornerId: venue.corners[Math.floor(random.uniform() * venue.corners.length)].id,
        code: (['brake-late', 'turn-in-early', 'apex-missed', 'exit-wide'] as const)[k % 4],
        run: 1 + (k % 3),
        by: 'hand',
      }),
    ),
  ),
)

const measure = (): { total_ms: number; sheets: number; said: number } => {
  const began = performance.now()
  let sheets = 0
  let said = 0
  for (const plan of plans)
    for (const intensity of intensities)
      for (const missRate of students) {
        said += planCalls(plan, phraseBooks[0], intensity, { missRate }).calls.length
        sheets++
      }
  return { total_ms: Math.round(performance.now() - began), sheets, said }
}
const fresh = measure()
const warm = measure()
console.log(
  JSON.stringify({
    corners: venue.corners.length,
    paces: PACES.length,
    intensities: intensities.length,
    students: STUDENTS,
    sheets: fresh.sheets,
    callsSaid: fresh.said,
    fresh_ms: fresh.total_ms,
    warm_ms: warm.total_ms,
  }),
)
