import {
  buildCircuit,
  cornerMetrics,
  fastestLine,
  followPins,
  type Line,
  makeVenue,
  offsetBounds,
  type Profile,
  planOnLine,
  smoothestLine,
  solveProfile,
  uniformGrip,
} from '../src/index.ts'
import { car } from './car.ts'
import { ringRoad } from './ring-road.ts'

const length_km = Number(process.argv[2] ?? 5)
const circuit = buildCircuit(ringRoad(length_km))
const venue = makeVenue(circuit)
const grip = uniformGrip(1)
const bounds = offsetBounds(circuit, car.width_m)

const timed = <T>(work: () => T): [T, number] => {
  const began = performance.now()
  const result = work()
  return [result, performance.now() - began]
}

const once = () => {
  const [smoothest, smoothest_ms]: [Line, number] = timed(() => smoothestLine(circuit, bounds).line)
  const [fast, fast_ms]: [Line, number] = timed(() => fastestLine(circuit, car, grip, bounds, { start: smoothest }).line)
  const [profile, profile_ms]: [Profile, number] = timed(() => solveProfile(circuit, fast, car, { grip }))
  const plan = planOnLine(venue, car, { surface: 'dry', pace: 0.85, school: 'straight' }, fast)
  const [, marks_ms] = timed(() => cornerMetrics(plan))
  return { smoothest_ms, fast_ms, profile_ms, total_ms: smoothest_ms + fast_ms + profile_ms, marks_ms, lapTime_s: profile.lapTime_s }
}

/** Times (ms) in which a line follows a mark that is dragged, step by step, with the lap time of each. */
const dragged = (): number[] => {
  const settings = { surface: 'dry', pace: 0.7, school: 'straight' } as const
  const plan = planOnLine(venue, car, settings, smoothestLine(circuit, bounds).line)
  return plan.marks
    .filter((m) => m.kind === 'apex')
    .slice(0, 6)
    .flatMap((apex) =>
      Array.from({ length: 12 }, (_, k) => {
        const pin = { station_m: apex.station_m + k, offset_m: apex.offset_m * (1 - 0.05 * k) }
        const [, ms] = timed(() => planOnLine(venue, car, settings, followPins(venue, car, settings, plan.line, [pin], pin.station_m)))
        return ms
      }),
    )
    .sort((a, b) => a - b)
}

const round = (value: number): number => Math.round(10 * value) / 10
const fresh = once()
const warm = Array.from({ length: 6 }, once)
const follow = dragged()
const best = (key: 'smoothest_ms' | 'fast_ms' | 'profile_ms' | 'total_ms' | 'marks_ms'): number =>
  round(Math.min(...warm.map((w) => w[key])))
global.gc?.()
const { heapUsed, arrayBuffers } = process.memoryUsage()
process.stdout.write(
  JSON.stringify({
    length_km: Math.round(circuit.length_m / 100) / 10,
    stations: circuit.count,
    corners: venue.corners.length,
    lapTime_s: round(fresh.lapTime_s),
    fresh_ms: {
      smoothest: round(fresh.smoothest_ms),
      fast: round(fresh.fast_ms),
      profile: round(fresh.profile_ms),
      total: round(fresh.total_ms),
      marks: round(fresh.marks_ms),
    },
    follow_ms: {
      median: round(follow[Math.floor(follow.length / 2)]),
      p95: round(follow[Math.floor(0.95 * follow.length)]),
      of: follow.length,
    },
    warm_ms: {
      smoothest: best('smoothest_ms'),
      fast: best('fast_ms'),
      profile: best('profile_ms'),
      total: best('total_ms'),
      marks: best('marks_ms'),
    },
    memory_MB: Math.round((heapUsed + arrayBuffers) / 1e6),
    peak_MB: Math.round(process.resourceUsage().maxRSS / 1000),
  }),
)
