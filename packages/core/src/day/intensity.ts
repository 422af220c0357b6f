/** Amount of talk: nothing (it waits for the debrief), one reminder per corner, or every action. */
export const intensities = ['quiet', 'guided', 'driven'] as const
export type Intensity = (typeof intensities)[number]
