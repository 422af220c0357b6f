import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import {
  circuitNotesSchema,
  type DayPlan,
  dayPlanSchema,
  schoolCarSchema,
  schoolSettingsSchema,
  simulationSchema,
  studentSchema,
  vehicleFileSchema,
} from '@ochote/contract'
import {
  type Advice,
  adviceText,
  briefingParts,
  correctionFor,
  type DayEvent,
  levels,
  type PlanChoice,
  plannedDay,
  type RunEvent,
  readCircuit,
  seededRandom,
  seedOf,
} from '@ochote/core'
import { z } from 'zod'
import { storedPlanOf } from '../debrief/service.ts'
import type { Jobs } from '../jobs/jobs.ts'
import { packSource } from '../jobs/log-source.ts'
import type { Stores } from '../stores.ts'

/** The demo folder's scenario file. */
const scenarioSchema = z.object({
  circuits: z.array(circuitNotesSchema.extend({ id: z.string(), file: z.string(), name: z.string() })),
  vehicles: z.string(),
  accounts: z.array(z.object({ id: z.string(), name: z.string(), role: z.enum(['lead', 'instructor']) })),
  students: z.array(studentSchema),
  day: dayPlanSchema.extend({ id: z.string() }),
  /** Levels that may drive a car; all where it is not named. */
  carsFor: z.record(z.string(), z.array(z.enum(levels))),
  schoolSettings: schoolSettingsSchema,
  questions: z.array(z.object({ circuitId: z.string(), cornerId: z.string().nullable(), text: z.string(), answer: z.string() })),
  prepared: z.array(
    z.object({
      studentId: z.string(),
      parts: z.array(z.enum(briefingParts)),
      radio: z.boolean(),
      answers: z.array(z.tuple([z.string(), z.string().nullable(), z.boolean()])),
    }),
  ),
  past: z.object({
    dates: z.array(z.iso.date()),
    studentIds: z.array(z.string()),
    laps: z.number().int(),
    paces: z.array(z.number()),
  }),
})
type Scenario = z.infer<typeof scenarioSchema>

/** Ids of past runs and events are made from their place in the scenario, so that loading twice adds nothing. */
const fixedId = (text: string): string => {
  const random = seededRandom(seedOf(text))
  const hex = (digits: number): string => Array.from({ length: digits }, () => Math.floor(random.uniform() * 16).toString(16)).join('')
  return `${hex(8)}-${hex(4)}-7${hex(3)}-8${hex(3)}-${hex(12)}`
}

/** Loads the demo scenario into an empty database; one that holds circuits already is left as it is. */
export const loadDemo = async (stores: Stores, jobs: Jobs, folder: string, say: (line: string) => void): Promise<void> => {
  if ((await stores.circuits.all()).length > 0) return
  say('Loading the demo scenario; past days are driven by the simulated students …')
  const scenario = scenarioSchema.parse(JSON.parse(await readFile(join(folder, 'scenario.json'), 'utf8')))
  await stores.vehicles.put(vehicleFileSchema.parse(JSON.parse(await readFile(join(folder, scenario.vehicles), 'utf8'))), new Map())
  for (const account of scenario.accounts) await stores.accounts.add({ ...account, passwordHash: null })
  await stores.students.add(scenario.students)
  await loadPast(stores, jobs, scenario, folder)
  const { id, ...day } = scenario.day
  const plan = planned(day, scenario)
  await stores.days.add(id, plan)
  for (const { id: carId, number, vehicleId, owner } of plan.cars) {
    const student = scenario.students.find((s) => s.name === owner)
    await stores.cars.put(
      schoolCarSchema.parse({ id: carId, number, vehicleId, studentId: student?.id ?? null, mayDrive: mayDriveIn(scenario, carId) }),
      0,
      null,
    )
  }
  await stores.schoolSettings.change(0, scenario.schoolSettings)
  for (const [k, question] of scenario.questions.entries())
    await stores.questions.put({ ...question, version: 0, id: fixedId(`question ${k}`), at: `${plan.date}T07:0${k}:00.000Z` })
  await loadPrepared(stores, scenario)
}

const mayDriveIn = ({ carsFor }: Scenario, carId: string) => ({ levels: carsFor[carId] ?? [], studentIds: [] })

/** Moves by which the demo's day is planned: the same plan each time, in about a tenth of a second. */
const STEPS = 60_000
/** Lap time by which laps of a run are counted before anything is driven (s). */
const LAP_S = 110

/** The demo's day, planned by the solver from its people, cars and rules. */
const planned = (day: DayPlan, scenario: Scenario): DayPlan => {
  const { students } = scenario
  const schoolCars = day.cars.map((car) => ({
    id: car.id,
    studentId: students.find((s) => s.name === car.owner)?.id ?? null,
    mayDrive: mayDriveIn(scenario, car.id),
  }))
  return plannedDay(day, { students, schoolCars, teaching: {}, lap_s: () => LAP_S }, STEPS)
}

