// Feeds a day of fifteen cars through gateway and track as fast as they go, and prints memory by the half hour and the cost of a position.
import { readFileSync } from 'node:fs'
import type { LiveEvent, Run, StoredPlan } from '@ochote/contract'
import { planSource } from '@ochote/contract'
import { createPlanner, habitsOf, readCircuit, simulateDrive, type Vehicle, writeJsonLine } from '@ochote/core'
import { receiverGateway } from '../src/live/gateway.ts'
import type { Recorder } from '../src/live/recorder.ts'
import { liveStream } from '../src/live/stream.ts'
import { type TrackedRun, track } from '../src/live/track.ts'

const [hours = '8', demo = 'demo'] = process.argv.slice(2)
const CARS = 15
const RATE_HZ = 25
const RUN_S = 20 * 60

const scenario = JSON.parse(readFileSync(`${demo}/scenario.json`, 'utf8'))
const { id, name, file, ...notes } = scenario.circuits[0]
const survey = readCircuit(readFileSync(`${demo}/${file}`, 'utf8'), name)
const vehicle = (JSON.parse(readFileSync(`${demo}/vehicles.json`, 'utf8')) as Vehicle[])[0]
const source = { circuit: { id, name, survey, notes }, vehicle, settings: scenario.day.settings } as unknown as StoredPlan
const plan = createPlanner().plan(planSource(source))

// One run of laps, driven once and used by every car in every run, with another start each.
const { log } = simulateDrive(plan, { laps: 9, seed: 3, rate_hz: RATE_HZ, noise_m: 0.1, habits: habitsOf(4, plan, 0) })
const day_s = Date.UTC(2027, 4, 15, 8) / 1000
let runNumber = 0
const cars = async (): Promise<TrackedRun[]> =>
  Array.from({ length: CARS }, (_, k) => ({
    carNumber: String(k + 1),
    dayId: 'day',
    run: { id: `run-${runNumber}-${k}`, startedAt: new Date(day_s * 1000).toISOString(), simulation: null } as unknown as Run,
    source,
    thresholds: {},
    counts: () => true,
  }))
const recorder: Recorder = {
  take: () => {},
  past: async () => null,
  recorded: async () => null,
  held: () => ({ lines: 0, dropped: 0 }),
  files: async () => [],
  forget: async () => {},
  close: async () => {},
}
let now_ms = day_s * 1000
const counts = { lap: 0, passed: 0, findings: 0 }
const stream = liveStream(() => now_ms)
const onTrack = track({
  cars,
  planOf: async () => plan,
  recorder,
  onPosition: stream.position,
  onReset: stream.forget,
  onFailure: (error) => {
    throw error
  },
  onHappened: (event: LiveEvent) => {
    stream.happened(event)
    if (event.kind === 'lap') counts.lap++
    if (event.kind === 'passed') {
      counts.passed++
      counts.findings += event.findings.length
    }
  },
})
const gateway = receiverGateway([0], onTrack.sink, { now: () => now_ms })
const memory: { hour: number; heap_MB: number; rss_MB: number }[] = []
const measure = (hour: number): void => {
  globalThis.gc?.()
  const { heapUsed, rss } = process.memoryUsage()
  memory.push({ hour, heap_MB: Math.round(heapUsed / 1e5) / 10, rss_MB: Math.round(rss / 1e5) / 10 })
}
const total_s = Number(hours) * 3600
const samples = Math.min(log.time_s.length, RUN_S * RATE_HZ)
let lines = 0
const began = process.cpuUsage()
measure(0)
for (let from_s = 0; from_s < total_s; from_s += RUN_S) {
  runNumber++
  await onTrack.refresh()
  for (let i = 0; i < samples; i++) {
    const time_s = day_s + from_s + i / RATE_HZ
    now_ms = time_s * 1000
    for (let k = 0; k < CARS; k++) {
      // Cars follow each other by some seconds of the same drive.
      const j = (i + 150 * k) % log.time_s.length
      const fix = {
        time_s,
        lat_deg: log.lat_deg[j],
        lon_deg: log.lon_deg[j],
        ele_m: log.ele_m[j],
        speed_mps: log.speed_mps?.[j],
        car: String(k + 1),
      }
      gateway.line(0, 'tcp', 'bench', writeJsonLine({ ...fix, throttle_pct: log.throttle_pct?.[j], brake_bar: log.brake_bar?.[j] }))
      lines++
    }
  }
  if ((from_s / RUN_S) % 3 === 2) measure((from_s + RUN_S) / 3600)
}
const { user, system } = process.cpuUsage(began)
const [receiver] = gateway.receivers()
const settled = memory.slice(1)
process.stdout.write(
  JSON.stringify({
    hours: Number(hours),
    cars: CARS,
    rate_hz: RATE_HZ,
    lines,
    garbage: receiver.garbage,
    laps: counts.lap,
    cornersPassed: counts.passed,
    suggestions: counts.findings,
    cpuPerPosition_us: Math.round((10 * (user + system)) / lines) / 10,
    shareOfACore: Math.round((1000 * (user + system)) / 1e6 / total_s) / 1000,
    heapGrowth_MB: Math.round(10 * ((settled.at(-1)?.heap_MB ?? 0) - (settled[0]?.heap_MB ?? 0))) / 10,
    memory,
  }),
)
stream.close()
