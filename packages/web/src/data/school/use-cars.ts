import { api, type StoredCar } from '@ochote/contract'
import { useMutation } from '@tanstack/react-query'
import { call } from '../api/api-client.ts'
import { carsQuery, queryClient } from '../api/queries.ts'
import { useVersioned } from '../merge/use-versioned.ts'

/** Cars of school and students: put, put away, removed where never driven. */
export const useCars = () => {
  const docs = useVersioned<StoredCar>({
    key: carsQuery.queryKey,
    write: ({ id, archivedAt, condition: _, version: __, ...car }, version) =>
      call(api.putCar, { params: { carId: id }, body: { ...car, version, archived: archivedAt !== null } }),
    list: () => call(api.cars),
  })
  const remove = useMutation({
    mutationFn: (carId: string) => call(api.removeCar, { params: { carId } }),
    onSuccess: (cars) => queryClient.setQueryData(carsQuery.queryKey, cars),
  })
  return { docs, remove, error: docs.error ?? remove.error }
}
