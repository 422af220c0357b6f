import { z } from 'zod'
import { dayEventBatchSchema, dayEventSchema } from './day-event.ts'
import { endpoint } from './endpoint.ts'
import {
  handedAcknowledgeSchema,
  handedProfileSchema,
  handedSchema,
  quizAnswerSchema,
  quizJudgementSchema,
  quizSchema,
  studentLinkSchema,
} from './handed.ts'
import { kitSchema, storedKitSchema } from './kit.ts'
import { questionSchema } from './preparation.ts'
import { acknowledgedSchema } from './run.ts'
import { changedStudentSchema, studentSchema } from './student.ts'

const id = z.string().min(1).max(80)
const circuitId = z.object({ circuitId: id })
const dayId = z.object({ dayId: id })
const studentId = z.object({ studentId: id })
const token = z.object({ token: z.string().min(20).max(80) })

/** Calls by which a day is prepared: kit, questions, people, links, and what students do by them. */
export const preparationApi = {
  kit: endpoint({
    id: 'kit',
    method: 'get',
    path: '/api/kit',
    summary: 'Own cone schemes and phrase books, stock of cones, reserved colours',
    access: 'signed-in',
    response: storedKitSchema,
  }),
  saveKit: endpoint({
    id: 'saveKit',
    method: 'put',
    path: '/api/kit',
    summary: 'Change the kit; refused when made from an older version',
    access: 'lead',
    body: z.object({ version: z.number().int(), kit: kitSchema }),
    response: storedKitSchema,
  }),
  questions: endpoint({
    id: 'questions',
    method: 'get',
    path: '/api/circuits/:circuitId/questions',
    summary: 'Questions asked at a circuit, with their answers',
    access: 'signed-in',
    params: circuitId,
    response: z.array(questionSchema),
  }),
  putQuestion: endpoint({
    id: 'putQuestion',
    method: 'put',
    path: '/api/questions/:questionId',
    summary: 'Keep a question or change its answer',
    access: 'signed-in',
    params: z.object({ questionId: z.uuid() }),
    body: questionSchema,
    response: questionSchema,
  }),
  removeQuestion: endpoint({
    id: 'removeQuestion',
    method: 'delete',
    path: '/api/questions/:questionId',
    summary: 'Take a question away',
    access: 'signed-in',
    params: z.object({ questionId: z.uuid() }),
    response: z.object({ removed: z.boolean() }),
  }),
  changeStudent: endpoint({
    id: 'changeStudent',
    method: 'put',
    path: '/api/students/:studentId',
    summary: 'Change a student’s level, wishes and profile',
    access: 'signed-in',
    params: studentId,
    body: changedStudentSchema,
    response: studentSchema,
  }),
  eraseStudent: endpoint({
    id: 'eraseStudent',
    method: 'delete',
    path: '/api/students/:studentId',
    summary: 'Erase a student with everything that is kept of them',
    access: 'lead',
    params: studentId,
    response: z.array(studentSchema),
  }),
  dayEvents: endpoint({
    id: 'dayEvents',
    method: 'get',
    path: '/api/days/:dayId/events',
    summary: 'Cones reported, parts acknowledged, questions answered, in order',
    access: 'signed-in',
    params: dayId,
    response: z.array(dayEventSchema),
  }),
  addDayEvents: endpoint({
    id: 'addDayEvents',
    method: 'post',
    path: '/api/day-events',
    summary: 'Append events of a day; a resend never doubles',
    access: 'signed-in',
    body: dayEventBatchSchema,
    response: acknowledgedSchema,
  }),
  links: endpoint({
    id: 'links',
    method: 'get',
    path: '/api/days/:dayId/links',
    summary: 'Links of a day that were given to students and not withdrawn',
    access: 'signed-in',
    params: dayId,
    response: z.array(studentLinkSchema),
  }),
  giveLink: endpoint({
    id: 'giveLink',
    method: 'post',
    path: '/api/days/:dayId/links/:studentId',
    summary: 'Give a student a link for a day; the same again while it is valid',
    access: 'signed-in',
    params: z.object({ dayId: id, studentId: id }),
    response: studentLinkSchema,
  }),
  withdrawLink: endpoint({
    id: 'withdrawLink',
    method: 'delete',
    path: '/api/days/:dayId/links/:studentId',
    summary: 'Withdraw a student’s link',
    access: 'signed-in',
    params: z.object({ dayId: id, studentId: id }),
    response: z.array(studentLinkSchema),
  }),
  handed: endpoint({
    id: 'handed',
    method: 'get',
    path: '/api/handed/:token',
    summary: 'What a student’s link shows',
    access: 'link',
    params: token,
    response: handedSchema,
  }),
  handedProfile: endpoint({
    id: 'handedProfile',
    method: 'put',
    path: '/api/handed/:token/profile',
    summary: 'A student’s own words about themselves; empty fields are erased',
    access: 'link',
    params: token,
    body: handedProfileSchema,
    response: handedSchema,
  }),
  handedAcknowledge: endpoint({
    id: 'handedAcknowledge',
    method: 'post',
    path: '/api/handed/:token/acknowledge',
    summary: 'A student acknowledges a part of the briefing, or the radio check',
    access: 'link',
    params: token,
    body: handedAcknowledgeSchema,
    response: handedSchema,
  }),
  handedQuiz: endpoint({
    id: 'handedQuiz',
    method: 'get',
    path: '/api/handed/:token/quiz',
    summary: 'Questions to answer now, without their answers',
    access: 'link',
    params: token,
    response: quizSchema,
  }),
  handedAnswer: endpoint({
    id: 'handedAnswer',
    method: 'post',
    path: '/api/handed/:token/quiz',
    summary: 'Answer one question',
    access: 'link',
    params: token,
    body: quizAnswerSchema,
    response: quizJudgementSchema,
  }),
} as const
