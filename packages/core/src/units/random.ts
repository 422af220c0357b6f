/** A stream of numbers, always the same for one seed. */
export type Random = { uniform: () => number; normal: () => number }

/** Seeded generator (mulberry32) with uniform numbers in [0, 1) and standard normal ones (Box–Muller). */
export const seededRandom = (seed: number): Random => {
  let state = seed >>> 0
  const uniform = (): number => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const normal = (): number => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform())
  return { uniform, normal }
}
