import type { Day } from '@ochote/contract'
import { carOfRun, type Slot, settingsOfStudent } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { v7 as uuid } from 'uuid'
import { queryClient, studentsQuery } from '../../data/api/queries.ts'
import { startRunHere } from '../../data/events/run-queue.ts'

/** Starts the run of a slot with the settings of the student's group and the slot's own car, then hands it on; the server may hear of it later. */
export const useStartRun = (day: Day | undefined, onStarted: (runId: string) => void) => {
  const students = useQuery(studentsQuery)
  return useMutation({
    networkMode: 'always',
    mutationFn: (slot: Slot) => {
      if (!day || !slot.studentId) throw new Error('No student in this slot.')
      const car = carOfRun({ carId: null, slotId: slot.id }, day.plan)
      const body = {
        id: uuid(),
        dayId: day.id,
        slotId: slot.id,
        studentId: slot.studentId,
        carId: car?.id ?? null,
        settings: { ...settingsOfStudent(slot.studentId, day.plan, slot.id), ...(car ? { vehicleId: car.vehicleId } : {}) },
        startedAt: new Date().toISOString(),
      }
      const studentName = students.data?.find((s) => s.id === slot.studentId)?.name ?? slot.studentId
      return startRunHere(body, { studentName, date: day.plan.date })
    },
    onSuccess: (runId) => {
      void queryClient.invalidateQueries({ queryKey: ['runs'] })
      onStarted(runId)
    },
  })
}
