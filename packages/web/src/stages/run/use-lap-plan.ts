import type { Run } from '@ochote/contract'
import { type CalledLap, isDrivenKind, isSlowKind, type LapKind, type Plan, paces, withSpeedCap } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { carsQuery } from '../../data/api/queries.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { usePlan, usePlansFor } from '../../data/plan/use-plan.ts'

type Events = ReturnType<typeof useRunEvents>

/** The plans of a lap: the one at the pace of its step, the one that it is driven by (slow laps have their own), and what is called of it. */
export type LapPlan = { kind: LapKind; pace: number; stepped: Plan; driven: Plan; called: CalledLap }

/** Plans of the paces to come are computed before their laps begin. */
const usePacesAhead = (run: Run, { programme, paceOf }: Events, lap: number): void => {
  const { pace } = run.settings
  const ahead = (programme?.steps ?? []).map((_, k) => paceOf(lap + k + 1, pace))
  const key = [...new Set([paces.sighting, ...ahead])].filter((p) => p !== pace).join()
  const changes = useMemo(() => (key === '' ? [] : key.split(',').map((p) => ({ pace: Number(p) }))), [key])
  usePlansFor(run.settings, changes)
}

/** The plans by which a lap of a run is driven and called. `base`: the plan of the run's own settings, until others are computed. */
export const useLapPlan = (run: Run, base: Plan, events: Events, lap: number): LapPlan => {
  const kind = events.kindOf(lap)
  const pace = events.paceOf(lap, run.settings.pace)
  const slow = isSlowKind(kind)
  const stepSettings = useMemo(() => ({ ...run.settings, pace }), [run.settings, pace])
  const slowSettings = useMemo(() => ({ ...run.settings, pace: Math.min(pace, paces.sighting) }), [run.settings, pace])
  const ofStep = usePlan(stepSettings).plan
  const ofSlow = usePlan(slow ? slowSettings : undefined).plan
  usePacesAhead(run, events, lap)
  const cars = useQuery(carsQuery)
  const gearbox = cars.data?.find((car) => car.id === run.carId)?.gearbox
  const stepped = ofStep?.settings.pace === pace ? ofStep : base
  const cap_mps = events.programme?.slowCap_mps
  const slowPlan = slow && ofSlow?.settings.pace === slowSettings.pace ? ofSlow : null
  const driven = useMemo(
    () => (slowPlan ? (cap_mps === undefined ? slowPlan : withSpeedCap(slowPlan, cap_mps)) : stepped),
    [slowPlan, stepped, cap_mps],
  )
  const last = events.programme !== null && isDrivenKind(kind) && !isDrivenKind(events.kindOf(lap + 1))
  const step = events.stepOf(lap)
  const firstDriven = isDrivenKind(kind) && !isDrivenKind(events.kindOf(lap - 1))
  const gears = gearbox !== 'automatic-first' || (step ? step.gears === true : isDrivenKind(kind) && !firstDriven)
  const called = useMemo((): CalledLap => ({ kind, last, cones: stepped, gears, gearbox }), [kind, last, stepped, gears, gearbox])
  return { kind, pace, stepped, driven, called }
}
