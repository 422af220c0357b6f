import { api, profileSchema, type StoredStudent } from '@ochote/contract'
import { serverTime } from '../clock/clock.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, notFound } from '../http/problems.ts'
import type { LeftBehind, StudentStore } from './store.ts'

/** What erasing a student needs: what they leave in the counts of groups, and who lets go of their runs. */
type Erasing = { leftOf: (studentId: string) => Promise<LeftBehind[]>; onErased: (runIds: readonly string[]) => Promise<void> }

/** Students: list, add, change, put away, merge, decide about, erase. */
export const studentRoutes = (mount: Mount, students: StudentStore, { leftOf, onErased }: Erasing): void => {
  // A volunteer needs names to log by, and nothing more of anybody.
  mount(api.students, async ({ account }) => (account?.role === 'volunteer' ? (await students.all()).map(nameOnly) : students.all()))
  const existing = async (id: string) => {
    const student = await students.byId(id)
    if (!student) throw notFound('student')
    return student
  }
  mount(api.studentLines, async () => students.lines())
  mount(api.addStudent, async ({ body }) => {
    await students.add([body])
    return existing(body.id)
  })
  mount(api.addStudents, async ({ body }) => {
    await students.add(body.students)
    return students.all()
  })
  mount(api.changeStudent, async ({ params, body: { version, ...student } }) => {
    const { id } = await existing(params.studentId)
    if (!(await students.change(id, version, student))) throw changedMeanwhile('student')
    return existing(id)
  })
  mount(api.archiveStudent, async ({ params, body }) => {
    const { id } = await existing(params.studentId)
    const archivedAt = body.archived ? serverTime() : null
    if (!(await students.setArchived(id, body.version, archivedAt))) throw changedMeanwhile('student')
    return existing(id)
  })
  mount(api.mergeStudents, async ({ params, body }) => {
    const { id } = await existing(params.studentId)
    const other = await existing(body.otherId)
    if (other.id === id) throw notFound('other student')
    await students.merge(id, other.id)
    return students.all()
  })
  mount(api.tellOfStudent, async ({ params, body, account }) => {
    if (!(await students.byId(params.studentId))) throw notFound('student')
    await students.tell(account?.id ?? null, { ...body, studentId: params.studentId })
    return students.decisions(params.studentId)
  })
  mount(api.eraseStudent, async ({ params }) => {
    await onErased(await students.erase(params.studentId, await leftOf(params.studentId)))
    return students.all()
  })
}

/** A student as volunteers see them. */
const nameOnly = (student: StoredStudent): StoredStudent => ({ ...student, profile: profileSchema.parse({}) })
