import type { Corner } from '@ochote/core'

/** The corner to which a place belongs: the one whose peak is nearest. */
export const nearestCorner = (corners: readonly Corner[], s_m: number, length_m: number): Corner | undefined => {
  const apart = (c: Corner): number => Math.min(Math.abs(c.peak_m - s_m), length_m - Math.abs(c.peak_m - s_m))
  return corners.reduce<Corner | undefined>((best, c) => (!best || apart(c) < apart(best) ? c : best), undefined)
}
