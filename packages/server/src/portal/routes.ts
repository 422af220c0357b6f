import { api, type Day, type Portal, type StudentLink, schoolOf } from '@ochote/contract'
import { type BriefingPart, type DayEvent, preparationOf, type Student, schemeOf, seedOf, vehicleOfStudent } from '@ochote/core'
import type { ImportProgressBoard } from '../debrief/import-progress.ts'
import { type DebriefService, storedPlanOf } from '../debrief/service.ts'
import type { Mount } from '../http/mount.ts'
import { HttpProblem, notFound } from '../http/problems.ts'
import type { Jobs } from '../jobs/jobs.ts'
import type { QuizInput } from '../jobs/quiz.ts'
import type { Stores } from '../stores.ts'
import { drivesOf } from './portal-runs.ts'

/** What a link leads to. */
type Opened = { link: StudentLink; student: Student; day: Day; events: DayEvent[] }

/** Questions are asked in rounds of so many. */
const ROUND = 6

/** Students' links: giving and withdrawing them, and all that a student does by one. */
export const portalRoutes = (mount: Mount, stores: Stores, jobs: Jobs, service: DebriefService, imports: ImportProgressBoard): void => {
  const drives = drivesOf(stores, service)
  const { links, days, dayEvents, students, circuits, vehicles, schoolSettings } = stores

  mount(api.links, async ({ params }) => links.of(params.dayId))
  mount(api.giveLink, async ({ params }) => {
    if (!(await days.byId(params.dayId))) throw notFound('day')
    if (!(await students.byId(params.studentId))) throw notFound('student')
    return links.give(params.dayId, params.studentId)
  })
  mount(api.withdrawLink, async ({ params }) => {
    await links.withdraw(params.dayId, params.studentId)
    return links.of(params.dayId)
  })

  const open = async (token: string): Promise<Opened> => {
    const link = await links.byToken(token)
    const student = link && (await students.byId(link.studentId))
    const day = link && (await days.byId(link.dayId))
    if (!link || !student || !day)
      throw new HttpProblem(
        404,
        'link-withdrawn',
        'This link is not valid any more.',
        'Ask your instructor for a new one; nothing else is lost.',
      )
    return { link, student, day, events: await dayEvents.of(day.id) }
  }

  const school = async () => schoolOf((await schoolSettings.read()).schoolSettings)

  const shown = async ({ student, day, events }: Opened): Promise<Portal> => {
    const { plan } = day
    const circuit = await circuits.byId(plan.settings.circuitId)
    const vehicleId = vehicleOfStudent(student.id, day.plan)
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
      scheme: schemeOf((await school()).schemes, day.plan.settings.schemeId),
      vehicleName: vehicle?.name ?? '',
      parts,
      flags: plan.flags,
      acknowledged,
      radioHeard,
      answered: { right: answers.filter((a) => a.right).length, asked: answers.length },
      drives: await drives.list(student),
    }
  }

  const quizInput = async ({ student, day, events }: Opened, seed: number): Promise<QuizInput> => {
    const settings = { ...day.plan.settings, vehicleId: vehicleOfStudent(student.id, day.plan) }
    const ofDay = new Set(day.plan.studentIds)
    return {
      ...(await storedPlanOf({ settings }, circuits, vehicles)),
      cones: { day: day.plan, school: await school(), students: (await students.all()).filter((s) => ofDay.has(s.id)) },
      vehicles: await vehicles.all(),
      flags: day.plan.flags,
      seed,
      history: preparationOf(events, student.id).answers,
      count: ROUND,
    }
  }

  mount(api.portal, async ({ params }) => shown(await open(params.token)))
  mount(api.portalSendLog, async ({ params, query, upload }) => {
    const { student, day } = await open(params.token)
    await imports.during(query.reading, (told) =>
      drives.take(student, day, vehicleOfStudent(student.id, day.plan), { ...query, path: upload.path, onProgress: told }),
    )
    return shown(await open(params.token))
  })
  mount(api.portalDrive, async ({ params }) => drives.whole((await open(params.token)).student, params.runId))
  mount(api.portalPicture, async ({ params, res }) => {
    const jpeg = await drives.picture((await open(params.token)).student, params.runId, params.pictureId)
    res.set('Cache-Control', 'private, max-age=3600').type('image/jpeg').send(jpeg)
    return undefined
  })
  mount(api.portalProfile, async ({ params, body }) => {
    const opened = await open(params.token)
    await students.change({ ...opened.student, ...body })
    return shown(await open(params.token))
  })
  mount(api.portalAcknowledge, async ({ params, body }) => {
    const { student, day } = await open(params.token)
    const common = { id: body.id, dayId: day.id, at: new Date().toISOString(), studentId: student.id }
    await dayEvents.append(null, [
      body.part === 'radio' ? { ...common, kind: 'radio-heard' } : { ...common, kind: 'acknowledged', part: body.part },
    ])
    return shown(await open(params.token))
  })
  mount(api.portalQuiz, async ({ params }) => {
    const opened = await open(params.token)
    const asked = preparationOf(opened.events, opened.student.id).answers.length
    const seed = seedOf(`${opened.link.token} ${asked}`)
    return { seed, questions: await jobs.askQuiz(await quizInput(opened, seed)) }
  })
  mount(api.portalAnswer, async ({ params, body }) => {
    const opened = await open(params.token)
    const { cornerId, ...judgement } = await jobs.judgeQuiz({
      ...(await quizInput(opened, body.seed)),
      questionId: body.questionId,
      answer: body.answer,
    })
    await dayEvents.append(null, [
      {
        id: body.id,
        dayId: opened.day.id,
        at: new Date().toISOString(),
        kind: 'quiz-answer',
        studentId: opened.student.id,
        questionId: body.questionId,
        cornerId,
        right: judgement.right,
      },
    ])
    return judgement
  })
}
