/** Braking styles by where braking ends: before turn-in, with a light brake carried in, or easing off all the way to the apex. */
export const brakingSchools = ['straight', 'blend', 'trail'] as const

export type BrakingSchool = (typeof brakingSchools)[number]
