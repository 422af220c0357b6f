import type { Surface } from '@ochote/core'

/** How far one sees (m): on a clear day to the horizon, in rain and fog less. */
export type Visibility = { far_m: number }

export const visibilities = { clear: { far_m: 2500 }, rain: { far_m: 260 }, fog: { far_m: 110 } } as const satisfies Record<
  string,
  Visibility
>

/** How far one sees on a surface: a wet one is driven in rain. */
export const visibilityOn = (surface: Surface): Visibility => (surface === 'wet' ? visibilities.rain : visibilities.clear)
