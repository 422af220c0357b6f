import { api } from '@ochote/contract'
import type { CircuitStore } from '../circuits/store.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { QuestionStore } from './store.ts'

/** Questions asked at a circuit: list, save, remove. */
export const questionRoutes = (mount: Mount, questions: QuestionStore, circuits: CircuitStore): void => {
  mount(api.questions, async ({ params }) => questions.at(params.circuitId))
  mount(api.putQuestion, async ({ params, body }) => {
    if (params.questionId !== body.id)
      throw new HttpProblem(400, 'invalid', 'The question has another id than its address.', 'Send it to its own address.', 'id')
    if (!(await circuits.byId(body.circuitId))) throw notFound('circuit')
    if (!(await questions.put(body))) throw changedMeanwhile('question')
    return (await questions.byId(body.id)) ?? body
  })
  mount(api.removeQuestion, async ({ params }) => ({ removed: await questions.remove(params.questionId) }))
}
