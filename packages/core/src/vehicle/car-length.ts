/** The unit in which a student moves a mark (m). */
export const CAR_LENGTH_M = 4.5

/** Car lengths by which a mark is moved: half of one, one, or a number in all at one per lap (never more than six). */
export const carLengths = (metres: number): 'half' | 'one' | number => {
  const n = Math.abs(metres) / CAR_LENGTH_M
  return n < 0.75 ? 'half' : n < 1.5 ? 'one' : Math.min(6, Math.round(n))
}
