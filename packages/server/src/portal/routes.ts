import { api, type Day, type Portal, type StoredStudent, type StudentLink, schoolOf } from '@ochote/contract'
import {
  type BriefingPart,
  type ConesOfDay,
  type DayEvent,
  preparationOf,
  schemeOf,
  sectionsOfStudent,
  seedOf,
  settingsOfStudent,
} from '@ochote/core'
import { serverTime } from '../clock/clock.ts'
import { dayCalendar, ownTimes } from '../days/times.ts'
import { acknowledge } from '../db/acknowledge.ts'
import type { ImportProgressBoard } from '../debrief/import-progress.ts'
import { type DebriefService, storedPlanOf } from '../debrief/service.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, linkWithdrawn, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { OfDayInput, QuizInput } from '../jobs/quiz.ts'
import type { Stores } from '../stores.ts'
import { checkLogsLeft, portalDrive, portalDrives, portalPicture, takeSentLog } from './portal-runs.ts'

/** The student and day that a link opens. */
type Opened = { link: StudentLink; student: StoredStudent; day: Day; events: DayEvent[] }

/** Number of questions in a round. */
const ROUND = 6

/** Students' links: creating and withdrawing them, and all that a student does by one. */
export const portalRoutes = (mount: Mount, stores: Stores, jobs: Jobs, service: DebriefService, imports: ImportProgressBoard): void => {
  mountLinks(mount, stores, jobs)
  mountPortal(mount, stores, service, imports)
  mountQuiz(mount, stores, jobs)
  mountRecall(mount, stores, jobs)
}

/** Makes a day's questions before the first student asks for them; nothing depends on it. */
const prepareQuestions = async (stores: Stores, jobs: Jobs, day: Day): Promise<void> => {
  const [first] = await stores.students.byIds(day.plan.studentIds)
  if (first) await jobs.askQuiz(await quizInput(stores, { student: first, day, events: [] }, 0))
}

const mountLinks = (mount: Mount, stores: Stores, jobs: Jobs): void => {
  const { links, days, students } = stores
  mount(api.links, async ({ params }) => links.of(params.dayId))
  mount(api.giveLink, async ({ params }) => {
    const day = await days.byId(params.dayId)
    if (!day) throw notFound('day')
    if (!(await students.byId(params.studentId))) throw notFound('student')
    return links.give(day.id, day.plan.date, params.studentId)
  })
  mount(api.giveLinks, async ({ params }) => {
    const day = await days.byId(params.dayId)
    if (!day) throw notFound('day')
    const known = new Set((await students.byIds(day.plan.studentIds)).map((s) => s.id))
    for (const studentId of day.plan.studentIds) if (known.has(studentId)) await links.give(day.id, day.plan.date, studentId)
    // What fails here fails again, in words, where somebody asks.
    void prepareQuestions(stores, jobs, day).catch(() => {})
    return links.of(day.id)
  })
  mount(api.withdrawLink, async ({ params }) => {
    await links.withdraw(params.dayId, params.studentId)
    return links.of(params.dayId)
  })
}

/** Opens a token. @throws HttpProblem 404 where the link was withdrawn, or its student or day is gone */
const opened = async ({ links, students, days, dayEvents }: Stores, token: string): Promise<Opened> => {
  const link = await links.byToken(token)
  const student = link && (await students.byId(link.studentId))
  const day = link && (await days.byId(link.dayId))
  if (!link || !student || !day) throw linkWithdrawn()
  return { link, student, day, events: await dayEvents.of(day.id) }
}

const schoolNow = async ({ schoolSettings }: Stores): Promise<ConesOfDay['school']> =>
  schoolOf((await schoolSettings.read()).schoolSettings)

