import { Button, Stack } from '@mui/material'
import { api, type Run } from '@ochote/contract'
import { type OwnThresholds, type PlanChoice, paceSteps, type Surface, surfaces } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { call } from '../../data/api/api-client.ts'
import { debriefQuery, queryClient, runQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'

/**
 * What a log is held against; a drive in another car, in the wet, at another pace, or by thresholds that the school has changed
 * since is judged anew for it.
 */
export const JudgedAgainst = ({ run, by }: { run: Run; by: OwnThresholds }) => {
  const { schoolSettings } = useSchoolSettings()
  const vehicles = useQuery(vehiclesQuery)
  const again = useMutation({
    mutationFn: (change: Partial<PlanChoice>) => call(api.judgeAgain, { params: { runId: run.id }, body: { ...run.settings, ...change } }),
    onSuccess: (debrief) => {
      queryClient.setQueryData(debriefQuery(run.id).queryKey, debrief)
      void queryClient.invalidateQueries({ queryKey: runQuery(run.id).queryKey, exact: true })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
    },
  })
  const { vehicleId, surface, pace } = run.settings
  const paces = [...new Set([...paceSteps, pace])].sort((a, b) => a - b)
  return (
    <Stack direction="row" spacing={1.5} role="group" aria-label="Analysed as" sx={{ alignItems: 'flex-end' }}>
      <PickField
        label={again.isPending ? 'Analysing again …' : 'Analysed as'}
        width={170}
        disabled={again.isPending}
        value={vehicleId}
        options={(vehicles.data ?? []).map((v) => [v.id, v.name] as const)}
        onPick={(id) => again.mutate({ vehicleId: id })}
      />
      <PickField
        label="Surface"
        width={90}
        disabled={again.isPending}
        value={surface}
        options={(Object.keys(surfaces) as Surface[]).map((s) => [s, s] as const)}
        onPick={(s) => again.mutate({ surface: s })}
      />
      <PickField
        label="Pace"
        width={80}
        disabled={again.isPending}
        value={String(pace)}
        options={paces.map((p) => [String(p), `${Math.round(100 * p)}%`] as const)}
        onPick={(p) => again.mutate({ pace: Number(p) })}
      />
      {!alike(by, schoolSettings.thresholds) && (
        <Button
          variant="text"
          disabled={again.isPending}
          onClick={() => again.mutate({})}
          title="The school has changed what counts as a mistake since this log was judged"
          sx={{ lineHeight: 1.15 }}
        >
          Re-analyse with today’s thresholds
        </Button>
      )}
      <ProblemNote error={again.error} />
    </Stack>
  )
}

const alike = (a: OwnThresholds, b: OwnThresholds): boolean => {
  const names = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof OwnThresholds>
  return [...names].every((name) => a[name] === b[name])
}
