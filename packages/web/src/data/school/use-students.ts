import { api, type StoredStudent } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { call } from '../api/api-client.ts'
import { queryClient, studentsQuery } from '../api/queries.ts'
import { useVersioned } from '../merge/use-versioned.ts'

/** Changes of students: their fields, whether they are put away, two that are one. */
export const useStudents = () => {
  const fields = useVersioned<StoredStudent>({
    key: studentsQuery.queryKey,
    write: ({ id, archivedAt: _, version: __, ...student }, version) =>
      call(api.changeStudent, { params: { studentId: id }, body: { ...student, version } }),
    list: () => call(api.students),
  })
  const everything = { onSuccess: () => queryClient.invalidateQueries() }
  const archive = useMutation({
    mutationFn: ({ id, archived, version }: { id: string; archived: boolean; version: number }) =>
      call(api.archiveStudent, { params: { studentId: id }, body: { archived, version } }),
    ...everything,
  })
  const merge = useMutation({
    mutationFn: ({ id, otherId }: { id: string; otherId: string }) =>
      call(api.mergeStudents, { params: { studentId: id }, body: { otherId } }),
    ...everything,
  })
  return { fields, archive, merge, error: fields.error ?? archive.error ?? merge.error }
}
