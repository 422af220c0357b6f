/** State of a cone's place: put down or stood up again, still standing, knocked over, moved, gone. */
export const coneStates = ['laid', 'standing', 'knocked-over', 'moved', 'missing'] as const
export type ConeState = (typeof coneStates)[number]
