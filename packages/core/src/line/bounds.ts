import type { Circuit } from '../circuit/circuit.ts'
import { CoreError } from '../errors.ts'

/** Least and greatest offset (m) at each station that keep the whole vehicle on the road with a margin. */
export type OffsetBounds = { low_m: Float64Array; high_m: Float64Array }

/** Room kept to the edges unless told otherwise (m). */
export const DEFAULT_MARGIN_M = 0.5

/**
 * Offsets between the edges less half the vehicle's width and a margin.
 * @throws CoreError 'line-no-road' at the first station where nothing is left
 */
export const offsetBounds = (circuit: Circuit, vehicleWidth_m: number, margin_m = DEFAULT_MARGIN_M): OffsetBounds => {
  const keep = vehicleWidth_m / 2 + margin_m
  const low_m = circuit.widthRight_m.map((w) => keep - w)
  const high_m = circuit.widthLeft_m.map((w) => w - keep)
  for (let i = 0; i < circuit.count; i++)
    if (high_m[i] - low_m[i] < 0.02)
      throw new CoreError('line-no-road', `station ${Math.round(circuit.s_m[i])} m`, { vehicle_m: vehicleWidth_m, margin_m })
  return { low_m, high_m }
}
