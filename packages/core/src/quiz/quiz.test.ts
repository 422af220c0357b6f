import { describe, expect, it } from 'vitest'
import { demoVenuePlan } from '../../fixtures/load.ts'
import { placeAt } from '../circuit/station.ts'
import { placeCones } from '../cones/placement.ts'
import { coneSchemes } from '../cones/scheme.ts'
import { markOf } from '../marks/mark.ts'
import { judgeAnswer, type KeyedQuestion, makeQuiz, nextQuestions, type QuizHistory, quizGaps } from './quiz.ts'

const plan = demoVenuePlan()
const scheme = coneSchemes[0]
const flags = ['Red', 'Yellow', 'White', 'Black'].map((name) => ({ name: `${name} flag`, meaning: `what ${name} means` }))
const source = { plan, scheme, cones: placeCones(plan, scheme).cones, flags }
const pool = makeQuiz(source, 1)
const of = (id: string): KeyedQuestion => {
  const found = pool.find((q) => q.question.id === id)
  if (!found) throw new Error(`no question ${id}`)
  return found
}

describe('recall quiz', () => {
  it('asks in several forms about every corner, cones, flags and what to do when it goes wrong', () => {
    for (const corner of plan.corners) expect(pool.filter((q) => q.cornerId === corner.id).length, corner.id).toBeGreaterThanOrEqual(4)
    expect(new Set(pool.map((q) => q.question.form))).toEqual(new Set(['choose', 'order', 'place']))
    expect(pool.filter((q) => q.safety).length).toBeGreaterThanOrEqual(8)
    expect(new Set(pool.map((q) => q.question.id)).size).toBe(pool.length)
  })

  it('has its answers from the plan', () => {
    const first = of('first-cone T1')
    const key = first.key.form === 'choose' ? first.question.choices[first.key.choice] : null
    expect(key).toEqual({ kind: 'cone', rule: { colour: 'yellow', shape: 'tall', count: 2 } })
    const turnIn = markOf(plan.marks, 'T3', 'turn-in')
    if (!turnIn) throw new Error('no turn-in')
    for (const [past_m, right] of [
      [0, true],
      [12, true],
      [-22, false],
    ] as const) {
      const at = placeAt(plan.circuit, turnIn.station_m + past_m, 2)
      const judged = judgeAnswer(of('place turn-in T3'), { form: 'place', x_m: at.x_m, y_m: at.y_m }, plan)
      expect(judged.right).toBe(right)
      expect(judged.off_m).toBeCloseTo(past_m, 0)
    }
    const order = of('order T4')
    expect(order.key.form === 'order' && judgeAnswer(order, { form: 'order', order: [...order.key.order] }, plan).right).toBe(true)
    expect(judgeAnswer(order, { form: 'choose', choice: 0 }, plan).right).toBe(false)
  })

  it('gives nothing away: right choices stand anywhere, and a question holds no answer', () => {
    const places = [0, 0, 0, 0]
    for (let seed = 0; seed < 60; seed++)
      for (const { question, key } of makeQuiz(source, seed)) {
        expect(JSON.stringify(question)).not.toContain('"key"')
        if (key.form === 'choose' && question.choices.length === 4) places[key.choice]++
      }
    const all = places.reduce((a, b) => a + b, 0)
    for (const count of places) expect(count / all).toBeCloseTo(0.25, 1)
  })

  it('does not show the place that is asked for by the frame of its picture', () => {
    const shares = Array.from({ length: 40 }, (_, seed) => {
      const { picture } = makeQuiz(source, seed).find((q) => q.question.id === 'place turn-in T3')?.question ?? {}
      const mark = markOf(plan.marks, 'T3', 'turn-in')
      if (!picture || !mark) throw new Error('no picture')
      const at = placeAt(plan.circuit, mark.station_m, 0)
      const apart = Array.from({ length: picture.travel.length / 2 }, (_, i) =>
        Math.hypot(picture.travel[2 * i] - at.x_m, picture.travel[2 * i + 1] - at.y_m),
      )
      return apart.indexOf(Math.min(...apart)) / apart.length
    })
    expect(Math.max(...shares) - Math.min(...shares)).toBeGreaterThan(0.1)
  })

  it('brings back what was missed after two others, and what was right later each time', () => {
    const ids = (history: QuizHistory) => nextQuestions(pool, history, 3).map((q) => q.question.id)
    const first = nextQuestions(pool, [], 15)
    expect(first.slice(0, 2).every((q) => q.safety)).toBe(true)
    expect(new Set(first.slice(4).map((q) => q.cornerId))).toEqual(new Set(plan.corners.map((c) => c.id)))
    const asked = (id: string, right: boolean) => ({ questionId: id, cornerId: null, right })
    const missed = [asked('gear T1', false), asked('gear T2', true), asked('gear T3', true)]
    expect(ids(missed)[0]).toBe('gear T1')
    expect(ids(missed.slice(0, 1))).not.toContain('gear T1')
    expect(ids([...missed, asked('gear T1', true)])).not.toContain('gear T1')
  })

  it('tells the gaps: what was answered wrong last, by corner', () => {
    const gaps = quizGaps([
      { questionId: 'gear T1', cornerId: 'T1', right: false },
      { questionId: 'gear T1', cornerId: 'T1', right: true },
      { questionId: 'gear T2', cornerId: 'T2', right: false },
      { questionId: 'flag x', cornerId: null, right: false },
    ])
    expect(gaps).toEqual([
      { cornerId: 'T2', questionIds: ['gear T2'] },
      { cornerId: null, questionIds: ['flag x'] },
    ])
  })
})
