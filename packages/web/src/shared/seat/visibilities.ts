/** How far one sees (m): on a clear day to the horizon, in rain and fog less. */
export type Visibility = { far_m: number }

export const visibilities = { clear: { far_m: 2500 }, rain: { far_m: 260 }, fog: { far_m: 110 } } as const satisfies Record<
  string,
  Visibility
>
