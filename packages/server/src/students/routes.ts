import { api } from '@ochote/contract'
import type { Mount } from '../http/mount.ts'
import type { StudentStore } from './store.ts'

/** Students: list and add. */
export const studentRoutes = (mount: Mount, students: StudentStore): void => {
  mount(api.students, async () => students.all())
  mount(api.addStudent, async ({ body }) => {
    await students.add(body)
    return body
  })
}
