import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
import type { LeftBehind, StudentStore } from './store.ts'

/** Students: list, add, change, decide about, erase. `leftOf`: what a student leaves in the counts of groups. */
export const studentRoutes = (mount: Mount, students: StudentStore, leftOf: (studentId: string) => Promise<LeftBehind[]>): void => {
  mount(api.students, async () => students.all())
  mount(api.addStudent, async ({ body }) => {
    await students.add(body)
    return body
  })
  mount(api.changeStudent, async ({ params, body }) => {
    if (!(await students.byId(params.studentId))) throw notFound('student')
    const student = { ...body, id: params.studentId }
    await students.change(student)
    return student
  })
  mount(api.tellOfStudent, async ({ params, body, account }) => {
    if (!(await students.byId(params.studentId))) throw notFound('student')
    await students.tell(account?.id ?? null, { ...body, studentId: params.studentId })
    return students.decisions(params.studentId)
  })
  mount(api.eraseStudent, async ({ params }) => {
    await students.erase(params.studentId, await leftOf(params.studentId))
    return students.all()
  })
}
