/** The unit in which a student moves a mark (m). */
export const CAR_LENGTH_M = 4.5
