import { api, type HeldAgainstWish, type Run } from '@ochote/contract'
import type { PlanChoice } from '@ochote/core'
import { useMutation } from '@tanstack/react-query'
import { call } from '../../data/api/api-client.ts'
import { debriefQuery, queryClient, runQuery } from '../../data/api/queries.ts'

/** Judges a run's log anew, against other settings of its plan or against something else. */
export const useJudgeAgain = (run: Run) =>
  useMutation({
    mutationFn: (change: Partial<PlanChoice> & { heldAgainst?: HeldAgainstWish }) =>
      call(api.judgeAgain, { params: { runId: run.id }, body: { ...run.settings, ...change } }),
    onSuccess: (debrief) => {
      queryClient.setQueryData(debriefQuery(run.id).queryKey, debrief)
      void queryClient.invalidateQueries({ queryKey: runQuery(run.id).queryKey, exact: true })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
    },
  })
