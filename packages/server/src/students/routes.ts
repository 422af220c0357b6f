import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import { notFound } from '../http/problems.ts'
import type { StudentStore } from './store.ts'

/** Students: list, add, change, erase. */
export const studentRoutes = (mount: Mount, students: StudentStore): void => {
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
  mount(api.eraseStudent, async ({ params }) => {
    await students.erase(params.studentId)
    return students.all()
  })
}
