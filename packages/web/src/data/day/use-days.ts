import { api, type Day, type DayPlan, type NewDayPlan } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { call } from '../api/api-client.ts'
import { daysQuery, queryClient } from '../api/queries.ts'
import { useDay } from './day-context.tsx'

/** A plan for another date: the same people, cars, cones and calls, with slots of its own. */
export const copyOfPlan = (plan: DayPlan, change: Partial<DayPlan>): DayPlan => ({
  ...plan,
  template: false,
  slots: plan.slots.map((slot) => ({ ...slot, id: uuid() })),
  // What was planned, what differed and the board's link belong to that day.
  planning: { ...plan.planning, sessions: [], locked: [], people: {}, staff: {}, rain: [], closed: [] },
  board: null,
  ...change,
})

/** Days made, copied and removed. A new day is opened here at once. */
export const useDays = () => {
  const { chooseDay } = useDay()
  const add = useMutation({
    mutationFn: ({ id, plan }: { id: string; plan: NewDayPlan }) => call(api.addDay, { body: { id, plan } }),
    onSuccess: async (day: Day) => {
      await queryClient.invalidateQueries({ queryKey: daysQuery.queryKey })
      if (!day.plan.template) chooseDay(day.id)
    },
  })
  const remove = useMutation({
    mutationFn: (dayId: string) => call(api.removeDay, { params: { dayId } }),
    onSuccess: (days, dayId) => {
      queryClient.setQueryData(daysQuery.queryKey, days)
      queryClient.removeQueries({ queryKey: ['days', dayId] })
    },
  })
  return { add, remove, error: add.error ?? remove.error }
}