/** Students' use of their links before the day began. */
const loadPrepared = async (stores: Stores, { day, prepared }: Scenario): Promise<void> => {
  const events = prepared.flatMap(({ studentId, parts, radio, answers }): DayEvent[] => {
    const common = (name: string) => ({
      id: fixedId(`${day.id} ${studentId} ${name}`),
      dayId: day.id,
      at: `${day.date}T08:20:00.000Z`,
      studentId,
    })
    return [
      ...parts.map((part): DayEvent => ({ ...common(part), kind: 'acknowledged', part })),
      ...(radio ? [{ ...common('radio'), kind: 'radio-heard' as const }] : []),
      ...answers.map(
        ([questionId, cornerId, right]): DayEvent => ({ ...common(questionId), kind: 'quiz-answer', questionId, cornerId, right }),
      ),
    ]
  })
  await stores.dayEvents.append(null, events)
}

const loadPast = async (stores: Stores, jobs: Jobs, scenario: Scenario, folder: string): Promise<void> => {
  for (const circuit of scenario.circuits) {
    const survey = readCircuit(await readFile(join(folder, circuit.file), 'utf8'), circuit.name)
    const { id, name, file: _, ...notes } = circuit
    await stores.circuits.add(id, { ...survey, name }, notes)
  }
  const lead = scenario.accounts[0]
  const jobsToDo: Promise<void>[] = []
  for (const [k, date] of scenario.past.dates.entries()) {
    const { id: _, ...plan } = scenario.day
    const settings: PlanChoice = { ...plan.settings, pace: scenario.past.paces[k] ?? plan.settings.pace }
    const dayId = `day-${date}`
    await stores.days.add(dayId, { ...plan, date, title: `Course day ${k + 1}`, weather: 'dry', settings, slots: [] })
    for (const [j, studentId] of scenario.past.studentIds.entries())
      jobsToDo.push(
        drivePastRun(stores, jobs, { dayId, date, studentId, settings, laps: scenario.past.laps, order: j, day: k, leadId: lead.id }),
      )
  }
  await Promise.all(jobsToDo)
}

type PastRun = {
  dayId: string
  date: string
  studentId: string
  settings: PlanChoice
  laps: number
  order: number
  day: number
  leadId: string
}

const drivePastRun = async (stores: Stores, jobs: Jobs, past: PastRun): Promise<void> => {
  const id = fixedId(`${past.dayId} ${past.studentId}`)
  const at = (minutes: number): string =>
    new Date(Date.parse(`${past.date}T09:00:00Z`) + (past.order * 25 + minutes) * 60_000).toISOString()
  const { dayId, studentId, settings } = past
  await stores.runs.add({ id, dayId, slotId: null, studentId, carId: null, instructorId: past.leadId, settings, startedAt: at(0) })
  const source = await storedPlanOf({ settings }, stores.circuits, stores.vehicles)
  const simulation = simulationSchema.parse({ seed: seedOf(id), laps: past.laps, speedFactor: 1, startedAt: at(0), rate_hz: 10 })
  const drive = await jobs.simulate({
    ...source,
    seed: simulation.seed,
    laps: simulation.laps,
    habitSeed: seedOf(studentId),
    skill: 0.1 + 0.12 * past.day,
  })
  const log = { text: drive.csv }
  const output = await jobs.analyse({ ...source, logs: [{ source: log }] }, { person: studentId })
  await stores.runs.setSimulation(id, simulation, false)
  // Ended first: a run that ends is due for its log until that is there.
  await stores.runs.end(id, at(20))
  await stores.debriefs.put(id, { source: 'simulated logger', csv_gz: await packSource(log), output })
  const random = seededRandom(seedOf(`seen ${id}`))
  // The instructor in the car sees about half of what the log shows.
  const events: RunEvent[] = output.findings
    .filter((f) => f.root && random.uniform() < 0.5)
    .map((f, k) => ({
      kind: 'observation',
      id: fixedId(`${id} ${k}`),
      runId: id,
      at: at(4 + f.lap * 2),
      cornerId: f.cornerId,
      code: f.code,
      lap: f.lap,
    }))
  // Afterwards the lead said one or two things, each time in other words.
  const roots = output.findings.filter((f) => f.root)
  const said = [...new Map(roots.map((f) => [`${f.cornerId} ${f.code}`, f])).values()].slice(0, 2).map((f, k): RunEvent => {
    const { say, cue } = adviceText({ code: f.code, goal: f.evidence } as Pick<Advice, 'code' | 'goal'>)
    const words = [say, cue, correctionFor(f.code)][Math.floor(random.uniform() * 3)]
    return { kind: 'said', id: fixedId(`${id} said ${k}`), runId: id, at: at(24), cornerId: f.cornerId, code: f.code, words }
  })
  if (events.length + said.length > 0) await stores.runs.append(past.leadId, [...events, ...said])
}
