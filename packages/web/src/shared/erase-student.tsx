import { api } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { call } from '../data/api/api-client.ts'
import { queryClient } from '../data/api/queries.ts'
import { say } from '../language/say.ts'
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
        label={say`Erase this student`}
        question={say`Runs, logs, answers: nothing of it comes back. Backups still hold it, for 60 days at most.`}
        yes={say`Erase everything`}
        pending={erase.isPending}
        onYes={() => erase.mutate()}
      />
    </>
  )
}