/** The student's page as data. */
const portalOf = async (stores: Stores, { student, day, events }: Opened): Promise<Portal> => {
  const { circuits, vehicles } = stores
  const { plan } = day
  const { schoolSettings } = await stores.schoolSettings.read()
  const circuit = await circuits.byId(plan.settings.circuitId)
  const { vehicleId, schemeId } = settingsOfStudent(student.id, day.plan)
  const vehicle = await vehicles.byId(vehicleId)
  const { acknowledged, radioHeard, answers } = preparationOf(events, student.id)
  const { pits, passing, signals, radio, controls } = plan.briefing
  const parts: Record<BriefingPart, string[]> = {
    safety: plan.rules,
    flags: [],
    pits: [...pits, ...passing],
    signals: [...signals, ...radio],
    cones: [],
    car: controls[vehicleId] ?? [],
    circuit: [],
  }
  return {
    student,
    date: plan.date,
    title: plan.title,
    venue: plan.venue,
    corners: Object.entries(circuit?.notes.cornerNames ?? {}).map(([id, name]) => ({ id, name })),
    scheme: schemeOf(schoolOf(schoolSettings).schemes, schemeId),
    vehicleName: vehicle?.name ?? '',
    ...(await ownTimes(stores, day, student.id)),
    sections: sectionsOfStudent(student.id, plan.groups).map((id) => circuit?.notes.cornerNames[id] ?? id),
    parts,
    flags: plan.flags,
    cautions: schoolSettings.cautions,
    acknowledged,
    radioHeard,
    answered: { right: answers.filter((a) => a.right).length, asked: answers.length },
    drives: await portalDrives(stores, student),
  }
}

const mountPortal = (mount: Mount, stores: Stores, service: DebriefService, imports: ImportProgressBoard): void => {
  const { dayEvents, students } = stores
  mount(api.portal, async ({ params }) => portalOf(stores, await opened(stores, params.token)))
  mount(
    api.portalSendLog,
    async ({ params, query, upload }) => {
      const { student, day } = await opened(stores, params.token)
      await imports.during(query.reading, (onProgress) =>
        takeSentLog(stores, service, student, day, { ...query, path: upload.path, onProgress }),
      )
      return portalOf(stores, await opened(stores, params.token))
    },
    async ({ params }) => {
      const { student, day } = await opened(stores, params.token)
      await checkLogsLeft(stores, student, day)
    },
  )
  mount(api.portalDrive, async ({ params }) => portalDrive(stores, (await opened(stores, params.token)).student, params.runId))
  mount(api.portalCalendar, async ({ params, res }) => {
    const { student, day } = await opened(stores, params.token)
    res.type('text/calendar').send(await dayCalendar(stores, day, { studentId: student.id }))
    return undefined
  })
  mount(api.portalPicture, async ({ params, res }) => {
    const jpeg = await portalPicture(stores, (await opened(stores, params.token)).student, params.runId, params.pictureId)
    res.set('Cache-Control', 'private, max-age=3600').type('image/jpeg').send(jpeg)
    return undefined
  })
  mount(api.portalProfile, async ({ params, body }) => {
    const link = await opened(stores, params.token)
    const { version, ...profile } = body
    if (!(await students.change(link.student.id, version ?? link.student.version, { ...link.student, ...profile })))
      throw changedMeanwhile('profile')
    return portalOf(stores, await opened(stores, params.token))
  })
  mount(api.portalAcknowledge, async ({ params, body }) => {
    const { student, day } = await opened(stores, params.token)
    const common = { id: body.id, dayId: day.id, at: serverTime(), studentId: student.id }
    await dayEvents.append(null, [
      body.part === 'radio' ? { ...common, kind: 'radio-heard' } : { ...common, kind: 'acknowledged', part: body.part },
    ])
    return portalOf(stores, await opened(stores, params.token))
  })
}

