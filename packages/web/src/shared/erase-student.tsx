import { api } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { call } from '../data/api/api-client.ts'
import { queryClient } from '../data/api/queries.ts'
import { AskFirst } from './ask-first.tsx'
import { ProblemNote } from './problem-note.tsx'

/** Erases a student with all that is kept of them. */
export const EraseStudent = ({ studentId, onGone }: { studentId: string; onGone: () => void }) => {
  const erase = useMutation({
    mutationFn: () => call(api.eraseStudent, { params: { studentId } }),
    onSuccess: () => {
      onGone()
      void queryClient.invalidateQueries()
    },
  })
  return (
    <>
      <ProblemNote error={erase.error} />
      <AskFirst
        label="Erase this student"
        question="Runs, logs, answers: nothing of it comes back."
        yes="Erase everything"
        pending={erase.isPending}
        onYes={() => erase.mutate()}
      />
    </>
  )
}
