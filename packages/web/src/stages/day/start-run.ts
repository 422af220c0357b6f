import { api, type Day, type Run, type Slot } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { call } from '../../app/api-client.ts'
import { queryClient } from '../../app/queries.ts'

/** Starts the run of a slot with the day's settings and the slot's own car, then hands it on. */
export const useStartRun = (day: Day | undefined, onStarted: (run: Run) => void) =>
  useMutation({
    mutationFn: (slot: Slot) => {
      if (!day || !slot.studentId) throw new Error('This slot has no student.')
      const car = day.plan.cars.find((c) => c.id === slot.carId)
      return call(api.startRun, {
        body: {
          id: uuid(),
          dayId: day.id,
          slotId: slot.id,
          studentId: slot.studentId,
          settings: { ...day.plan.settings, ...(car ? { vehicleId: car.vehicleId } : {}) },
          startedAt: new Date().toISOString(),
        },
      })
    },
    onSuccess: (run) => {
      void queryClient.invalidateQueries({ queryKey: ['runs'] })
      onStarted(run)
    },
  })