/** A student's circuit, vehicle and settings, and what the cones of the day depend on. */
const ofDayInput = async (stores: Stores, { student, day }: Pick<Opened, 'student' | 'day'>): Promise<OfDayInput> => {
  const { circuits, vehicles, students } = stores
  const settings = settingsOfStudent(student.id, day.plan)
  return {
    ...(await storedPlanOf({ settings }, circuits, vehicles)),
    // Only what cones depend on: whatever else changes in the day leaves the questions as they were made.
    cones: {
      day: { settings: day.plan.settings, cones: day.plan.cones, calls: day.plan.calls },
      school: await schoolNow(stores),
      students: await students.byIds(day.plan.studentIds),
    },
    vehicles: await vehicles.all(),
  }
}

/** Input for a student's quiz. */
const quizInput = async (stores: Stores, { student, day, events }: Omit<Opened, 'link'>, seed: number): Promise<QuizInput> => ({
  ...(await ofDayInput(stores, { student, day })),
  flags: day.plan.flags,
  seed,
  history: preparationOf(events, student.id).answers,
  count: ROUND,
})

/** The seed of the round that begins after so many answers; nobody can guess it without the link. */
const seedAfter = (token: string, answers: number): number => seedOf(`${token} ${answers}`)

/** How many answers there were when a round began; null for a round that is over, or never was. */
const beganAfter = (token: string, seed: number, answers: number): number | null => {
  for (let n = answers; n >= Math.max(0, answers - ROUND); n--) if (seedAfter(token, n) === seed) return n
  return null
}

const mountQuiz = (mount: Mount, stores: Stores, jobs: Jobs): void => {
  const { dayEvents } = stores
  mount(api.portalQuiz, async ({ params }) => {
    const link = await opened(stores, params.token)
    const seed = seedAfter(params.token, preparationOf(link.events, link.student.id).answers.length)
    return { seed, questions: await jobs.askQuiz(await quizInput(stores, link, seed)) }
  })
  mount(api.portalAnswer, async ({ params, body }) => {
    const link = await opened(stores, params.token)
    const { answers } = preparationOf(link.events, link.student.id)
    const began = beganAfter(params.token, body.seed, answers.length)
    if (began === null)
      throw new HttpProblem(409, 'round-over', 'This round of questions is over.', 'Begin another one; what was answered is kept.')
    const { cornerId, ...judgement } = await jobs.judgeQuiz({
      ...(await quizInput(stores, link, body.seed)),
      questionId: body.questionId,
      answer: body.answer,
    })
    // A question counts once in a round, however often its answer is sent.
    if (answers.slice(began).some((one) => one.questionId === body.questionId)) return judgement
    await dayEvents.append(null, [
      {
        id: body.id,
        dayId: link.day.id,
        at: serverTime(),
        kind: 'quiz-answer',
        studentId: link.student.id,
        questionId: body.questionId,
        cornerId,
        right: judgement.right,
      },
    ])
    return judgement
  })
}

const mountRecall = (mount: Mount, stores: Stores, jobs: Jobs): void => {
  const { circuits, vehicles, dayEvents } = stores
  mount(api.portalRecall, async ({ params }) => {
    const { student, day, events } = await opened(stores, params.token)
    const settings = settingsOfStudent(student.id, day.plan)
    const circuit = await circuits.byId(settings.circuitId)
    if (!circuit) throw notFound('circuit')
    const vehicle = await vehicles.byId(settings.vehicleId)
    if (!vehicle) throw notFound('vehicle')
    const cones = await jobs.conesMet(await ofDayInput(stores, { student, day }))
    return { circuit, vehicle, settings, cones, rounds: preparationOf(events, student.id).rounds }
  })
  mount(api.portalRecalled, async ({ params, body }) => {
    const { student, day } = await opened(stores, params.token)
    const common = { dayId: day.id, kind: 'recalled', studentId: student.id } as const
    return acknowledge(
      body,
      () => null,
      async (rounds, clock_ms) => {
        const { clashing } = await dayEvents.append(
          null,
          rounds.map((round) => ({ ...common, ...round })),
          clock_ms,
        )
        return rounds.filter(({ id }) => clashing.some((c) => c.id === id))
      },
    )
  })
}
