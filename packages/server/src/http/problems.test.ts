import { CoreError } from '@ochote/core'
import express from 'express'
import request from 'supertest'
import { describe, expect, it, vi } from 'vitest'
import { z } from 'zod'
import { changedMeanwhile, HttpProblem, notFound, problemHandler } from './problems.ts'

/** The answer that a client gets when a route fails with an error. */
const answerTo = async (error: unknown, logged = vi.fn()) => {
  const app = express()
  app.use((req, _res, next) => {
    Object.assign(req, { log: { error: logged } })
    next()
  })
  app.get('/', () => {
    throw error
  })
  app.use(problemHandler(() => {}))
  return request(app).get('/')
}

describe('a failure', () => {
  it('that was foreseen is told with its code and what to do', async () => {
    const answer = await answerTo(new HttpProblem(422, 'too-short', 'The run is too short.', 'Drive one lap.', 'log.csv'))
    expect(answer.status).toBe(422)
    expect(answer.type).toBe('application/problem+json')
    expect(JSON.parse(answer.text)).toEqual({
      type: 'urn:ochote:problem:too-short',
      title: 'The run is too short.',
      status: 422,
      code: 'too-short',
      remedy: 'Drive one lap.',
      place: 'log.csv',
    })
  })

  it('says of what is missing that it may have been removed', async () => {
    const answer = await answerTo(notFound('run'))
    expect(answer.status).toBe(404)
    expect(JSON.parse(answer.text).title).toContain('run')
  })

  it('says of a document that somebody else changed, that the newer one is shown', async () => {
    const answer = await answerTo(changedMeanwhile('day'))
    expect(answer.status).toBe(409)
    expect(JSON.parse(answer.text)).toMatchObject({ code: 'changed-meanwhile', title: 'Someone else has changed this day.' })
  })

  it('of the computation becomes its words, with place and remedy', async () => {
    const answer = await answerTo(new CoreError('file-empty', 'survey.csv'))
    const told = JSON.parse(answer.text)
    expect(answer.status).toBe(422)
    expect(told.code).toBe('file-empty')
    expect(told.place).toContain('survey.csv')
    expect(told.title.length).toBeGreaterThan(5)
    expect(told.remedy.length).toBeGreaterThan(5)
  })

  it('of a field names the field, and that nothing was stored', async () => {
    const wrong = z.object({ cones: z.array(z.object({ side: z.enum(['left', 'right']) })) }).safeParse({ cones: [{ side: 'up' }] })
    const answer = await answerTo(wrong.error)
    expect(answer.status).toBe(400)
    expect(JSON.parse(answer.text)).toMatchObject({ code: 'invalid', place: 'cones.0.side' })
    expect(JSON.parse(answer.text).remedy).toContain('nothing was stored')
  })

  it.each([
    [{ type: 'entity.parse.failed' }, 400, 'invalid'],
    [{ type: 'entity.too.large' }, 413, 'too-large'],
    [{ status: 413 }, 413, 'too-large'],
  ])('of the request itself (%o) is told as the sender’s', async (raised, status, code) => {
    const logged = vi.fn()
    const answer = await answerTo(Object.assign(new Error('raised'), raised), logged)
    expect(answer.status).toBe(status)
    expect(JSON.parse(answer.text).code).toBe(code)
    expect(logged).not.toHaveBeenCalled()
  })

  it('nobody foresaw is logged, and told without its insides', async () => {
    const logged = vi.fn()
    const answer = await answerTo(new Error('no such column: secret_table.column'), logged)
    expect(answer.status).toBe(500)
    expect(answer.text).not.toContain('secret_table')
    expect(JSON.parse(answer.text).remedy).toContain('stored before is safe')
    expect(logged).toHaveBeenCalledOnce()
  })
})
