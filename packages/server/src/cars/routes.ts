import { api, type StoredCar } from '@ochote/contract'
import { serverTime } from '../clock/clock.ts'
import type { Mount } from '../http/mount.ts'
import { changedMeanwhile, HttpProblem, notFound } from '../http/problems.ts'
import type { CarStore } from './store.ts'

/** Cars: list, add, change, put away, remove; what was said of them. */
export const carRoutes = (mount: Mount, cars: CarStore): void => {
  const existing = async (id: string): Promise<StoredCar> => {
    const car = (await cars.all()).find((c) => c.id === id)
    if (!car) throw notFound('car')
    return car
  }
  mount(api.cars, () => cars.all())
  mount(api.putCar, async ({ params, body: { version, archived, ...car } }) => {
    const stored = await cars.put({ ...car, id: params.carId }, version, archived ? serverTime() : null)
    if (!stored) throw changedMeanwhile('car')
    return existing(params.carId)
  })
  mount(api.removeCar, async ({ params }) => {
    if (await cars.wasDriven(params.carId))
      throw new HttpProblem(
        409,
        'in-use',
        'This car was driven.',
        'It stays for the record; put it away instead, then nobody can choose it.',
      )
    if ((await cars.remove(params.carId)) === 0) throw notFound('car')
    return cars.all()
  })
  mount(api.carHistory, async ({ params }) => cars.said((await existing(params.carId)).id))
}
